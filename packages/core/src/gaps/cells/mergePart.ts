import { findRoot, ownRoots } from '../../raster/unionFind.ts';
import type { Cut } from '../../model/Cut.ts';
import { CELL_FACTS, CLOSED, CUT_FACTS, OPEN, PAIR_FACTS, type Part } from './cellParts.ts';
import { STROKE_FEATURES } from '../proposals/strokeFeatures.ts';
import { OPENING_FEATURES, featuresOf, type OpeningFacts } from './rateOpening.ts';
import { RIVAL_FEATURES } from './rivalFeatures.ts';
import { WeakestFirst } from '../../raster/WeakestFirst.ts';

/** What openings are rated by, and the score from which on they bound regions. */
export interface Scoring {
  readonly rate: (features: Float64Array) => number;
  readonly boundsScore: number;
  /** All is rated once more by this, knowing the rivals. @default not */
  readonly again?: Scoring;
}

/** Is told the pairs of a decision, the features it was made on, and whether it joined. */
export type OnDecision = (pairs: readonly number[], features: Float64Array, joined: boolean) => void;

export interface MergedPart {
  /** For each cell the one its group is called by. */
  readonly group: Int32Array;
  readonly scoreOfPair: Float64Array;
}

/** Features of an opening's cuts, and of their rivals. */
const CUT_FEATURE_COUNT = STROKE_FEATURES.length + RIVAL_FEATURES.length;

/** The score of what parts nothing. */
export const NOTHING_PARTED = -9;

interface PairOpening {
  a: number;
  b: number;
  open: number;
  inked: number;
  /** Sums weighted by width. */
  texture: number;
  /** Where its features begin. */
  readonly strokeFeatures: number;
  held: boolean;
  version: number;
}

/** Joins the cells of one part. @param rivals a row of {@link RIVAL_FEATURES} for each cut. */
export function mergePart(
  part: Part,
  lineWidthPx: number,
  limitPx: number,
  rivals: Float64Array,
  scoring: Scoring,
  onDecision: OnDecision | undefined,
): MergedPart {
  return new PartMerge(part, lineWidthPx, limitPx, rivals, scoring, onDecision).merge();
}

/** The cells of one part while they are joined. */
class PartMerge {
  private readonly parent: Int32Array;
  private readonly area: Float64Array;
  private readonly radius: Float64Array;
  private readonly walls: Float64Array;
  /** Open width of each cell to all others. */
  private readonly openOf: Float64Array;
  /** For each cell the pair it forms with each neighbour. */
  private readonly ofCell: Map<number, number>[] = [];
  private readonly openings: (PairOpening | null)[] = [];
  /** A row for each pair: sums weighted by width. */
  private readonly strokeFeatures: Float64Array;
  /** Pairs that are open before anything is looked at. */
  private readonly forced: number[] = [];
  private readonly means = new Float64Array(CUT_FEATURE_COUNT);
  private readonly features = new Float64Array(OPENING_FEATURES.length);
  /** How often each cell, with its openings, has changed; an opening is rated anew only when one of its cells has. */
  private readonly changes: Int32Array;
  private readonly ratedAt: Int32Array;
  private readonly rated: Float64Array;
  private readonly heap = new WeakestFirst();
  /** Score at which each first pair was joined. */
  private readonly joinedAt: Float64Array;
  private readonly inPair: number[][] = [];
  /** The pair each first pair went into, step by step. */
  private readonly into: Int32Array;

  constructor(
    { cell, cuts, pair, ofCut, facts }: Part,
    private readonly lineWidthPx: number,
    private readonly limitPx: number,
    rivals: Float64Array,
    private readonly scoring: Scoring,
    private readonly onDecision: OnDecision | undefined,
  ) {
    const cells = cell.length;
    const pairs = pair.length;
    this.parent = ownRoots(cells);
    this.area = new Float64Array(cells);
    this.radius = new Float64Array(cells);
    this.walls = new Float64Array(cells);
    this.openOf = new Float64Array(cells);
    this.changes = new Int32Array(cells);
    for (let c = 0; c < cells; c++) {
      this.area[c] = facts[CELL_FACTS * c]!;
      this.radius[c] = facts[CELL_FACTS * c + 1]!;
      this.walls[c] = facts[CELL_FACTS * c + 2]!;
      this.ofCell.push(new Map());
    }
    this.strokeFeatures = new Float64Array(CUT_FEATURE_COUNT * pairs);
    this.ratedAt = new Int32Array(pairs).fill(-1);
    this.rated = new Float64Array(pairs);
    this.joinedAt = new Float64Array(pairs).fill(NaN);
    this.into = new Int32Array(pairs);
    for (let p = 0; p < pairs; p++) this.addPair(p, facts, CELL_FACTS * cells + PAIR_FACTS * p);
    const firstCut = CELL_FACTS * cells + PAIR_FACTS * pairs;
    for (let k = 0; k < cuts.length; k++) this.addCut(cuts[k]!, k, ofCut[k]!, rivals, facts, firstCut + CUT_FACTS * k);
    for (let p = 0; p < pairs; p++) {
      const { a, b, open } = this.openings[p]!;
      this.openOf[a] = this.openOf[a]! + open;
      this.openOf[b] = this.openOf[b]! + open;
    }
  }

  /** @param at where its facts begin. */
  private addPair(p: number, facts: Float64Array, at: number): void {
    const a = facts[at]!;
    const b = facts[at + 1]!;
    const inked = facts[at + 2]!;
    this.openings.push({
      a,
      b,
      open: 0,
      inked,
      texture: 0,
      strokeFeatures: CUT_FEATURE_COUNT * p,
      held: false,
      version: 0,
    });
    this.ofCell[a]!.set(b, p);
    this.ofCell[b]!.set(a, p);
    this.inPair.push([p]);
    this.into[p] = p;
  }

  /** @param at where its facts begin. */
  private addCut(cut: Cut, k: number, pair: number, rivals: Float64Array, facts: Float64Array, at: number): void {
    const opening = this.openings[pair]!;
    const ruling = facts[at + 1]!;
    opening.open += cut.widthPx;
    opening.texture += cut.widthPx * facts[at]!;
    addTo(this.strokeFeatures, opening.strokeFeatures, cut.strokeFeatures, 0, STROKE_FEATURES.length, cut.widthPx);
    addTo(
      this.strokeFeatures,
      opening.strokeFeatures + STROKE_FEATURES.length,
      rivals,
      RIVAL_FEATURES.length * k,
      RIVAL_FEATURES.length,
      cut.widthPx,
    );
    if (ruling === CLOSED || cut.kind === 'hand') opening.held = true;
    else if (ruling === OPEN || cut.widthPx > this.limitPx) this.forced.push(pair);
  }

  merge(): MergedPart {
    const { openings, scoring, onDecision } = this;
    // What is ruled open, or wider than the limit, is open before anything else is looked at.
    for (const p of this.forced) {
      let now = p;
      while (this.into[now] !== now) now = this.into[now]!;
      if (openings[now] !== null) this.join(now, NOTHING_PARTED);
    }
    for (let p = 0; p < openings.length; p++) if (openings[p] !== null) this.queue(p);
    for (;;) {
      this.joinWeakest();
      const sunk: number[] = [];
      for (let p = 0; p < openings.length; p++) {
        const opening = openings[p]!;
        if (opening !== null && !opening.held && this.score(p) < scoring.boundsScore) sunk.push(p);
      }
      if (sunk.length === 0) break;
      for (const p of sunk) this.queue(p);
    }
    const scoreOfPair = this.joinedAt.slice();
    for (let p = 0; p < openings.length; p++) {
      const opening = openings[p]!;
      if (opening === null) continue;
      onDecision?.(this.inPair[p]!, this.featuresAt(opening).slice(), false);
      for (const first of this.inPair[p]!) scoreOfPair[first] = this.score(p);
    }
    const group = new Int32Array(this.parent.length);
    for (let c = 0; c < group.length; c++) group[c] = findRoot(this.parent, c);
    return { group, scoreOfPair };
  }

  /** Joins what may be joined, the weakest first, until the weakest that is left bounds. */
  private joinWeakest(): void {
    const { heap, openings, scoring } = this;
    for (let next = heap.pop(); next !== undefined; next = heap.pop()) {
      const opening = openings[next.pair]!;
      if (opening === null || opening.version !== next.version) continue;
      // A cell that grew meanwhile changes its pairs' scores: they are looked at when their turn comes.
      const now = this.score(next.pair);
      if (now > next.score) {
        this.queue(next.pair);
        continue;
      }
      if (now >= scoring.boundsScore) break;
      this.onDecision?.(this.inPair[next.pair]!, this.featuresAt(opening).slice(), true);
      this.join(next.pair, now);
    }
  }

  private queue(p: number): void {
    const opening = this.openings[p]!;
    opening.version++;
    if (!opening.held) this.heap.push({ score: this.score(p), pair: p, version: opening.version });
  }

  private score(p: number): number {
    const opening = this.openings[p]!;
    const at = this.changes[opening.a]! + this.changes[opening.b]!;
    if (this.ratedAt[p] !== at) {
      this.ratedAt[p] = at;
      this.rated[p] = this.scoring.rate(this.featuresAt(opening));
    }
    return this.rated[p]!;
  }

  private featuresAt(opening: PairOpening): Float64Array {
    return featuresOf(this.factsOf(opening), this.lineWidthPx, this.limitPx, this.features);
  }

  private factsOf({ a, b, open, inked, texture, strokeFeatures }: PairOpening): OpeningFacts {
    const { area, means } = this;
    const aIsSmaller = area[a]! < area[b]! || (area[a] === area[b] && a < b);
    const smaller = aIsSmaller ? a : b;
    const other = aIsSmaller ? b : a;
    for (let k = 0; k < means.length; k++) means[k] = this.strokeFeatures[strokeFeatures + k]! / open;
    return {
      open,
      inked,
      texture: texture / open,
      strokeFeatures: means,
      areaPx: area[smaller]!,
      radiusPx: this.radius[smaller]!,
      allOpen: this.openOf[smaller]!,
      neighbours: this.ofCell[smaller]!.size,
      otherAreaPx: area[other]!,
      wallsPx: this.walls[smaller]!,
    };
  }

  private join(p: number, at: number): void {
    const { openings, ofCell, area, walls, openOf, radius, changes } = this;
    const opening = openings[p]!;
    // The one with fewer neighbours goes: the outside of a page may have thousands.
    const swap = ofCell[opening.a]!.size < ofCell[opening.b]!.size;
    const keep = swap ? opening.b : opening.a;
    const gone = swap ? opening.a : opening.b;
    for (const first of this.inPair[p]!) this.joinedAt[first] = at;
    openings[p] = null;
    ofCell[keep]!.delete(gone);
    ofCell[gone]!.delete(keep);
    this.parent[gone] = keep;
    // More than either has counted to: the sum over an opening's two cells only grows.
    changes[keep] = changes[keep]! + changes[gone]! + 1;
    area[keep] = area[keep]! + area[gone]!;
    walls[keep] = Math.max(0, walls[keep]! + walls[gone]! - 2 * opening.inked);
    openOf[keep] = openOf[keep]! + openOf[gone]! - 2 * opening.open;
    radius[keep] = Math.max(radius[keep]!, radius[gone]!);
    for (const [far, other] of ofCell[gone]!) this.move(other, far, keep, gone);
    ofCell[gone]!.clear();
  }

  /** Carries the pair of a cell that is gone and a third one over to the cell that it went into. */
  private move(pair: number, far: number, keep: number, gone: number): void {
    const { openings, ofCell, changes, inPair } = this;
    const moved = openings[pair]!;
    const twin = ofCell[keep]!.get(far);
    ofCell[far]!.delete(gone);
    changes[far] = changes[far]! + 1;
    if (twin === undefined) {
      moved.a = Math.min(keep, far);
      moved.b = Math.max(keep, far);
      ofCell[keep]!.set(far, pair);
      ofCell[far]!.set(keep, pair);
      this.queue(pair);
      return;
    }
    const held = openings[twin]!;
    held.open += moved.open;
    held.inked += moved.inked;
    held.texture += moved.texture;
    addTo(this.strokeFeatures, held.strokeFeatures, this.strokeFeatures, moved.strokeFeatures, CUT_FEATURE_COUNT, 1);
    held.held ||= moved.held;
    this.into[pair] = twin;
    for (const first of inPair[pair]!) inPair[twin]!.push(first);
    openings[pair] = null;
    this.queue(twin);
  }
}

/** Adds a multiple of `count` numbers from one place on to those from another on, in place. */
function addTo(
  sums: Float64Array,
  to: number,
  values: ArrayLike<number>,
  from: number,
  count: number,
  times: number,
): void {
  for (let k = 0; k < count; k++) sums[to + k] = sums[to + k]! + values[from + k]! * times;
}
