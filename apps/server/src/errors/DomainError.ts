/** Something the user can understand and act on; the code is stable. */
export class DomainError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    /** Further fields of the problem document. */
    readonly extra: Readonly<Record<string, unknown>> = {},
  ) {
    super(message);
    this.name = 'DomainError';
  }
}

export function notFound(what: string): DomainError {
  return new DomainError(404, 'not-found', `There is no such ${what}. It may have been deleted; go back to the desk.`);
}
