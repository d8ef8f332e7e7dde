import { proposeFromGuide, readGuideInTurns, registerGuide, type GuideProposal } from '@jumble/core';
import type { Row } from '../printTable.ts';
import { crowdedPage } from './crowdedPage.ts';
import { range } from '../gaps/lessons.ts';
import { GUIDE_PARTS, guideCases, stagedGuideCases, type GuideCase } from './keyCases.ts';

/** Nobody mixes exactly the colours of the sheet. */
const OFF_RGB = 4;
/** Pages staged by chance that nothing was fitted on. */
const STAGED = range(101, 106);
const BANDS = 5;
/** Readings of the large key, of which the fastest counts. */
const TIMES = 3;
/** Fewer regions than this do not say how many of them are right. */
const LEAST_IN_BAND = 20;

/** Keys over the demo pages: which regions they get right, and whether their confidence is worth its name. */
export async function measureGuide(): Promise<Row[]> {
  let slowest = 0;
  let leastMatch = Infinity;
  let mostWrong = 0;
  const cases = await guideCases([21, 22, 23]);
  const offCases = await guideCases([24], OFF_RGB);
  const told: Reading[] = [];
  for (const one of cases) {
    const started = performance.now();
    const reading = readGuide(one);
    slowest = Math.max(slowest, performance.now() - started);
    told.push(reading);
    leastMatch = Math.min(leastMatch, reading.explained);
    const other = cases.find(({ page }) => page !== one.page);
    if (other !== undefined) mostWrong = Math.max(mostWrong, registerGuide(one.survey, other.key).explained);
  }
  const staged = (await stagedGuideCases(STAGED, [21, 22, 23])).map(readGuide);
  const off = offCases.map(readGuide);
  const crowd = await crowdedPage();
  const turns = bestTurns(range(1, TIMES).map(() => timeTurns(crowd)));
  const rows: Row[] = [
    {
      what: 'key at a tenth, blurred and shifted: regions right',
      value: rightShare(told),
      unit: '',
      target: { least: 0.95 },
      note: `${countOf(told)} regions with ${cases.length} keys; ${slowest.toFixed(0)} ms at most to lay it and read it`,
    },
    {
      what: 'key painted off the colours of the sheet: regions right',
      value: rightShare(off),
      unit: '',
      note: `by up to ${OFF_RGB} of 255 in each channel`,
    },
    {
      what: 'key on pages staged by chance: regions right',
      value: rightShare(staged),
      unit: '',
      note: `${countOf(staged)} regions of ${STAGED.length} pages that nothing was fitted on, a third of them smaller than 2 px of the key`,
    },
    {
      what: 'key of a 26-megapixel page of crowds, laid: proposals on the page',
      value: turns.at(0)!.ms,
      unit: 'ms',
      target: { most: 1500 },
      note: `${crowd.survey.regions.count} regions, most of them smaller than what the key shows, best of ${TIMES}; ${turns.at(0)!.right.toFixed(2)} right`,
    },
    {
      what: 'the same, until all is weighed and can be taken',
      value: turns.at(-1)!.ms,
      unit: 'ms',
      note: `${turns.at(-1)!.right.toFixed(2)} right`,
    },
    {
      what: 'key of the page explains at least, that of another at most',
      value: leastMatch - mostWrong,
      unit: '',
      note: `${leastMatch.toFixed(2)} and ${mostWrong.toFixed(2)}`,
    },
  ];
  return [...rows, ...bandRows('key', told), ...bandRows('key on staged pages', staged)];
}

/** What a key said of each region of a page: how surely, and whether it is right. */
interface Reading {
  readonly explained: number;
  readonly said: readonly { readonly confidence: number; readonly right: boolean }[];
}

function readGuide(one: GuideCase): Reading {
  const { place, explained } = registerGuide(one.survey, one.key);
  return { explained, said: compare(one, proposeFromGuide(one.survey, one.key, place, GUIDE_PARTS).proposals) };
}

function compare({ partOfRegion }: GuideCase, proposals: readonly GuideProposal[]): Reading['said'] {
  return proposals.map(({ region, part, confidence }) => ({ confidence, right: part === partOfRegion[region] }));
}

interface Turn {
  readonly ms: number;
  readonly right: number;
}

/** The least times of several readings of one key. */
function bestTurns(readings: readonly (readonly Turn[])[]): Turn[] {
  return readings[0]!.map(({ right }, turn) => ({ right, ms: Math.min(...readings.map((turns) => turns[turn]!.ms)) }));
}

/** When a key's proposals are known, from the first ones to the last, and which share of them is right. */
function timeTurns(one: GuideCase): readonly Turn[] {
  const started = performance.now();
  const { place, explained } = registerGuide(one.survey, one.key);
  const turns: Turn[] = [];
  for (const { proposals } of readGuideInTurns(one.survey, one.key, place, GUIDE_PARTS))
    turns.push({ ms: performance.now() - started, right: rightShare([{ explained, said: compare(one, proposals) }]) });
  return turns;
}

function countOf(readings: readonly Reading[]): number {
  return readings.reduce((sum, { said }) => sum + said.length, 0);
}

/** The share of regions that get the part they were drawn for. */
function rightShare(readings: readonly Reading[]): number {
  const right = readings.reduce((sum, { said }) => sum + said.filter((one) => one.right).length, 0);
  return right / countOf(readings);
}

function bandRows(what: string, readings: readonly Reading[]): Row[] {
  const said = readings.flatMap((reading) => reading.said);
  return range(0, BANDS - 1).flatMap((k): Row[] => {
    const band = said.filter(({ confidence }) => Math.min(BANDS - 1, Math.floor(confidence * BANDS)) === k);
    if (band.length < LEAST_IN_BAND) return [];
    const right = band.filter((one) => one.right).length / band.length;
    const sum = band.reduce((all, { confidence }) => all + confidence, 0);
    return [
      {
        what: `${what}, confidence ${(k / BANDS).toFixed(1)} to ${((k + 1) / BANDS).toFixed(1)}: off by`,
        value: Math.abs(right - sum / band.length),
        unit: '',
        target: { most: 0.05 },
        note: `${band.length} regions, ${right.toFixed(2)} right`,
      },
    ];
  });
}
