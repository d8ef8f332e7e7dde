import { exp, log } from '../exact/exactMath.ts';
import { TRAITS, type RegionTraits } from './describeRegions.ts';

/** Regions of a page, or of some of its panels, that have parts already. */
export interface ExamplePage {
  readonly traits: RegionTraits;
  /** Part of each region; null for one that is no example. */
  readonly parts: readonly (string | null)[];
}

export interface ExampleProposal {
  readonly region: number;
  readonly part: string;
  /** 0..1: how likely it is the right one. */
  readonly confidence: number;
}

/** How regions are compared, and what neighbours say; fitted by `bench/src/flats/fitExamples.ts`. */
export interface ExampleWeights {
  /** By how much two regions of one part differ in each trait. */
  readonly spread: readonly number[];
  /** What neighbours say, against what the region itself does. */
  readonly neighbours: number;
  /** Fewer px of common border than this say little of what touches what. */
  readonly softPx: number;
  /** Examples as unlike as this say nothing: a region that none is like has a part nobody used yet. */
  readonly nothing: number;
}

export const EXAMPLE_WEIGHTS: ExampleWeights = {
  spread: [0.73, 0.11, 0.22, 0.11, 0.77, 0.1, 0.2, 1.8, 0.13, 0.1, 0.59, 0.22, 4.7, 0.97, 0.83],
  neighbours: 1.6,
  softPx: 11,
  nothing: 0.15,
};
/** Shares of the votes with how often they are right where two pages are done; straight in between. Fitted as well. */
const CALIBRATION: readonly (readonly [share: number, confidence: number])[] = [
  [0, 0.05],
  [0.05, 0.18],
  [0.25, 0.2],
  [0.35, 0.26],
  [0.45, 0.37],
  [0.55, 0.46],
  [0.65, 0.51],
  [0.75, 0.67],
  [0.85, 0.85],
  [0.94, 0.95],
  [1, 0.99],
];
/** By how much more pages make likelier what all votes go to: log-odds for each e-fold of them. */
const BY_PAGES = 0.47;
const CALIBRATED_AT = 2;
const ROUNDS = 6;
/** Parts kept for each region. */
const CANDIDATES = 8;

/**
 * Proposes parts for regions by those of done pages: each region is compared with all that have a part, by
 * size, shape and place; then neighbours vote, by which parts touch which on the done pages (relaxation
 * labelling, Rosenfeld, Hummel and Zucker 1976).
 *
 * @param wanted regions to be proposed for.
 */
export function proposeFromExamples(
  traits: RegionTraits,
  wanted: (region: number) => boolean,
  examples: readonly ExamplePage[],
): ExampleProposal[] {
  const more = BY_PAGES * log(Math.max(1, examples.length) / CALIBRATED_AT);
  return voteFromExamples(traits, wanted, examples, EXAMPLE_WEIGHTS).map(({ region, part, share }) => {
    const alone = confidenceOf(share);
    const odds = (alone / (1 - alone)) * exp(more * share);
    return { region, part, confidence: odds / (1 + odds) };
  });
}

/** The part that most of the votes go to. */
export interface ExampleVote {
  readonly region: number;
  readonly part: string;
  readonly share: number;
}

/** As {@link proposeFromExamples}, before it is known what a share of the votes is worth. */
export function voteFromExamples(
  traits: RegionTraits,
  wanted: (region: number) => boolean,
  examples: readonly ExamplePage[],
  weights: ExampleWeights,
): ExampleVote[] {
  const parts = [...new Set(examples.flatMap((page) => page.parts).filter((part) => part !== null))].sort();
  if (parts.length === 0) return [];
  const numberOf = new Map(parts.map((part, k) => [part, k]));
  const votes = voteByTraits(traits, wanted, examples, numberOf, weights);
  const touching = touchingOf(examples, numberOf, weights.softPx);
  return Array.from(settleByNeighbours(traits, votes, touching, weights), ([region, candidates]) => {
    const { part, share } = candidates.reduce((a, b) => (b.share > a.share ? b : a));
    return { region, part: parts[part]!, share };
  });
}

interface Candidate {
  readonly part: number;
  readonly share: number;
}
type Votes = Map<number, readonly Candidate[]>;

function voteByTraits(
  { count, values }: RegionTraits,
  wanted: (region: number) => boolean,
  examples: readonly ExamplePage[],
  numberOf: ReadonlyMap<string, number>,
  { spread, nothing }: ExampleWeights,
): Votes {
  // Examples as one block of scaled numbers.
  const scale = spread.map((one) => 1 / one);
  const block: number[] = [];
  const partOf: number[] = [];
  for (const { traits, parts } of examples) {
    parts.forEach((part, region) => {
      if (part === null) return;
      partOf.push(numberOf.get(part)!);
      for (let t = 0; t < TRAITS; t++) block.push(traits.values[region * TRAITS + t]! * scale[t]!);
    });
  }
  const scaled = Float64Array.from(block);
  const own = new Float64Array(TRAITS);
  const votes: Votes = new Map();
  for (let region = 0; region < count; region++) {
    if (!wanted(region)) continue;
    for (let t = 0; t < TRAITS; t++) own[t] = values[region * TRAITS + t]! * scale[t]!;
    votes.set(region, strongest(weigh(own, scaled, partOf, numberOf.size), nothing));
  }
  return votes;
}

function weigh(own: Float64Array, scaled: Float64Array, partOf: readonly number[], partCount: number): Float64Array {
  const sums = new Float64Array(partCount);
  for (let e = 0; e < partOf.length; e++) {
    let d2 = 0;
    for (let t = 0; t < TRAITS && d2 < FAR2; t++) {
      const d = own[t]! - scaled[e * TRAITS + t]!;
      d2 += d * d;
    }
    if (d2 < FAR2) sums[partOf[e]!] = sums[partOf[e]!]! + exp(-d2 / 2);
  }
  return sums;
}

/** Beyond this an example's weight is nothing. */
const FAR2 = 40;

function strongest(sums: Float64Array, nothing: number): Candidate[] {
  const total = sums.reduce((a, b) => a + b, nothing);
  return [...sums]
    .map((sum, part) => ({ part, share: sum / total }))
    .sort((a, b) => b.share - a.share || a.part - b.part)
    .slice(0, CANDIDATES);
}

/** How much more often than by chance parts touch, as a logarithm; `count * count`. */
function touchingOf(
  examples: readonly ExamplePage[],
  numberOf: ReadonlyMap<string, number>,
  softPx: number,
): Float64Array {
  const n = numberOf.size;
  const length = new Float64Array(n * n);
  const ofPart = new Float64Array(n);
  let all = 0;
  for (const { traits, parts } of examples) {
    for (let k = 0; k < traits.pairs.length; k += 3) {
      const [a, b] = [parts[traits.pairs[k]!], parts[traits.pairs[k + 1]!]];
      if (a === null || a === undefined || b === null || b === undefined) continue;
      const px = traits.pairs[k + 2]!;
      const [i, j] = [numberOf.get(a)!, numberOf.get(b)!];
      length[i * n + j] = length[i * n + j]! + px;
      length[j * n + i] = length[j * n + i]! + px;
      ofPart[i] = ofPart[i]! + px;
      ofPart[j] = ofPart[j]! + px;
      all += 2 * px;
    }
  }
  return length.map((px, k) => {
    const expected = (ofPart[Math.floor(k / n)]! * ofPart[k % n]!) / Math.max(1, all);
    // Few pixels say little: they are drawn towards chance.
    return log((px + softPx) / (expected + softPx));
  });
}

function settleByNeighbours(
  { pairs, count }: RegionTraits,
  votes: Votes,
  touching: Float64Array,
  { neighbours, nothing }: ExampleWeights,
): Votes {
  const n = Math.sqrt(touching.length);
  const border = new Float64Array(count);
  const around = new Map<number, [other: number, px: number][]>();
  for (let k = 0; k < pairs.length; k += 3) {
    for (const [one, other] of [
      [pairs[k]!, pairs[k + 1]!],
      [pairs[k + 1]!, pairs[k]!],
    ] as const) {
      if (!votes.has(one)) continue;
      border[one] = border[one]! + pairs[k + 2]!;
      if (!votes.has(other)) continue;
      const list = around.get(one);
      if (list === undefined) around.set(one, [[other, pairs[k + 2]!]]);
      else list.push([other, pairs[k + 2]!]);
    }
  }
  let now = votes;
  for (let round = 0; round < ROUNDS; round++) {
    const next: Votes = new Map();
    for (const [region, first] of votes) {
      let sum = nothing;
      const weighed = first.map(({ part, share }) => {
        let says = 0;
        for (const [other, px] of around.get(region) ?? []) {
          for (const theirs of now.get(other)!)
            says += (px / border[region]!) * theirs.share * touching[part * n + theirs.part]!;
        }
        const weight = share * exp(neighbours * says);
        sum += weight;
        return { part, share: weight };
      });
      next.set(
        region,
        weighed.map(({ part, share }) => ({ part, share: share / sum })),
      );
    }
    now = next;
  }
  return now;
}

function confidenceOf(share: number): number {
  const k = CALIBRATION.findIndex(([at]) => at > share);
  if (k < 0) return CALIBRATION.at(-1)![1];
  const [[x0, y0], [x1, y1]] = [CALIBRATION[k - 1]!, CALIBRATION[k]!];
  return y0 + ((y1 - y0) * (share - x0)) / (x1 - x0);
}
