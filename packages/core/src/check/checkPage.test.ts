import { expect, test } from '@jest/globals';
import { readCorrections } from '../corrections/Corrections.ts';
import { regionAt } from '../fills/assignRegions.ts';
import { DEFAULT_JOB_CHECKS, type FindingKind, type JobChecks } from '../model/Finding.ts';
import { DEFAULT_PREP } from '../model/PageDocument.ts';
import { neighbourRegions } from '../survey/neighbourRegions.ts';
import { openSurvey } from '../survey/surveyPage.ts';
import { strokes } from '../tests/textGrid.ts';
import { middleTrap } from '../trap/RegionTrap.ts';
import { NO_TRAP_INK } from '../trap/TrapTable.ts';
import { checkPage, type PageCheckInput } from './checkPage.ts';

/** Two rooms side by side in lines six px wide; the wall between them has a door of `gapPx`. */
const house = (gapPx: number) =>
  openSurvey(
    strokes(300, 200, 6, [
      [40, 40, 260, 40],
      [260, 37, 260, 160],
      [263, 160, 40, 160],
      [40, 163, 40, 37],
      [150, 40, 150, 100 - gapPx / 2],
      ...(gapPx === 0 ? [] : ([[150, 100 + gapPx / 2, 150, 160]] as const)),
    ].map(([a, b, c, d], k) => [a!, b!, c!, k === 4 && gapPx === 0 ? 160 : d!] as [number, number, number, number])), // prettier-ignore
    DEFAULT_PREP,
  );
const closed = house(0);

function inputOf(over: Partial<PageCheckInput> = {}, page = closed): PageCheckInput {
  const { survey } = page;
  const partOfRegion = Array<string | null>(survey.regions.count).fill('sky');
  partOfRegion[regionAt(survey, 90, 100)!] = 'coat';
  partOfRegion[regionAt(survey, 210, 100)!] = 'hat';
  return {
    survey,
    partOfRegion,
    groups: [{ parts: [{ id: 'coat', rgb: 0x3366aa, empty: false }, { id: 'hat', rgb: 0xcc4422, empty: false }, { id: 'sky', rgb: 0xaaccee, empty: false }] }], // prettier-ignore
    names: ['coat', 'hat', 'sky', 'boot'].map((id) => ({ id, name: id.toUpperCase() })),
    corrections: readCorrections(survey.width, new Map(), (part) => part),
    trap: middleTrap(survey.regions.count),
    trapInk: NO_TRAP_INK,
    checks: DEFAULT_JOB_CHECKS,
    leftEmpty: new Uint8Array(survey.regions.count),
    neighbours: neighbourRegions(page),
    balloons: [],
    faintLines: [],
    dpi: 600,
    trim: null,
    usedElsewhere: null,
    ...over,
  };
}
const kinds = (over: Partial<PageCheckInput> = {}, page = closed): FindingKind[] =>
  checkPage(inputOf(over, page)).map(({ kind }) => kind);
const checks = (over: Partial<JobChecks>): JobChecks => ({ ...DEFAULT_JOB_CHECKS, ...over });

test('a page that was filled has no findings', () => {
  expect(kinds()).toEqual([]);
});

test('parts are told that no other page has, or no page at all; not while other pages are hardly begun', () => {
  const found = checkPage(inputOf({ usedElsewhere: new Set(['sky', 'coat']) }));
  expect(found.map(({ kind, message }) => [kind, message])).toEqual([
    ['lone-part', 'HAT is on this page alone'],
    ['unused-part', 'BOOT is on no page'],
  ]);
  expect(kinds({ usedElsewhere: new Set(['boot']) })).toEqual([]);
});

test('one region of a part among those of another is told', () => {
  const partOfRegion = inputOf().partOfRegion.map((part) => (part === 'hat' ? 'sky' : part));
  expect(kinds({ partOfRegion })).toEqual(['lone-region']);
});

test('a gap that bounds two parts is told until somebody ruled on it', () => {
  const page = house(18);
  const { closures } = page.survey;
  const door = closures.find(({ accepted, regions: [a, b] }) => accepted && a !== b)!;
  expect(door).toBeDefined();
  const doubtful = { ...page.survey, closures: closures.map((one) => ({ ...one, confidence: 0.5 })) };
  const found = checkPage({ ...inputOf({}, page), survey: doubtful });
  expect(found.map(({ kind }) => kind)).toEqual(['open-gap']);
  expect(found[0]!.message).toMatch(/a gap of \d+ px between (COAT and HAT|HAT and COAT)/);
  const ruled = { ...doubtful, closures: doubtful.closures.map((one) => ({ ...one, ruling: 'closed' as const })) };
  expect(checkPage({ ...inputOf({}, page), survey: ruled })).toEqual([]);
});

test('balloons in a colour, faint lines, a low resolution and art short of the bleed are told', () => {
  const region = regionAt(closed.survey, 90, 100)!;
  expect(kinds({ balloons: [{ region, at: [90, 100] }] })).toEqual(['balloon']);
  expect(kinds({ faintLines: [{ at: [90, 40], box: [40, 37, 260, 43], difference: 4.2 }] })).toEqual(['low-contrast']);
  expect(kinds({ checks: checks({ minDpi: 1200 }) })).toEqual(['resolution']);
  // Colour covers the whole page here: it reaches any bleed; without the sky it ends inside the cut.
  const trim = { cut: [50, 50, 250, 150], bleed: [20, 20, 280, 180] } as const;
  expect(kinds({ trim })).toEqual([]);
  const partOfRegion = inputOf().partOfRegion.map((part) => (part === 'sky' ? null : part));
  const leftEmpty = Uint8Array.from(partOfRegion, (part) => Number(part === null));
  const short = checkPage(inputOf({ trim, partOfRegion, leftEmpty }));
  expect(short.map(({ kind }) => kind)).toEqual(['bleed', 'bleed', 'bleed', 'bleed']);
  expect(short[0]!.message).toMatch(/colour ends \d+ px before the bleed on the left/);
});

test('what the job does not look for is not told', () => {
  const partOfRegion = inputOf().partOfRegion.map((part) => (part === 'hat' ? null : part));
  expect(kinds({ partOfRegion })).toEqual(['empty']);
  expect(kinds({ partOfRegion, checks: checks({ severities: { empty: 'off' } }) })).toEqual([]);
});
