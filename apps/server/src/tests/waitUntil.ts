/** Waits for what follows an answer some time later; a slow machine takes its time. @throws after half a minute. */
export async function waitUntil(holds: () => boolean | Promise<boolean>): Promise<void> {
  const end = Date.now() + 30_000;
  while (!(await holds())) {
    if (Date.now() > end) throw new Error('It did not come within half a minute.');
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}
