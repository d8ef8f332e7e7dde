import { DEFAULT_PREP, NO_GAPS_PREP, openSurvey, surveyPage, type GreyRaster } from '@jumble/core';
import type { Row } from '../printTable.ts';
import { generateDrawing, STYLES } from './generateDrawing.ts';
import { scoreDivision, type DivisionScore } from './scoreDivision.ts';
import { divideAsGiven } from './givenMethod.ts';
import { range, sheetsOf } from './lessons.ts';
import { measureOutlines } from './measureOutlines.ts';
import { measureTexture } from './measureTexture.ts';
import { closuresThatPart } from './truthOfCells.ts';
import { trappedBall } from './trappedBall.ts';

/** Seeds nothing was fitted on. */
const FIRST_SEED = 101;
const SEEDS = 8;
/** The trapped ball is slow: it is tried on some of them. */
const BALL_SEEDS = 2;
const TARGETS = new Map([
  [0.5, 0.98],
  [1, 0.97],
  [2, 0.96],
  [4, 0.92],
]);

/** How well gaps are found and ruled on by themselves, on drawings whose intended regions are known. */
export async function measureGaps(): Promise<{ title: string; rows: Row[] }> {
  const rows: Row[] = [];
  const mean = (scores: readonly DivisionScore[], read: (score: DivisionScore) => number): number =>
    scores.reduce((sum, score) => sum + read(score), 0) / scores.length;
  let drawings = 0;
  const wrong = { found: 0, given: 0 };
  for (const gapWidths of [0, 0.5, 1, 2, 4]) {
    const found: DivisionScore[] = [];
    const plain: DivisionScore[] = [];
    const given: DivisionScore[] = [];
    const balls: DivisionScore[] = [];
    for (const style of STYLES) {
      for (let seed = FIRST_SEED; seed < FIRST_SEED + SEEDS; seed++) {
        const drawing = await generateDrawing(seed, style, { gapWidths, gapShare: 0.6 });
        const shut = surveyPage(drawing.shut, NO_GAPS_PREP);
        const survey = surveyPage(drawing.ink, DEFAULT_PREP);
        found.push(scoreDivision(survey, shut));
        const undivided = surveyPage(drawing.ink, NO_GAPS_PREP);
        plain.push(scoreDivision(undivided, shut));
        if (seed < FIRST_SEED + BALL_SEEDS) balls.push(scoreDivision(trappedBall(undivided), shut));
        given.push(scoreDivision(divideAsGiven(survey), shut));
        drawings++;
      }
    }
    wrong.found += 1 - mean(found, (score) => score.accuracy);
    wrong.given += 1 - mean(given, (score) => score.accuracy);
    const name = gapWidths === 0 ? 'no gap cut' : `gaps of ${gapWidths} line widths`;
    const least = TARGETS.get(gapWidths);
    rows.push({
      what: `${name}: regions recovered`,
      value: mean(found, (score) => score.recovered),
      unit: '',
      ...(least === undefined ? {} : { target: { least } }),
      note: `constants as given ${mean(given, (score) => score.recovered).toFixed(3)}, plain labelling ${mean(plain, (score) => score.recovered).toFixed(3)}, trapped ball ${mean(balls, (score) => score.recovered).toFixed(3)}`,
    });
    rows.push({
      what: `${name}: spurious regions a drawing`,
      value: mean(found, (score) => score.spurious),
      unit: '',
      target: { most: 0.1 },
      note: `constants as given ${mean(given, (score) => score.spurious).toFixed(2)}`,
    });
    rows.push({
      what: `${name}: accuracy`,
      value: mean(found, (score) => score.accuracy),
      unit: '',
      note: `as given ${mean(given, (score) => score.accuracy).toFixed(3)}, plain ${mean(plain, (score) => score.accuracy).toFixed(3)}, trapped ball ${mean(balls, (score) => score.accuracy).toFixed(3)}; clicks ${mean(found, (score) => score.clicks).toFixed(2)}, as given ${mean(given, (score) => score.clicks).toFixed(2)}, trapped ball ${mean(balls, (score) => score.clicks).toFixed(2)}`,
    });
  }
  rows.push({
    what: 'error of accuracy, in that of the constants as given',
    value: wrong.found / wrong.given,
    unit: 'x',
    target: { most: 0.75 },
  });
  rows.push(...(await measureLarge()), ...(await measureConfidence()));
  rows.push(...(await measureOutlines()), ...(await measureGrazing()), ...(await measureTexture()));
  return { title: `Gaps on ${drawings} generated drawings in ${STYLES.length} styles`, rows };
}

/** Drawn with such a pen lines are measured 8 px wide and a little more: the thinnest that are traced at half their size. */
const FINE_PX = 7.6;
const LARGE_WIDTH = 2500;
const LARGE_HEIGHT = 3000;
const LARGE_SEEDS = 3;

/** The same drawings on large sheets, where lines are traced at half their size. */
async function measureLarge(): Promise<Row[]> {
  const rows: Row[] = [];
  for (const [gapWidths, least] of TARGETS) {
    const scores: DivisionScore[] = [];
    let halved = 0;
    for (const style of STYLES) {
      for (let seed = FIRST_SEED; seed < FIRST_SEED + LARGE_SEEDS; seed++) {
        const drawing = await generateDrawing(seed, style, { gapWidths, gapShare: 0.6, linePx: FINE_PX });
        const { survey, base } = openSurvey(layOnSheet(drawing.ink), DEFAULT_PREP);
        if (base.found?.textureFactor === 2) halved++;
        scores.push(scoreDivision(survey, surveyPage(layOnSheet(drawing.shut), NO_GAPS_PREP), drawing.scale));
      }
    }
    const mean = (read: (score: DivisionScore) => number): number =>
      scores.reduce((sum, score) => sum + read(score), 0) / scores.length;
    const name = `gaps of ${gapWidths} line widths in fine lines on a large sheet`;
    rows.push({
      what: `${name}: regions recovered`,
      value: mean((score) => score.recovered),
      unit: '',
      target: { least },
      note: `${halved} of ${scores.length} drawings were traced at half their size`,
    });
    rows.push({
      what: `${name}: spurious regions a drawing`,
      value: mean((score) => score.spurious),
      unit: '',
      target: { most: 0.1 },
    });
  }
  return rows;
}

/** A drawing in the upper left corner of a sheet, with lines along its right and its lower edge. */
function layOnSheet(drawing: GreyRaster): GreyRaster {
  const width = Math.max(LARGE_WIDTH, drawing.width);
  const height = Math.max(LARGE_HEIGHT, drawing.height);
  const data = new Uint8Array(width * height).fill(255);
  const line = Math.round(FINE_PX);
  for (let y = 0; y < drawing.height; y++) {
    data.set(drawing.data.subarray(y * drawing.width, (y + 1) * drawing.width), y * width);
    data.fill(0, y * width + drawing.width - line, y * width + drawing.width);
    if (y >= drawing.height - line) data.fill(0, y * width, y * width + drawing.width);
  }
  return { width, height, data };
}

/** Other seeds nothing was fitted on, each with gaps of one width: the same doubtful closure is not counted twice. */
const CONFIDENCE_SEEDS = range(401, 480);
const BANDS = 5;

/** Whether of closures of a confidence such a share is right. */
async function measureConfidence(): Promise<Row[]> {
  const bands = Array.from({ length: BANDS }, () => ({ count: 0, right: 0, sum: 0 }));
  for await (const { ink, shut } of sheetsOf(CONFIDENCE_SEEDS)) {
    const survey = surveyPage(ink, DEFAULT_PREP);
    const parting = closuresThatPart(survey, surveyPage(shut, NO_GAPS_PREP));
    for (const { confidence, key } of survey.closures) {
      const band = bands[Math.min(BANDS - 1, Math.floor(confidence * BANDS))]!;
      band.count++;
      band.sum += confidence;
      if (parting.has(key)) band.right++;
    }
  }
  return bands.map(({ count, right, sum }, k) => ({
    what: `confidence ${(k / BANDS).toFixed(1)} to ${((k + 1) / BANDS).toFixed(1)}: off by`,
    value: Math.abs(right / count - sum / count),
    unit: '',
    target: { most: 0.05 },
    note: `${count} closures, ${(right / count).toFixed(2)} right; on ${CONFIDENCE_SEEDS.length * STYLES.length} other drawings`,
  }));
}

const GRAZING_WIDTHS = 1;

/** The same where lines may graze each other and strokes may be covered: what was meant there is anybody's guess, so that it has no target. */
async function measureGrazing(): Promise<Row[]> {
  const scores: DivisionScore[] = [];
  for (const style of STYLES) {
    for (let seed = FIRST_SEED; seed < FIRST_SEED + SEEDS; seed++) {
      const options = { gapWidths: GRAZING_WIDTHS, gapShare: 0.6, grazing: true, covering: true };
      const { ink, shut } = await generateDrawing(seed, style, options);
      scores.push(scoreDivision(surveyPage(ink, DEFAULT_PREP), surveyPage(shut, NO_GAPS_PREP)));
    }
  }
  const mean = (read: (score: DivisionScore) => number): number =>
    scores.reduce((sum, score) => sum + read(score), 0) / scores.length;
  const name = `gaps of ${GRAZING_WIDTHS} line width where lines graze each other and cover strokes`;
  return [
    { what: `${name}: regions recovered`, value: mean((score) => score.recovered), unit: '' },
    { what: `${name}: spurious regions a drawing`, value: mean((score) => score.spurious), unit: '' },
  ];
}
