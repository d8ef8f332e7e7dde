import {
  applyEdits,
  DEFAULT_PREP,
  editMark,
  editsOfSpread,
  openSurvey,
  readPageDocument,
  resolveFills,
  solveMarks,
  type WorkingPage,
  type Survey,
} from '@jumble/core';
import { DEMO_PARTS, STEADY_PAGE_COUNT, renderInk, renderTruth } from '@jumble/demo';
import type { Row } from '../printTable.ts';
import { roughMarks, TRUTH_STEP } from './roughMarks.ts';

/** Rough marks over the demo pages: how much of the paper they get right. */
export async function measureMarks(): Promise<Row[]> {
  const rows: Row[] = [];
  const pages: { open: WorkingPage; truth: Uint8Array; small: Uint8Array }[] = [];
  for (let page = 1; page <= STEADY_PAGE_COUNT; page++) {
    const truth = await renderTruth(page);
    const open = openSurvey(await renderInk(page), DEFAULT_PREP);
    pages.push({ open, truth, small: thinOut(truth, open.survey) });
  }
  for (const [what, strays, least] of [
    ['no mark over a line', 0, 0.97],
    ['every tenth mark over a line', 10, 0.95],
  ] as const) {
    let right = 0;
    let marked = 0;
    let strayed = 0;
    let looks = 0;
    let wrongRegions = 0;
    let solveMs = 0;
    for (const [k, page] of pages.entries()) {
      const { open, truth, small } = page;
      const { width, height } = sizeOf(open.survey);
      const rough = roughMarks(small, width, height, strays, 7 + k);
      const { share, unsure, wrong, ms } = scoreMarks(open, truth, rough.marks);
      right += share / pages.length;
      looks += unsure / pages.length;
      wrongRegions += wrong / pages.length;
      solveMs = Math.max(solveMs, ms);
      marked += rough.marks.length / pages.length;
      strayed += rough.strayed / pages.length;
    }
    rows.push({
      what: `marks, ${what}: paper px right`,
      value: right,
      unit: '',
      target: { least },
      note: `${marked.toFixed(0)} marks a page, ${strayed.toFixed(0)} of them stray; ${looks.toFixed(0)} regions to look at, ${wrongRegions.toFixed(0)} not as intended; ${solveMs.toFixed(0)} ms at most`,
    });
  }
  return rows;
}

function sizeOf({ width, height }: Survey): { width: number; height: number } {
  return { width: Math.floor(width / TRUTH_STEP), height: Math.floor(height / TRUTH_STEP) };
}

function thinOut(truth: Uint8Array, survey: Survey): Uint8Array {
  const { width, height } = sizeOf(survey);
  const small = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) small[y * width + x] = truth[y * TRUTH_STEP * survey.width + x * TRUTH_STEP]!;
  return small;
}

/** Spreads marks over a fresh page as the bench does, and compares every paper pixel with the truth. */
function scoreMarks(
  page: WorkingPage,
  truth: Uint8Array,
  marks: ReturnType<typeof roughMarks>['marks'],
): { share: number; unsure: number; wrong: number; ms: number } {
  const records = applyEdits(
    new Map(),
    marks.map((mark, k) => editMark(`m${k}`, mark)),
  ).records;
  const document = readPageDocument(records);
  const started = performance.now();
  const solved = solveMarks(page, document);
  const ms = performance.now() - started;
  const after = readPageDocument(applyEdits(records, editsOfSpread(document, solved, 1)).records);
  page.cut(after.drawn, page.survey.maxGapPx, after.rulings);
  const { survey } = page;
  const { partOfRegion, looks } = resolveFills(survey, after.fills, (part) => part);
  const number = new Map(DEMO_PARTS.map((part, k) => [part.id, k]));
  const ofRegion = partOfRegion.map((part) => (part === null ? -1 : number.get(part)!));
  let right = 0;
  let paper = 0;
  /** For each region the px that are as intended. */
  const rightIn = new Float64Array(survey.regions.count);
  for (let i = 0; i < truth.length; i++) {
    const cell = survey.field[i]!;
    if (cell < 0) continue;
    paper++;
    const region = survey.regions.ofCell[cell]!;
    if (ofRegion[region] !== truth[i]) continue;
    right++;
    rightIn[region] = rightIn[region]! + 1;
  }
  const wrong = rightIn.filter((px, region) => px < 0.5 * survey.regions.areaPx[region]!).length;
  // The next marks find it as it was.
  page.cut([], survey.maxGapPx, new Map());
  return { share: right / paper, unsure: looks.size, wrong, ms };
}
