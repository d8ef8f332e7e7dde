import { log } from '../exact/exactMath.ts';
import type { Cut } from './Cut.ts';

/** What the graph knows of each cell. */
export interface CellFacts {
  readonly count: number;
  readonly areaPx: Uint32Array;
  /** Largest distance to ink inside, in px. */
  readonly radiusPx: Float64Array;
}

/** Two cells with the openings between them, as columns; the lower cell is `a`. */
export interface CellPairs {
  readonly count: number;
  readonly a: Int32Array;
  readonly b: Int32Array;
  /** Length of border between them that is inked, in px. */
  readonly inkedPx: Float64Array;
  /** Pair of each cut, -1 for a cut that parts nothing. */
  readonly ofCut: Int32Array;
}

/** How a cut is to be taken. */
export type Ruling = 'closed' | 'open';

export interface Merged {
  /** Group of each cell: one of the group's cells. */
  readonly groupOfCell: Int32Array;
  /** 0..1 for each cut. */
  readonly confidence: Float64Array;
  /** 1 where the cut bounds regions. */
  readonly bounds: Uint8Array;
}

/** From this confidence on a closure bounds regions until someone rules otherwise. */
export const BOUNDS_FROM = 0.22;
/** From this confidence on a closure need not be looked at. */
export const SURE_FROM = 0.7;

/** Scores with the share of closures found right there, fitted with the weights; straight in between. */
const CALIBRATION: readonly (readonly [score: number, confidence: number])[] = [
  [-9, 0],
  [-4.76, 0.01],
  [-3.6, 0.03],
  [-2.73, 0.058],
  [-2.17, 0.088],
  [-1.7, 0.202],
  [-1.3, 0.241],
  [-0.9, 0.272],
  [-0.5, 0.393],
  [-0.11, 0.554],
  [0.32, 0.688],
  [0.74, 0.78],
  [1.68, 0.897],
  [2.86, 0.943],
  [4.6, 0.976],
  [9, 1],
];

/** The confidence at a score, and back. */
function confidenceOf(score: number): number {
  return Math.round(1000 * interpolate(CALIBRATION, score)) / 1000;
}
export function scoreAt(confidence: number): number {
  return interpolate(
    CALIBRATION.map(([score, value]) => [value, score] as const),
    confidence,
  );
}

function interpolate(knots: readonly (readonly [number, number])[], at: number): number {
  const next = knots.findIndex(([x]) => x > at);
  if (next === 0) return knots[0]![1];
  if (next < 0) return knots.at(-1)![1];
  const [[x0, y0], [x1, y1]] = [knots[next - 1]!, knots[next]!];
  return y0 + ((y1 - y0) * (at - x0)) / (x1 - x0);
}

/** The score at a confidence of {@link BOUNDS_FROM}. */
export const BOUNDS_SCORE = Math.round(1e6 * scoreAt(BOUNDS_FROM)) / 1e6;

/**
 * What is known of the openings between two cells, and what each of it is worth. What decides is how much
 * of the common border is inked, whether a stroke ends at the gap, and the area.
 */
export const SCORE_TERMS = [
  'base',
  'narrow',
  'end',
  'secondEnd',
  'inked',
  'area',
  'texture',
  'width',
  'aim',
  'blunt',
] as const;
export const SCORE_WEIGHTS: readonly number[] = [-4.03, -0.76, 2.16, 1.27, -0.34, 0.02, -0.69, -0.34, 1.62, 1.49];

/** What closures are rated by, and the score from which on they bound regions. */
export interface Scoring {
  readonly weights: readonly number[];
  readonly boundsScore: number;
}
const OWN_SCORING: Scoring = { weights: SCORE_WEIGHTS, boundsScore: BOUNDS_SCORE };

interface Opening {
  a: number;
  b: number;
  open: number;
  inked: number;
  /** Sums weighted by width. */
  strong: number;
  weak: number;
  texture: number;
  aim: number;
  blunt: number;
  held: boolean;
  version: number;
}

/**
 * Joins cells whose openings do not look like gaps, the weakest first, all openings of a pair
 * together; what is left open closes.
 *
 * @param limitPx wider cuts are open.
 * @param texture 0..1 for each cut: how much of it lies in hatching.
 * @param scoring other weights; for comparing methods.
 * @param onDecision is told the terms each decision was made on; for fitting the weights.
 */
export function mergeCells(
  cells: CellFacts,
  pairs: CellPairs,
  cuts: readonly Cut[],
  texture: Float64Array,
  lineWidthPx: number,
  limitPx: number,
  rulingOf: (cut: number) => Ruling | undefined,
  onDecision?: (pairs: readonly number[], terms: readonly number[]) => void,
  { weights, boundsScore }: Scoring = OWN_SCORING,
): Merged {
  const parent = Int32Array.from({ length: cells.count }, (_, k) => k);
  const area = Float64Array.from(cells.areaPx);
  const radius = cells.radiusPx.slice();
  const find = (cell: number): number => {
    let node = cell;
    while (parent[node] !== node) {
      parent[node] = parent[parent[node]!]!;
      node = parent[node]!;
    }
    return node;
  };
  const openings: (Opening | null)[] = [];
  for (let p = 0; p < pairs.count; p++) {
    openings.push({
      a: pairs.a[p]!,
      b: pairs.b[p]!,
      open: 0,
      inked: pairs.inkedPx[p]!,
      strong: 0,
      weak: 0,
      texture: 0,
      aim: 0,
      blunt: 0,
      held: false,
      version: 0,
    });
  }
  const forced: number[] = [];
  for (const [k, cut] of cuts.entries()) {
    const pair = pairs.ofCut[k]!;
    if (pair < 0) continue;
    const opening = openings[pair]!;
    const ruling = rulingOf(k);
    opening.open += cut.widthPx;
    opening.strong += cut.widthPx * Math.max(...cut.evidence);
    opening.weak += cut.widthPx * Math.min(...cut.evidence);
    opening.texture += cut.widthPx * texture[k]!;
    opening.aim += cut.widthPx * cut.aim * Math.max(...cut.evidence);
    opening.blunt += cut.widthPx * cut.blunt * Math.max(...cut.evidence);
    if (ruling === 'closed' || cut.kind === 'hand') opening.held = true;
    else if (ruling === 'open' || cut.widthPx > limitPx) forced.push(pair);
  }

  /** For each cell the pair it forms with each neighbour. */
  const ofCell: Map<number, number>[] = Array.from({ length: cells.count }, () => new Map());
  openings.forEach((opening, p) => {
    ofCell[opening!.a]!.set(opening!.b, p);
    ofCell[opening!.b]!.set(opening!.a, p);
  });
  const termsOf = (opening: Opening): number[] => {
    const { open, inked } = opening;
    const small = Math.min(area[opening.a]!, area[opening.b]!);
    const r = Math.max(0.5, Math.min(radius[opening.a]!, radius[opening.b]!));
    const soft = 0.3 * lineWidthPx;
    return [
      1,
      log(open / (2 * r)),
      opening.strong / open,
      opening.weak / open,
      log((open + soft) / (open + inked + soft)),
      log(Math.max(1, small) / (lineWidthPx * lineWidthPx)) - 4,
      opening.texture / open,
      log(open / lineWidthPx),
      opening.aim / open,
      opening.blunt / open,
    ];
  };
  const score = (opening: Opening): number => {
    const value = termsOf(opening).reduce((sum, term, k) => sum + term * weights[k]!, 0);
    return Math.round(value * 1e6) / 1e6;
  };

  const heap = new WeakestFirst();
  const queue = (p: number): void => {
    const opening = openings[p]!;
    opening.version++;
    if (!opening.held) heap.push({ score: score(opening), pair: p, version: opening.version });
  };
  /** Score at which each first pair was joined. */
  const joinedAt = new Float64Array(pairs.count).fill(NaN);
  const inPair: number[][] = Array.from({ length: pairs.count }, (_, p) => [p]);
  /** The pair each first pair went into, step by step. */
  const into = Int32Array.from({ length: pairs.count }, (_, p) => p);

  const join = (p: number, at: number): void => {
    const opening = openings[p]!;
    // The one with fewer neighbours goes: the outside of a page may have thousands.
    const swap = ofCell[opening.a]!.size < ofCell[opening.b]!.size;
    const [keep, gone] = swap ? [opening.b, opening.a] : [opening.a, opening.b];
    for (const first of inPair[p]!) joinedAt[first] = at;
    openings[p] = null;
    ofCell[keep]!.delete(gone);
    ofCell[gone]!.delete(keep);
    parent[gone] = keep;
    area[keep] = area[keep]! + area[gone]!;
    radius[keep] = Math.max(radius[keep]!, radius[gone]!);
    for (const [far, other] of ofCell[gone]!) {
      const moved = openings[other]!;
      const twin = ofCell[keep]!.get(far);
      ofCell[far]!.delete(gone);
      if (twin === undefined) {
        moved.a = Math.min(keep, far);
        moved.b = Math.max(keep, far);
        ofCell[keep]!.set(far, other);
        ofCell[far]!.set(keep, other);
        queue(other);
      } else {
        const held = openings[twin]!;
        held.open += moved.open;
        held.inked += moved.inked;
        held.strong += moved.strong;
        held.weak += moved.weak;
        held.texture += moved.texture;
        held.aim += moved.aim;
        held.blunt += moved.blunt;
        held.held ||= moved.held;
        into[other] = twin;
        for (const first of inPair[other]!) inPair[twin]!.push(first);
        openings[other] = null;
        queue(twin);
      }
    }
    ofCell[gone]!.clear();
  };

  // What is ruled open, or wider than the limit, is open before anything else is looked at.
  for (const p of forced) {
    let now = p;
    while (into[now] !== now) now = into[now]!;
    if (openings[now] !== null) join(now, -9);
  }
  for (let p = 0; p < openings.length; p++) if (openings[p] !== null) queue(p);
  for (;;) {
    for (let next = heap.pop(); next !== undefined; next = heap.pop()) {
      const opening = openings[next.pair];
      if (opening === null || opening === undefined || opening.version !== next.version) continue;
      // A cell that grew meanwhile changes its pairs' scores: they are looked at when their turn comes.
      const now = score(opening);
      if (now > next.score) {
        queue(next.pair);
        continue;
      }
      if (now >= boundsScore) break;
      onDecision?.(inPair[next.pair]!, termsOf(opening));
      join(next.pair, now);
    }
    const sunk = openings.flatMap((opening, p) =>
      opening !== null && !opening.held && score(opening) < boundsScore ? [p] : [],
    );
    if (sunk.length === 0) break;
    sunk.forEach(queue);
  }

  if (onDecision !== undefined) {
    openings.forEach((opening, p) => opening !== null && onDecision(inPair[p]!, termsOf(opening)));
  }
  const scoreOfPair = joinedAt.slice();
  openings.forEach((opening, p) => {
    if (opening !== null) for (const first of inPair[p]!) scoreOfPair[first] = score(opening);
  });
  const groupOfCell = Int32Array.from(parent, (_, cell) => find(cell));
  const confidence = new Float64Array(cuts.length);
  const bounds = new Uint8Array(cuts.length);
  cuts.forEach((_, k) => {
    const pair = pairs.ofCut[k]!;
    if (pair < 0) return;
    const value = Number.isNaN(scoreOfPair[pair]!) ? -9 : scoreOfPair[pair]!;
    confidence[k] = confidenceOf(value);
    bounds[k] = groupOfCell[pairs.a[pair]!] !== groupOfCell[pairs.b[pair]!] ? 1 : 0;
  });
  return { groupOfCell, confidence, bounds };
}

interface Entry {
  readonly score: number;
  readonly pair: number;
  readonly version: number;
}

/** A heap of openings: the lowest score first, ties to the lower pair. */
class WeakestFirst {
  private readonly entries: Entry[] = [];

  push(entry: Entry): void {
    const { entries } = this;
    let at = entries.push(entry) - 1;
    while (at > 0) {
      const up = (at - 1) >> 1;
      if (!before(entry, entries[up]!)) break;
      entries[at] = entries[up]!;
      at = up;
    }
    entries[at] = entry;
  }

  pop(): Entry | undefined {
    const { entries } = this;
    const first = entries[0];
    const last = entries.pop();
    if (first === undefined || last === undefined || entries.length === 0) return first;
    let at = 0;
    for (;;) {
      let child = 2 * at + 1;
      if (child >= entries.length) break;
      if (child + 1 < entries.length && before(entries[child + 1]!, entries[child]!)) child++;
      if (!before(entries[child]!, last)) break;
      entries[at] = entries[child]!;
      at = child;
    }
    entries[at] = last;
    return first;
  }
}

function before(a: Entry, b: Entry): boolean {
  return a.score < b.score || (a.score === b.score && a.pair < b.pair);
}
