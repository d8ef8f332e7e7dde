/**
 * Resolves when every promise that can go on by itself has done so: a task of the event loop begins only when no
 * promise is left to be told. It waits for no time; what waits for one needs the clock of the test.
 */
export function promisesSettled(): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve));
}
