import { DEFAULT_PREP, groupsInLoop, openSurvey, silhouetteInLoop, type Survey } from '@jumble/core';
import { DEMO_CAST, makeRandom, STEADY_PAGE_COUNT, renderInk, renderTruth } from '@jumble/demo';
import type { Row } from '../printTable.ts';
import { roughLoop } from './roughLoop.ts';
import { TRUTH_STEP } from './roughMarks.ts';

/** Who stands out against the ground. */
const FIGURES = ['wren', 'ilo', 'mumble'];
/** As the interface has it from the start. */
const SHARE = 0.9;
const HOLD_FROM = 0.1;

/** Rough loops round the figures of the demo pages: how well what they take agrees with the figures, holes filled. */
export async function measureSilhouettes(): Promise<Row[]> {
  const groupOf = DEMO_CAST.flatMap((group) => group.parts.map(() => group.id));
  const silhouettes: number[] = [];
  const shapes: number[] = [];
  let slowest = 0;
  for (let page = 1; page <= STEADY_PAGE_COUNT; page++) {
    const truth = await renderTruth(page);
    const { survey } = openSurvey(await renderInk(page), DEFAULT_PREP);
    const [width, height] = [Math.floor(survey.width / TRUTH_STEP), Math.floor(survey.height / TRUTH_STEP)];
    const random = makeRandom(5 + page);
    for (const figure of FIGURES) {
      const mask = new Uint8Array(width * height);
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++)
          if (groupOf[truth[y * TRUTH_STEP * survey.width + x * TRUTH_STEP]!] === figure) mask[y * width + x] = 1;
      for (const { loop, figure: wanted } of roughLoop(mask, width, height, random)) {
        const inPx = loop.map(([x, y]): [number, number] => [x * TRUTH_STEP, y * TRUTH_STEP]);
        const started = performance.now();
        const taken = new Set(silhouetteInLoop(survey, HOLD_FROM, inPx, SHARE).cells);
        slowest = Math.max(slowest, performance.now() - started);
        silhouettes.push(agreement(survey, wanted, width, height, (cell) => taken.has(cell)));
        const regions = new Set(groupsInLoop(survey, survey.regions, inPx, SHARE));
        shapes.push(agreement(survey, wanted, width, height, (cell) => regions.has(survey.regions.ofCell[cell]!)));
      }
    }
  }
  const mean = (list: readonly number[]): number => list.reduce((sum, one) => sum + one, 0) / list.length;
  return [
    {
      what: 'silhouettes from rough loops: paper px in common with the figure (IoU)',
      value: mean(silhouettes),
      unit: '',
      target: { least: 0.95 },
      note: `${silhouettes.length} figures, the worst ${Math.min(...silhouettes).toFixed(3)}; as shapes ${mean(shapes).toFixed(3)}; ${slowest.toFixed(0)} ms at most`,
    },
  ];
}

/** Paper both in what was taken and in the figure, over paper in either, by samples. */
function agreement(
  { field, width: pageWidth }: Survey,
  wanted: Uint8Array,
  width: number,
  height: number,
  isTaken: (cell: number) => boolean,
): number {
  let both = 0;
  let either = 0;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const cell = field[y * TRUTH_STEP * pageWidth + x * TRUTH_STEP]!;
      if (cell < 0) continue;
      const [is, should] = [isTaken(cell), wanted[y * width + x] === 1];
      if (is && should) both++;
      if (is || should) either++;
    }
  }
  return both / either;
}
