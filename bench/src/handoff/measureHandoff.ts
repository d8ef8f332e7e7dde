import { renderInk } from '@jumble/demo';
import { encodeGrey } from '@jumble/raster-io';
import { clickLatencies } from '../interface/latencies.ts';
import { pinned } from '../measureKernels.ts';
import { quantile, type Row } from '../printTable.ts';
import { withJumble } from '../withJumble.ts';

interface OpenRasterMeasured {
  readonly openingMs: number;
  readonly buildMs: number;
  readonly bytes: number;
  readonly peakMb: number;
  readonly layers: number;
}

const PAGES = 24;

/** What a hand-off costs, and what it costs who works beside it. */
export async function measureHandoff(): Promise<{ title: string; rows: Row[] }> {
  const { openingMs, buildMs, bytes, peakMb, layers } = await pinned<OpenRasterMeasured>('oraPinned.ts');
  const { quiet, busy, seconds } = await clicksWhilePacking();
  return {
    title: `Hand-offs: OpenRaster with ${layers} layers on 26 megapixels, one core; a job of ${PAGES} pages`,
    rows: [
      {
        what: 'OpenRaster with 15 layers, of opening the page',
        value: buildMs / openingMs,
        unit: 'x',
        target: { most: 4 },
        note: `${buildMs.toFixed()} ms, ${(bytes / 1e6).toFixed(1)} MB`,
      },
      { what: 'memory of the process, peak', value: peakMb, unit: 'MB', target: { most: 1024 } },
      {
        what: 'a click while the job packs, of a click in quiet, median',
        value: quantile(busy, 0.5) / quantile(quiet, 0.5),
        unit: 'x',
        target: { most: 2 },
        note: `${quantile(busy, 0.5).toFixed()} ms, ${quantile(quiet, 0.5).toFixed()} ms; p95 ${quantile(busy, 0.95).toFixed()} ms, ${quantile(quiet, 0.95).toFixed()} ms`,
      },
      { what: `packing ${PAGES} pages`, value: seconds, unit: 's', note: 'while someone clicks beside it' },
    ],
  };
}

function clicksWhilePacking(): Promise<{ quiet: number[]; busy: number[]; seconds: number }> {
  return withJumble(async ({ address, open }) => {
    const ask = async <T>(path: string, init?: RequestInit): Promise<T> => {
      const answer = await fetch(`${address}/api/${path}`, init);
      if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`);
      return (await answer.json()) as T;
    };
    const headers = { 'Content-Type': 'application/json' };
    const { id: jobId } = await ask<{ id: string }>('jobs', { method: 'POST', headers, body: '{"name":"Bench"}' });
    const ink = await renderInk(1, 1);
    const png = await encodeGrey(ink.data, ink.width, ink.height);
    const pageIds: string[] = [];
    for (let k = 0; k < PAGES; k++) {
      const form = new FormData();
      form.append('file', new Blob([Buffer.from(png)]), `page ${k + 1}.png`);
      pageIds.push((await ask<{ id: string }>(`jobs/${jobId}/pages?dpi=300`, { method: 'POST', body: form })).id);
    }
    const url = (k: number): string => `${address}/jobs/${jobId}/pages/${pageIds[k]}/flats`;
    const first = await open(url(0));
    const quiet = await clickLatencies(first);
    await first.close();
    const second = await open(url(1));
    const started = performance.now();
    const body = JSON.stringify({ pageIds, deliveryId: 'colourist' });
    let pack = await ask<{ id: string; state: string }>(`jobs/${jobId}/packages`, { method: 'POST', headers, body });
    const busy = await clickLatencies(second);
    while (pack.state === 'packing') {
      await new Promise((resolve) => setTimeout(resolve, 500));
      pack = await ask(`packages/${pack.id}`);
    }
    if (pack.state !== 'ready') throw new Error(`The package ended as ${pack.state}.`);
    return { quiet, busy, seconds: (performance.now() - started) / 1000 };
  });
}
