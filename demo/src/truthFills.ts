import {
  gapsToRule,
  keyOfCut,
  NO_GAPS_PREP,
  openSurvey,
  type GreyRaster,
  type Prep,
  type Ruling,
  type Survey,
} from '@jumble/core';
import { DEMO_PARTS } from './castOfDemo.ts';

/** A region with the part it was drawn for. */
export interface TrueFill {
  readonly region: number;
  readonly x: number;
  readonly y: number;
  readonly part: string;
  /** Share of the region's paper that was meant for this part; lower where colour leaks through a gap. */
  readonly share: number;
}

/** What each region of a page was meant to be: the part of most of its paper. */
export function truthFills(
  grey: GreyRaster,
  truth: Uint8Array,
  prep: Prep = NO_GAPS_PREP,
): { survey: Survey; fills: TrueFill[] } {
  const { survey } = openSurvey(grey, prep);
  return { survey, fills: fillsOf(survey, truth) };
}

/** The same once all gaps are ruled on as they were meant. */
export function truthDecisions(
  grey: GreyRaster,
  truth: Uint8Array,
  prep: Prep,
): { survey: Survey; rulings: ReadonlyMap<string, Ruling>; fills: TrueFill[] } {
  const page = openSurvey(grey, prep);
  const partOf = partsOfCells(page.survey, truth);
  const rulings = new Map<string, Ruling>();
  // What is ruled on may bring up others.
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const open = new Set(gapsToRule(page.survey.closures));
    if (open.size === 0) break;
    const { cuts, pairs } = page.survey.graph;
    cuts.forEach((cut, k) => {
      const key = keyOfCut(cut);
      const pair = pairs.ofCut[k]!;
      if (!open.has(key) || pair < 0) return;
      rulings.set(key, partOf[pairs.a[pair]!] === partOf[pairs.b[pair]!] ? 'open' : 'closed');
    });
    page.rule(page.survey.maxGapPx, new Map(rulings));
  }
  return { survey: page.survey, rulings, fills: fillsOf(page.survey, truth) };
}
const MOST_ROUNDS = 4;

/** The part of most of each cell's paper, as its place among the parts. */
function partsOfCells({ field, cellCount }: Survey, truth: Uint8Array): Uint8Array {
  const votes = new Uint32Array(cellCount * DEMO_PARTS.length);
  for (let i = 0; i < field.length; i++) if (field[i]! >= 0) votes[field[i]! * DEMO_PARTS.length + truth[i]!]!++;
  return Uint8Array.from({ length: cellCount }, (_, cell) => mostOf(votes, cell));
}

/** The part with most votes in a row. */
function mostOf(votes: Uint32Array, row: number): number {
  const from = row * DEMO_PARTS.length;
  let best = 0;
  for (let part = 1; part < DEMO_PARTS.length; part++) if (votes[from + part]! > votes[from + best]!) best = part;
  return best;
}

function fillsOf(survey: Survey, truth: Uint8Array): TrueFill[] {
  const { regions, field, width } = survey;
  const votes = new Uint32Array(regions.count * DEMO_PARTS.length);
  for (let i = 0; i < field.length; i++) {
    const cell = field[i]!;
    if (cell >= 0) votes[regions.ofCell[cell]! * DEMO_PARTS.length + truth[i]!]!++;
  }
  return Array.from({ length: regions.count }, (_, region): TrueFill => {
    const best = mostOf(votes, region);
    const at = regions.anchor[region]!;
    return {
      region,
      x: at % width,
      y: Math.floor(at / width),
      part: DEMO_PARTS[best]!.id,
      share: votes[region * DEMO_PARTS.length + best]! / regions.areaPx[region]!,
    };
  });
}
