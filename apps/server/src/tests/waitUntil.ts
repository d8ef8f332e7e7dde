/** Waits for what follows an answer some time later; a slow machine takes its time. @throws after two minutes. */
export async function waitUntil(holds: () => boolean | Promise<boolean>): Promise<void> {
  const end = Date.now() + 120_000;
  while (!(await holds())) {
    if (Date.now() > end) throw new Error('It did not come within two minutes.');
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}
