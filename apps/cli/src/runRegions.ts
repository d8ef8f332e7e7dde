import { basename, extname, join } from 'node:path';
import {
  DEFAULT_PREP,
  describeLineArt,
  labelRaster,
  openSurvey,
  type GreyRaster,
  type OpenSurvey,
  type Prep,
  type Survey,
} from '@jumble/core';
import { setPngFacts } from '@jumble/formats';
import { decodePage, encodeRgb, PageFileError } from '@jumble/raster-io';
import { UsageError } from './UsageError.ts';
import { checkNoInput, makeOutputFolder, writeOutput } from './writeOutput.ts';

export interface RegionsOptions {
  readonly out: string;
  readonly maxGap: 'auto' | number;
  readonly labels: boolean;
  /** Whether panels and balloons are found and listed too. */
  readonly panels: boolean;
  readonly repeat: number;
}

const LABELS = '.labels.png';
const REPORT = '.regions.json';

type Timings = Record<string, number>;

/** Does one file after the other; a bad one is named and the rest are still done. */
export async function runRegions(files: readonly string[], options: RegionsOptions): Promise<number> {
  await makeOutputFolder(options.out);
  let code = 0;
  const taken = new Map<string, string>();
  for (const file of files) {
    try {
      const name = basename(file, extname(file));
      const other = taken.get(name);
      if (other !== undefined) {
        throw new UsageError(`${file}: its results would overwrite those of ${other}; rename it or use another --out.`);
      }
      taken.set(name, file);
      const target = join(options.out, name);
      // Before the work, not after it.
      for (const end of [LABELS, REPORT]) await checkNoInput(target + end, files);
      await reportFile(file, target, options, files);
    } catch (error) {
      if (!(error instanceof PageFileError) && !(error instanceof UsageError)) throw error;
      const text = error instanceof PageFileError ? `${file}: ${error.message}` : error.message;
      process.stderr.write(`jumble: ${text}\n`);
      code = 2;
    }
  }
  return code;
}

async function reportFile(
  file: string,
  target: string,
  options: RegionsOptions,
  inputs: readonly string[],
): Promise<void> {
  const timings: Timings = {};
  const keep = (step: string, ms: number): void => {
    timings[step] = Math.min(timings[step] ?? Infinity, ms);
  };
  let decoded: Awaited<ReturnType<typeof decodePage>> | undefined;
  let open: OpenSurvey | undefined;
  // Page-sized memory is made once and used by every run.
  const pool: ArrayBufferLike[] = [];
  for (let run = 0; run < options.repeat; run++) {
    const started = performance.now();
    decoded = await decodePage(file);
    keep('decode', performance.now() - started);
    open = timedSurvey(decoded.grey, { ...DEFAULT_PREP, maxGapPx: options.maxGap }, keep, pool);
  }
  if (decoded === undefined || open === undefined) return;
  const { survey } = open;
  if (options.labels) {
    const png = await encodeRgb(labelRaster(survey), survey.width, survey.height);
    await writeOutput(target + LABELS, setPngFacts(png, { dpi: decoded.dpi }), inputs);
  }
  const layout = options.panels ? layoutReport(open) : {};
  const report = { ...regionsReport(survey, decoded.dpi, timings), ...layout };
  await writeOutput(target + REPORT, `${JSON.stringify(report)}\n`, inputs);
}

function timedSurvey(
  grey: GreyRaster,
  prep: Prep,
  keep: (step: string, ms: number) => void,
  pool: ArrayBufferLike[],
): OpenSurvey {
  let taken = 0;
  let last = performance.now();
  return openSurvey(grey, prep, {
    allocate: (bytes) => {
      const slot = taken++;
      if (pool[slot]?.byteLength !== bytes) pool[slot] = new ArrayBuffer(bytes);
      return pool[slot]!;
    },
    onStep: (step) => {
      const now = performance.now();
      keep(step, now - last);
      last = now;
    },
  });
}

/** Panels in reading order with their corners and verdicts, and balloons with the region they are. */
function layoutReport(open: OpenSurvey): object {
  const { panels, balloons } = describeLineArt(open, null);
  return {
    panels: panels.map(({ points, framed, verdict, counts }) => ({
      points,
      framed,
      verdict,
      looseEnds: counts.looseEnds,
      closures: counts.closed,
    })),
    balloons: balloons.map(({ region, at, letters }) => ({ region: region + 1, at, letters })),
  };
}

function regionsReport(survey: Survey, dpi: number | null, timings: Timings): object {
  const { regions, width } = survey;
  const round = (ms: number): number => Math.round(ms * 100) / 100;
  return {
    width,
    height: survey.height,
    dpi,
    lineWidthPx: survey.lineWidthPx,
    crumbs: { ...regions.crumbs, limitPx2: survey.crumbLimitPx2 },
    regions: Array.from({ length: regions.count }, (_, r) => {
      const [x0, y0, x1, y1] = regions.box.subarray(r * 4, r * 4 + 4) as unknown as [number, number, number, number];
      const at = regions.anchor[r]!;
      return {
        id: r + 1,
        areaPx: regions.areaPx[r]!,
        bbox: [x0, y0, x1 - x0, y1 - y0],
        anchor: [at % width, Math.floor(at / width)],
        touchesEdge: regions.touchesEdge[r] === 1,
      };
    }),
    maxGapPx: survey.maxGapPx,
    closures: survey.closures.map(({ from, to, widthPx, kind, confidence, accepted, separatesPx }) => ({
      from,
      to,
      widthPx: round(widthPx),
      kind,
      confidence,
      accepted,
      separatesPx,
    })),
    timingsMs: { ...Object.fromEntries(Object.entries(timings).map(([step, ms]) => [step, round(ms)])) },
  };
}
