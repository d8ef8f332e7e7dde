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

/** By how much two regions of one part differ in each trait, as measured on the demo's pages. */
const SPREAD: readonly number[] = [0.5, 0.1, 0.4, 0.13, 0.3, 0.5, 0.4, 1.5, 0.2];
/** What neighbours say, against what the region itself does. */
const NEIGHBOUR_WEIGHT = 1.6;
const ROUNDS = 6;
/** Parts kept for each region. */
const CANDIDATES = 8;
/** Examples as unlike as this say nothing: a region that none is like has a part nobody used yet. */
const NOTHING = 0.05;
/** Shares of the votes with how often they were right; straight in between. Measured by `npm run bench flats`. */
const CALIBRATION: readonly (readonly [share: number, confidence: number])[] = [
  [0, 0],
  [0.18, 0.05],
  [0.26, 0.15],
  [0.35, 0.21],
  [0.45, 0.31],
  [0.55, 0.4],
  [0.65, 0.54],
  [0.75, 0.66],
  [0.85, 0.82],
  [0.95, 0.95],
  [1, 0.98],
];

/**
 * Proposes parts for regions by those of done pages: each region is compared with all that have a part, by
 * size, shape and place; then neighbours vote, by which parts touch which on the done pages (relaxation
 * labelling, Rosenfeld, Hummel and Zucker 1976).
 *
 * @param wanted regions to be proposed for. @param calibrate `false` gives the share of the votes itself.
 */
export function proposeFromExamples(
  traits: RegionTraits,
  wanted: (region: number) => boolean,
  examples: readonly ExamplePage[],
  calibrate = true,
): ExampleProposal[] {
  const parts = [...new Set(examples.flatMap((page) => page.parts).filter((part) => part !== null))].sort();
  if (parts.length === 0) return [];
  const numberOf = new Map(parts.map((part, k) => [part, k]));
  const votes = voteByTraits(traits, wanted, examples, numberOf);
  const touching = touchingOf(examples, numberOf);
  const settled = settleByNeighbours(traits, votes, touching);
  const proposals: ExampleProposal[] = [];
  for (const [region, candidates] of settled) {
    const best = candidates.reduce((a, b) => (b.share > a.share ? b : a));
    proposals.push({
      region,
      part: parts[best.part]!,
      confidence: calibrate ? confidenceOf(best.share) : best.share,
    });
  }
  return proposals;
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
): Votes {
  // Examples as one block of scaled numbers.
  const scale = SPREAD.map((spread) => 1 / spread);
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
    votes.set(region, strongest(weigh(own, scaled, partOf, numberOf.size)));
  }
  return votes;
}

function weigh(own: Float64Array, scaled: Float64Array, partOf: readonly number[], partCount: number): Float64Array {
  const sums = new Float64Array(partCount);
  for (let e = 0; e < partOf.length; e++) {
    let d2 = 0;
    for (let t = 0; t < TRAITS; t++) {
      const d = own[t]! - scaled[e * TRAITS + t]!;
      d2 += d * d;
    }
    if (d2 < FAR2) sums[partOf[e]!] = sums[partOf[e]!]! + exp(-d2 / 2);
  }
  return sums;
}

/** Beyond this an example's weight is nothing. */
const FAR2 = 40;

function strongest(sums: Float64Array): Candidate[] {
  const total = sums.reduce((a, b) => a + b, NOTHING);
  return [...sums]
    .map((sum, part) => ({ part, share: sum / total }))
    .sort((a, b) => b.share - a.share || a.part - b.part)
    .slice(0, CANDIDATES);
}

/** How much more often than by chance parts touch, as a logarithm; `count * count`. */
function touchingOf(examples: readonly ExamplePage[], numberOf: ReadonlyMap<string, number>): Float64Array {
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
    return log((px + SOFT_PX) / (expected + SOFT_PX));
  });
}

const SOFT_PX = 60;

function settleByNeighbours({ pairs, count }: RegionTraits, votes: Votes, touching: Float64Array): Votes {
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
      let sum = NOTHING;
      const weighed = first.map(({ part, share }) => {
        let says = 0;
        for (const [other, px] of around.get(region) ?? []) {
          for (const theirs of now.get(other)!)
            says += (px / border[region]!) * theirs.share * touching[part * n + theirs.part]!;
        }
        const weight = share * exp(NEIGHBOUR_WEIGHT * says);
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
