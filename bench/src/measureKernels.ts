import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { build, type InputOptions } from 'rolldown';
import { LARGE_HEIGHT, LARGE_WIDTH } from './largePage.ts';
import { quantile, type Row } from './printTable.ts';

interface Measured {
  readonly best: Record<
    | 'copy'
    | 'ink'
    | 'trap'
    | 'measure'
    | 'label'
    | 'divide'
    | 'withGaps'
    | 'naive'
    | 'dense'
    | 'denseWithGaps'
    | 'rule'
    | 'redraw'
    | 'redrawBackground'
    | 'trapMiddle'
    | 'trapDepth'
    | 'trapMax'
    | 'trapSolids'
    | 'trapScreen'
    | 'trapFaults'
    | 'trapInk'
    | 'linePieces'
    | 'holdBlur'
    | 'check'
    | 'holdScreen'
    | 'trapInkSolids',
    number
  >;
  readonly totals: number[];
  readonly regions: number;
  readonly gapRegions: number;
  readonly closures: number;
  /** Of the dense page. */
  readonly looseEnds: number;
}

/** Ink, regions and trap of the 26-megapixel page, on one core. */
export async function measureKernels(): Promise<{ title: string; rows: Row[] }> {
  const { best, totals, regions, gapRegions, closures, looseEnds } = await pinned<Measured>('kernelsPinned.ts');
  const total = Math.min(...totals);
  return {
    title: `Ink, regions and trap on ${LARGE_WIDTH} x ${LARGE_HEIGHT} px, ${regions} regions, one core, best of ${totals.length}`,
    rows: [
      { what: 'ink', value: best.ink, unit: 'ms' },
      { what: 'trap to the middle', value: best.trap, unit: 'ms' },
      {
        what: 'regions',
        value: best.measure + best.label + best.divide,
        unit: 'ms',
        note: 'labels, anchors, line width, crumbs',
      },
      { what: 'ink + regions + trap', value: total, unit: 'ms', target: { most: 1200 } },
      { what: 'the same, median', value: quantile(totals, 0.5), unit: 'ms' },
      {
        what: 'gaps more',
        value: best.withGaps - total,
        unit: 'ms',
        target: { most: 1500 },
        note: `${closures} possible closures, ${gapRegions} regions`,
      },
      {
        what: 'gaps more on a dense page',
        value: best.denseWithGaps - best.dense,
        unit: 'ms',
        target: { most: 1500 },
        note: `${looseEnds} loose ends, finer lines; ${best.dense.toFixed()} ms without`,
      },
      { what: 'a ruling, or another largest gap', value: best.rule, unit: 'ms', target: { most: 150 } },
      { what: 'a closure drawn by hand', value: best.redraw, unit: 'ms', target: { most: 80 } },
      { what: 'the same in the background', value: best.redrawBackground, unit: 'ms', target: { most: 80 } },
      ...(
        [
          ['trapMiddle', 'flats under the ink, to the middle', 0.3],
          ['trapDepth', 'to a fixed depth', 0.3],
          ['trapMax', 'as deep as the line allows', 0.3],
          ['trapSolids', 'solid blacks apart', 0.3],
          ['trapInk', 'pinholes, once for a page', null],
          ['trapInkSolids', 'pinholes and solid blacks, once for a page', null],
          ['trapScreen', 'a changed rule on the screen', 0.1],
          ['trapFaults', 'halos and lines cut short', null],
          ['linePieces', 'line pieces', 1],
          ['holdBlur', 'all lines from their blurred surroundings', 0.7],
          ['holdScreen', 'a changed rule of lines on the screen', 0.1],
          ['check', 'flats checked against the ink', 1.5],
        ] as const
      ).map(([step, what, most]) => ({
        what: `${what}, of opening the page`,
        value: best[step] / best.withGaps,
        unit: 'x',
        note: `${best[step].toFixed()} ms`,
        ...(most === null ? {} : { target: { most } }),
      })),
      { what: 'plain copy of the bytes', value: best.copy, unit: 'ms' },
      { what: 'in copies of the bytes', value: total / best.copy, unit: 'x' },
      { what: 'naive reference', value: best.naive, unit: 'ms', note: 'flood fill and full distance transform' },
      { what: 'share of the naive reference', value: total / best.naive, unit: 'x' },
    ],
  };
}

/** Runs a file of this folder, put together as the server is, in a process pinned to one core and reads the JSON it prints. */
export async function pinned<T>(file: string): Promise<T> {
  const built = join(import.meta.dirname, '..', '.cache', file.replace(/\.ts$/, '.mjs'));
  const { href } = new URL('../../apps/server/rolldown.config.mjs', import.meta.url);
  const { default: config } = (await import(href)) as { default: InputOptions };
  const { input: _, ...asServer } = config;
  await build({
    ...asServer,
    input: join(import.meta.dirname, file),
    tsconfig: join(import.meta.dirname, '..', '..', 'tsconfig.json'),
    output: { file: built, format: 'esm', codeSplitting: false },
    logLevel: 'warn',
  });
  const pin = existsSync('/usr/bin/taskset') ? ['taskset', '-c', '1'] : [];
  const [command, ...args] = [...pin, process.execPath, built];
  const { stdout, status } = spawnSync(command!, args, {
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'inherit'],
    maxBuffer: 1 << 26,
  });
  if (status !== 0) throw new Error(`${file} ended with ${status}`);
  return JSON.parse(stdout.trim().split('\n').at(-1)!) as T;
}
