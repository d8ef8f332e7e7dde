import { MB, residentBytes } from './memory.ts';

/** Builds the hand-off of a page, watching the server's memory. */
export async function handoff(
  address: string,
  jobId: string,
  pageId: string,
  serverPid: number,
): Promise<{ peakMb: number; seconds: number }> {
  let peak = 0;
  const sampler = setInterval(() => (peak = Math.max(peak, residentBytes(serverPid))), 20);
  const started = performance.now();
  const headers = { 'Content-Type': 'application/json' };
  const asked = await fetch(`${address}/api/jobs/${jobId}/packages`, {
    method: 'POST',
    headers,
    body: JSON.stringify({ pageIds: [pageId], deliveryId: 'colourist' }),
  });
  let view = (await asked.json()) as { id: string; state: string };
  while (view.state === 'packing') {
    await new Promise((resolve) => setTimeout(resolve, 100));
    view = (await (await fetch(`${address}/api/packages/${view.id}`)).json()) as { id: string; state: string };
  }
  clearInterval(sampler);
  if (view.state !== 'ready') throw new Error(`The hand-off ended as ${view.state}.`);
  return { peakMb: peak / MB, seconds: (performance.now() - started) / 1000 };
}
