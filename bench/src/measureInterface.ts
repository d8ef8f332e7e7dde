import { readdirSync, readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { closureLatencies } from './closureLatencies.ts';
import { LARGE_HEIGHT, LARGE_WIDTH, largePagePng } from './largePage.ts';
import { quantile, type Row } from './printTable.ts';
import { withJumble } from './withJumble.ts';

const MB = 1024 * 1024;

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
    const loops = await loopLatencies(page);
    const { spreadMs, panelMs, keyMs, regions } = await timeMarksAndKey(page);
    const tabMb = largestRenderer(browserPid()) / MB;
    await page.close();
    const closures = await closureLatencies(await open(`${address}/jobs/${jobId}/pages/${pageId}/gaps`));
    const { peakMb, seconds } = await handoff(address, pageId, serverPid);
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
          what: 'undo: key down to the next frame, p95',
          value: quantile(undos, 0.95),
          unit: 'ms',
          target: { most: 50 },
          note: `${undos.length} steps, each acknowledged by the server`,
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
        { what: 'spreading marks over a panel', value: panelMs, unit: 'ms', target: { most: 150 } },
        {
          what: 'laying and reading a key of a tenth',
          value: keyMs,
          unit: 'ms',
          target: { most: 1500 },
          note: `every one of ${regions} regions in a colour`,
        },
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

/** From a real pointer-down event to the frame after the one the drawing worker handed over. */
async function clickLatencies(page: Page): Promise<number[]> {
  await page.evaluate(() => {
    const bench = window.jumbleBench as unknown as {
      engine: { patch: (...args: unknown[]) => number };
      whenPresented: (seq: number) => Promise<number>;
    };
    const patch = bench.engine.patch.bind(bench.engine);
    const samples: number[] = [];
    Object.assign(window, { benchSamples: samples });
    let started: number | null = null;
    window.addEventListener('pointerdown', (event) => (started = event.timeStamp), true);
    bench.engine.patch = (...args: unknown[]) => {
      const seq = patch(...args);
      const from = started;
      started = null;
      if (from !== null) {
        void bench.whenPresented(seq).then(() => requestAnimationFrame(() => samples.push(performance.now() - from)));
      }
      return seq;
    };
  });
  const targets = await page.evaluate(() => {
    const { survey, openRegions, view } = window.jumbleBench.state as unknown as {
      survey: { width: number; regions: { anchor: Int32Array } };
      openRegions: number[];
      view: { x: number; y: number; scale: number };
    };
    return openRegions.slice(0, 120).map((region) => {
      const at = survey.regions.anchor[region]!;
      return [
        ((at % survey.width) - view.x + 0.5) * view.scale,
        (Math.floor(at / survey.width) - view.y + 0.5) * view.scale,
      ] as const;
    });
  });
  const box = (await page.getByTestId('page').boundingBox())!;
  for (const [x, y] of targets) {
    await page.mouse.move(box.x + x, box.y + y);
    await page.waitForTimeout(40);
    await page.mouse.down();
    await page.waitForTimeout(60);
    await page.mouse.up();
  }
  await page.waitForTimeout(500);
  return page.evaluate(() => (window as unknown as { benchSamples: number[] }).benchSamples);
}

/** From real pointer moves of a loop round most of the page to the frame that shows what it takes. */
async function loopLatencies(page: Page): Promise<number[]> {
  await page.keyboard.press('Home');
  await page.keyboard.press('Shift+2');
  await page.evaluate(() => {
    const bench = window.jumbleBench as unknown as {
      engine: { overlay: (...args: unknown[]) => number };
      whenPresented: (seq: number) => Promise<number>;
    };
    const overlay = bench.engine.overlay.bind(bench.engine);
    const samples: number[] = [];
    Object.assign(window, { loopSamples: samples });
    let moved: number | null = null;
    window.addEventListener('pointermove', (event) => (moved = event.timeStamp), true);
    bench.engine.overlay = (...args: unknown[]) => {
      const seq = overlay(...args);
      const from = moved;
      moved = null;
      if (from !== null)
        void bench.whenPresented(seq).then(() => requestAnimationFrame(() => samples.push(performance.now() - from)));
      return seq;
    };
  });
  const box = (await page.getByTestId('page').boundingBox())!;
  const at = (k: number): [number, number] => [
    box.x + box.width * (0.5 + 0.22 * Math.cos((k / 90) * 6.28)),
    box.y + box.height * (0.5 + 0.42 * Math.sin((k / 90) * 6.28)),
  ];
  await page.mouse.move(...at(0));
  await page.mouse.down();
  for (let k = 1; k < 88; k++) {
    await page.mouse.move(...at(k));
    await page.waitForTimeout(30);
  }
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await page.waitForTimeout(300);
  return page.evaluate(() => (window as unknown as { loopSamples: number[] }).loopSamples);
}

/** From the key of undo to the frame that shows it. */
async function undoLatencies(page: Page): Promise<number[]> {
  const samples: number[] = [];
  for (let k = 0; k < 12; k++) {
    const measured = page.evaluate(async () => {
      const bench = window.jumbleBench as unknown as {
        engine: { paint: (...args: unknown[]) => void; seq: number };
        whenPresented: (seq: number) => Promise<number>;
      };
      const started = await new Promise<number>((resolve) =>
        window.addEventListener('keydown', (event) => event.key === 'z' && resolve(event.timeStamp), true),
      );
      const paint = bench.engine.paint.bind(bench.engine);
      await new Promise<void>((resolve) => {
        bench.engine.paint = (...args: unknown[]) => {
          paint(...args);
          bench.engine.paint = paint;
          void bench.whenPresented(bench.engine.seq).then(() => requestAnimationFrame(() => resolve()));
        };
      });
      return performance.now() - started;
    });
    await page.waitForTimeout(150);
    await page.keyboard.press('Control+z');
    samples.push(await measured);
  }
  return samples;
}

/** A drag over the page with 120 pointer events a second; which of the regions it crossed did not take the part. */
async function sweepFast(page: Page): Promise<{ crossed: number; missed: number; perSecond: number }> {
  const box = (await page.getByTestId('page').boundingBox())!;
  const at = (k: number): [number, number] => [
    Math.round(box.x + box.width * (0.5 + 0.2 * Math.sin(k / 31))),
    Math.round(box.y + box.height * (0.5 + 0.4 * Math.sin(k / 47))),
  ];
  const way = Array.from({ length: 361 }, (_, k) => at(k));
  await page.mouse.move(...way[0]!);
  await page.mouse.down();
  // Straight to the browser: waiting for every event to be answered would be far too slow.
  const input = await page.context().newCDPSession(page);
  const sent: Promise<unknown>[] = [];
  const started = performance.now();
  for (let k = 1; k < way.length; k++) {
    const [x, y] = way[k]!;
    sent.push(input.send('Input.dispatchMouseEvent', { type: 'mouseMoved', x, y, button: 'left', buttons: 1 }));
    const early = started + (k * 1000) / 120 - performance.now();
    if (early > 0) await new Promise((resolve) => setTimeout(resolve, early));
  }
  await Promise.all(sent);
  const seconds = (performance.now() - started) / 1000;
  await page.mouse.up();
  await page.waitForTimeout(400);
  const { crossed, missed } = await page.evaluate(
    ({ points, left, top }) => {
      const bench = window.jumbleBench as unknown as {
        state: {
          view: { x: number; y: number; scale: number };
          partId: string;
          resolved: { partOfRegion: (string | null)[] };
        };
        regionAt: (x: number, y: number) => number | null;
      };
      const { view, partId, resolved } = bench.state;
      const onPage = ([x, y]: readonly [number, number]): [number, number] => [
        Math.floor(view.x + (x - left) / view.scale),
        Math.floor(view.y + (y - top) / view.scale),
      ];
      const regions = new Set<number>();
      for (let k = 1; k < points.length; k++) {
        const [[ax, ay], [bx, by]] = [onPage(points[k - 1]!), onPage(points[k]!)];
        const steps = Math.max(1, Math.abs(bx - ax), Math.abs(by - ay));
        for (let n = 0; n <= steps; n++) {
          const region = bench.regionAt(
            Math.round(ax + ((bx - ax) * n) / steps),
            Math.round(ay + ((by - ay) * n) / steps),
          );
          if (region !== null) regions.add(region);
        }
      }
      const lost = [...regions].filter((region) => resolved.partOfRegion[region] !== partId);
      return { crossed: regions.size, missed: lost.length };
    },
    { points: way, left: box.x, top: box.y },
  );
  return { crossed, missed, perSecond: (way.length - 1) / seconds };
}

/** Marks spread over the whole page, others over a panel, and a key as large as a tenth of it, as the bench does both. */
function timeMarksAndKey(page: Page): Promise<{ spreadMs: number; panelMs: number; keyMs: number; regions: number }> {
  return page.evaluate(async () => {
    const bench = window.jumbleBench as unknown as {
      state: { survey: { width: number; height: number; regions: { count: number } }; partId: string; facts: unknown };
      panels: { go: (direction: 1 | -1) => void };
      lineArt: { panels: () => { points: [number, number][] }[] };
      marks: { addMark: (mark: object) => void; spread: () => Promise<void> };
      key: { lay: (name: string, raster: object) => Promise<void> };
      regionAt: (x: number, y: number) => number | null;
    };
    const { width, height, regions } = bench.state.survey;
    const part = bench.state.partId;
    for (const share of [0.2, 0.5, 0.8]) {
      bench.marks.addMark({
        part,
        points: [
          [Math.round(width * 0.1), Math.round(height * share)],
          [Math.round(width * 0.9), Math.round(height * share)],
        ],
      });
    }
    let started = performance.now();
    await bench.marks.spread();
    const spreadMs = performance.now() - started;
    while (bench.state.facts === null) await new Promise((resolve) => setTimeout(resolve, 100));
    bench.panels.go(1);
    const corners = bench.lineArt.panels()[0]!.points;
    const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
    const between = (of: number[], share: number): number =>
      Math.round(Math.min(...of) + share * (Math.max(...of) - Math.min(...of)));
    bench.marks.addMark({
      part,
      points: [
        [between(xs, 0.1), between(ys, 0.5)],
        [between(xs, 0.9), between(ys, 0.5)],
      ],
    });
    // The list of the panel is up by the time a hand has drawn a mark.
    await new Promise((resolve) => setTimeout(resolve, 1000));
    started = performance.now();
    await bench.marks.spread();
    const panelMs = performance.now() - started;
    bench.panels.go(-1);
    const key = { width: Math.round(width / 10), height: Math.round(height / 10) };
    // A key of this very page: every region in one of a dozen colours.
    const rgb = new Uint8Array(key.width * key.height * 3);
    for (let k = 0; k < key.width * key.height; k++) {
      const [x, y] = [(k % key.width) * 10 + 5, Math.floor(k / key.width) * 10 + 5];
      const region = bench.regionAt(Math.min(width - 1, x), Math.min(height - 1, y)) ?? 0;
      const hue = region % 12;
      rgb.set([60 + 15 * hue, 240 - 12 * ((hue * 5) % 12), 40 + 16 * ((hue * 7) % 12)], k * 3);
    }
    started = performance.now();
    await bench.key.lay('key', { ...key, rgb });
    return { spreadMs, panelMs, keyMs: performance.now() - started, regions: regions.count };
  });
}

/** Frames the drawing worker presents while the view changes at every frame for three seconds. */
function framesPerSecond(page: Page, how: 'pan' | 'zoom'): Promise<number> {
  return page.evaluate(async (way) => {
    const bench = window.jumbleBench as unknown as {
      state: { view: { x: number; y: number; scale: number; width: number; height: number } };
      setView: (view: object) => number;
      settlePresented: (seq: number, ms: number) => void;
    };
    const settle = bench.settlePresented.bind(bench);
    let frames = 0;
    bench.settlePresented = (seq, ms) => {
      frames++;
      settle(seq, ms);
    };
    const start = { ...bench.state.view, scale: way === 'pan' ? 0.5 : bench.state.view.scale, x: 400, y: 400 };
    const began = performance.now();
    await new Promise<void>((resolve) => {
      const turn = (): void => {
        const t = (performance.now() - began) / 1000;
        if (t > 3) return resolve();
        const swing = Math.sin(t * 2);
        // Whole picture pixels, as the pointer moves it.
        if (way === 'pan')
          bench.setView({
            ...start,
            x: start.x + Math.round(400 * swing) / start.scale,
            y: start.y + Math.round(300 * swing) / start.scale,
          });
        else bench.setView({ ...start, scale: 0.12 * 2 ** (1.6 * (1 - Math.cos(t * 2))) });
        requestAnimationFrame(turn);
      };
      turn();
    });
    bench.settlePresented = settle;
    return frames / 3;
  }, how);
}

async function handoff(
  address: string,
  pageId: string,
  serverPid: number,
): Promise<{ peakMb: number; seconds: number }> {
  let peak = 0;
  const sampler = setInterval(() => (peak = Math.max(peak, residentBytes(serverPid))), 20);
  const started = performance.now();
  const headers = { 'Content-Type': 'application/json' };
  const asked = await fetch(`${address}/api/pages/${pageId}/handoffs`, {
    method: 'POST',
    headers,
    body: '{"split":"part","container":"ora"}',
  });
  let view = (await asked.json()) as { id: string; state: string };
  while (view.state === 'building') {
    await new Promise((resolve) => setTimeout(resolve, 100));
    view = (await (await fetch(`${address}/api/handoffs/${view.id}`)).json()) as { id: string; state: string };
  }
  clearInterval(sampler);
  if (view.state !== 'ready') throw new Error(`The hand-off ended as ${view.state}.`);
  return { peakMb: peak / MB, seconds: (performance.now() - started) / 1000 };
}

function statusOf(pid: number | string): string {
  try {
    return readFileSync(`/proc/${pid}/status`, 'utf8');
  } catch {
    return '';
  }
}

function residentBytes(pid: number | string): number {
  return Number(/VmRSS:\s+(\d+)/.exec(statusOf(pid))?.[1] ?? 0) * 1024;
}

/** The browser this process started. */
function browserPid(): number {
  const own = readdirSync('/proc').filter(
    (pid) => /^\d+$/.test(pid) && Number(/PPid:\s+(\d+)/.exec(statusOf(pid))?.[1]) === process.pid,
  );
  const found = own.find((pid) => readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('chrom'));
  if (found === undefined) throw new Error('The browser is not among the processes.');
  return Number(found);
}

/** The largest page process below the browser, in bytes. */
function largestRenderer(browser: number): number {
  const parents = new Map<number, number>();
  for (const pid of readdirSync('/proc').filter((name) => /^\d+$/.test(name)))
    parents.set(Number(pid), Number(/PPid:\s+(\d+)/.exec(statusOf(pid))?.[1] ?? 0));
  const below = (pid: number): boolean =>
    pid === browser || (parents.has(pid) && parents.get(pid) !== 0 && below(parents.get(pid)!));
  let largest = 0;
  for (const pid of parents.keys()) {
    if (pid === browser || !below(pid)) continue;
    const command = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
    if (command.includes('--type=renderer')) largest = Math.max(largest, residentBytes(pid));
  }
  return largest;
}
