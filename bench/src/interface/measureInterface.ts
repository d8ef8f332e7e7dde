import { readFileSync } from 'node:fs';
import { LARGE_HEIGHT, LARGE_WIDTH, largePagePng } from '../largePage.ts';
import { quantile, type Row } from '../printTable.ts';
import { withJumble } from '../withJumble.ts';
import { closureLatencies } from './closureLatencies.ts';
import { framesPerSecond } from './framesPerSecond.ts';
import { handoff } from './handoff.ts';
import { clickLatencies, loopLatencies, undoLatencies } from './latencies.ts';
import { browserPid, largestRenderer, MB } from './memory.ts';
import { sweepFast } from './sweepFast.ts';
import { timeGuide } from './timeGuide.ts';
import { timeMarks } from './timeMarks.ts';

/** The real interface and server with the 26-megapixel page. */
export function measureInterface(): Promise<{ title: string; rows: Row[] }> {
  return withJumble(async ({ address, serverPid, open }) => {
    const { jobId, pageId } = await upload(address);
    const opened = performance.now();
    const page = await open(`${address}/jobs/${jobId}/pages/${pageId}/flats`);
    const openMs = performance.now() - opened;
    const clicks = await clickLatencies(page);
    const undos = await undoLatencies(page);
    const sweep = await sweepFast(page);
    const pan = await framesPerSecond(page, 'pan');
    const zoom = await framesPerSecond(page, 'zoom');
    const loops = await loopLatencies(page, 'Shapes');
    const silhouettes = await loopLatencies(page, 'Silhouette');
    const { spreadMs, panelMs, regions } = await timeMarks(page);
    const key = await timeGuide(page);
    const tabMb = largestRenderer(browserPid()) / MB;
    await page.close();
    const closures = await closureLatencies(await open(`${address}/jobs/${jobId}/pages/${pageId}/gaps`));
    const { peakMb, seconds } = await handoff(address, jobId, pageId, serverPid);
    return {
      title: `The real interface at 1280 x 800 with ${LARGE_WIDTH} x ${LARGE_HEIGHT} px`,
      rows: [
        { what: 'opening the page', value: openMs / 1000, unit: 's', note: 'from the address to the drawn page' },
        { what: 'pointer down to the next frame, median', value: quantile(clicks, 0.5), unit: 'ms' },
        {
          what: 'pointer down to the next frame, p95',
          value: quantile(clicks, 0.95),
          unit: 'ms',
          target: { most: 50 },
          note: `${clicks.length} clicks`,
        },
        {
          what: 'a loop: pointer move to the next frame, p95',
          value: quantile(loops, 0.95),
          unit: 'ms',
          target: { most: 50 },
          note: `${loops.length} moves round most of the page`,
        },
        {
          what: 'a silhouette: pointer move to the next frame, p95',
          value: quantile(silhouettes, 0.95),
          unit: 'ms',
          target: { most: 50 },
          note: `median ${quantile(silhouettes, 0.5).toFixed(0)} ms`,
        },
        {
          what: 'undo: key down to the next frame, p95',
          value: quantile(undos.picture, 0.95),
          unit: 'ms',
          target: { most: 50 },
          note: `${undos.picture.length} steps, each acknowledged by the server`,
        },
        {
          what: 'undo: key down to the frame with the counts, p95',
          value: quantile(undos.counts, 0.95),
          unit: 'ms',
          note: `median ${quantile(undos.counts, 0.5).toFixed(0)} ms; the panels follow the picture`,
        },
        {
          what: 'sweeping at 120 events a second: regions missed',
          value: sweep.missed,
          unit: '',
          target: { most: 0 },
          note: `${sweep.crossed} regions crossed, ${sweep.perSecond.toFixed(0)} events a second`,
        },
        {
          what: 'spreading marks over the page',
          value: spreadMs,
          unit: 'ms',
          target: { most: 1000 },
          note: `to the regions, divided; ${regions} regions`,
        },
        {
          what: 'spreading marks over a panel, median',
          value: quantile(panelMs, 0.5),
          unit: 'ms',
          target: { most: 150 },
          note: `${panelMs.length} times, the slowest ${Math.max(...panelMs).toFixed(0)} ms`,
        },
        {
          what: 'a key of a tenth, laid: proposals on the page',
          value: key.shownMs,
          unit: 'ms',
          target: { most: 1500 },
          note: `${regions} regions in a dozen colours; 5,000 are among the flats`,
        },
        { what: 'the same, until all is weighed and can be taken', value: key.wholeMs, unit: 'ms' },
        {
          what: 'a closure by hand: pen up to the next frame, median',
          value: quantile(closures, 0.5),
          unit: 'ms',
          note: `${closures.length} closures, the slowest ${Math.max(...closures).toFixed(0)} ms; what is computed for it is among the kernels`,
        },
        { what: 'panning', value: pan, unit: 'frames/s', target: { least: 30 } },
        { what: 'zooming', value: zoom, unit: 'frames/s', target: { least: 30 } },
        { what: 'memory of the tab', value: tabMb, unit: 'MB', target: { most: 900 } },
        {
          what: 'memory of the server, peak',
          value: peakMb,
          unit: 'MB',
          target: { most: 1200 },
          note: 'while it builds the hand-off',
        },
        { what: 'building the hand-off', value: seconds, unit: 's' },
      ],
    };
  });
}

async function upload(address: string): Promise<{ jobId: string; pageId: string }> {
  const job = (await (
    await fetch(`${address}/api/jobs`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: '{"name":"Bench"}',
    })
  ).json()) as { id: string };
  const form = new FormData();
  form.append('file', new Blob([readFileSync(await largePagePng())]), 'large.png');
  const page = (await (await fetch(`${address}/api/jobs/${job.id}/pages`, { method: 'POST', body: form })).json()) as {
    id: string;
  };
  return { jobId: job.id, pageId: page.id };
}
