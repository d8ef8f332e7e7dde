/** What is told to who waits for an answer that is no longer wanted. */
export function aborted(): Error {
  return Object.assign(new Error('Cancelled'), { name: 'AbortError' });
}

/** Whether something was left, and did not fail. */
export function isAbort(error: unknown): boolean {
  return error instanceof Error && error.name === 'AbortError';
}
