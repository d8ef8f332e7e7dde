import type { Cut } from '../../model/Cut.ts';
import { CELL_FACTS, CLOSED, CUT_FACTS, OPEN, PAIR_FACTS, type CellComponent } from './cellComponents.ts';
import { STROKE_FEATURES } from '../proposals/strokeFeatures.ts';
import { OPENING_FEATURES, featuresOf, type OpeningFacts } from './rateOpening.ts';
import { outlineFeaturesOf, rateOutline } from './rateOutline.ts';
import { RIVAL_FEATURES } from './rivalFeatures.ts';
import { Agglomeration } from '../../raster/Agglomeration.ts';

/** What openings are rated by, and the score from which on they bound regions. */
export interface Scoring {
  readonly rate: (features: Float64Array) => number;
  /** Weights of `OUTLINE_FEATURES` for open outlines. @default the fitted ones */
  readonly outlineWeights?: readonly number[];
  readonly boundsScore: number;
  /** All is rated once more by this, knowing the rivals. @default not */
  readonly again?: Scoring;
}

/** Is told the pairs of a decision, the features it was made on, whether it joined, and whether an open outline decided it. */
export type OnDecision = (
  pairs: readonly number[],
  features: Float64Array,
  joined: boolean,
  byOutline: boolean,
) => void;

export interface MergedComponent {
  /** For each cell the one its group is called by. */
  readonly group: Int32Array;
  readonly scoreOfPair: Float64Array;
}

/** Features of an opening's cuts, and of their rivals. */
const CUT_FEATURE_COUNT = STROKE_FEATURES.length + RIVAL_FEATURES.length;

/** The score of what components nothing. */
export const NOTHING_PARTED = -9;

/** Open outlines are decided when all else is: their scores are moved this close below the bound, the weakest first. */
const LAST = 1e-6;

interface PairOpening {
  /** Sum of the widths of its gaps, and of the chords of open outlines. */
  open: number;
  outline: number;
  inked: number;
  /** Sums weighted by width. */
  texture: number;
  /** Where its features begin. */
  readonly strokeFeatures: number;
  held: boolean;
}

/** Joins the cells of one component. @param rivals a row of {@link RIVAL_FEATURES} for each cut. */
export function mergeComponent(
  component: CellComponent,
  lineWidthPx: number,
  limitPx: number,
  rivals: Float64Array,
  scoring: Scoring,
  onDecision: OnDecision | undefined,
): MergedComponent {
  return new ComponentMerge(component, lineWidthPx, limitPx, rivals, scoring, onDecision).merge();
}

/** The cells of one component while they are joined. */
class ComponentMerge {
  private readonly graph: Agglomeration;
  private readonly area: Float64Array;
  private readonly radius: Float64Array;
  private readonly walls: Float64Array;
  /** Open width of each cell to all others. */
  private readonly openOf: Float64Array;
  private readonly openings: PairOpening[] = [];
  /** A row for each pair: sums weighted by width. */
  private readonly strokeFeatures: Float64Array;
  private readonly outlineFeatures: Float64Array;
  /** Pairs that are open before anything is looked at. */
  private readonly forced: number[] = [];
  private readonly means = new Float64Array(CUT_FEATURE_COUNT);
  private readonly features = new Float64Array(OPENING_FEATURES.length);
  /** Score at which each first pair was joined. */
  private readonly joinedAt: Float64Array;
  private readonly inPair: number[][] = [];
  /** The pair each first pair went into, step by step. */
  private readonly into: Int32Array;

  constructor(
    { cell, cuts, pair, ofCut, facts }: CellComponent,
    private readonly lineWidthPx: number,
    private readonly limitPx: number,
    rivals: Float64Array,
    private readonly scoring: Scoring,
    private readonly onDecision: OnDecision | undefined,
  ) {
    const cells = cell.length;
    const pairs = pair.length;
    this.area = new Float64Array(cells);
    this.radius = new Float64Array(cells);
    this.walls = new Float64Array(cells);
    this.openOf = new Float64Array(cells);
    for (let c = 0; c < cells; c++) {
      this.area[c] = facts[CELL_FACTS * c]!;
      this.radius[c] = facts[CELL_FACTS * c + 1]!;
      this.walls[c] = facts[CELL_FACTS * c + 2]!;
    }
    this.strokeFeatures = new Float64Array(CUT_FEATURE_COUNT * pairs);
    this.outlineFeatures = new Float64Array(CUT_FEATURE_COUNT * pairs);
    this.joinedAt = new Float64Array(pairs).fill(NaN);
    this.into = new Int32Array(pairs);
    const ends = [new Int32Array(pairs), new Int32Array(pairs)] as const;
    for (let p = 0; p < pairs; p++) {
      const at = CELL_FACTS * cells + PAIR_FACTS * p;
      ends[0][p] = facts[at]!;
      ends[1][p] = facts[at + 1]!;
      this.addPair(p, facts[at + 2]!);
    }
    this.graph = new Agglomeration(cells, ...ends, {
      cost: (p) => this.costOf(p),
      mayJoin: (p) => !this.openings[p]!.held,
      isWorth: (score) => score < scoring.boundsScore,
      onDecision: (p) => this.decide(p),
      joinNodes: (stays, goes, p) => this.joinCells(stays, goes, p),
      joinEdges: (stays, goes) => this.joinOpenings(stays, goes),
    });
    const firstCut = CELL_FACTS * cells + PAIR_FACTS * pairs;
    for (let k = 0; k < cuts.length; k++) this.addCut(cuts[k]!, k, ofCut[k]!, rivals, facts, firstCut + CUT_FACTS * k);
    for (let p = 0; p < pairs; p++) {
      const { open } = this.openings[p]!;
      for (const of of ends) this.openOf[of[p]!] = this.openOf[of[p]!]! + open;
    }
  }

  private addPair(p: number, inked: number): void {
    const strokeFeatures = CUT_FEATURE_COUNT * p;
    this.openings.push({ open: 0, outline: 0, inked, texture: 0, strokeFeatures, held: false });
    this.inPair.push([p]);
    this.into[p] = p;
  }

  /** @param at where its facts begin. */
  private addCut(cut: Cut, k: number, pair: number, rivals: Float64Array, facts: Float64Array, at: number): void {
    const opening = this.openings[pair]!;
    const ruling = facts[at + 1]!;
    const isOutline = cut.kind === 'outline';
    if (isOutline) opening.outline += cut.widthPx;
    else {
      opening.open += cut.widthPx;
      opening.texture += cut.widthPx * facts[at]!;
    }
    const sums = isOutline ? this.outlineFeatures : this.strokeFeatures;
    addTo(sums, opening.strokeFeatures, cut.strokeFeatures, 0, STROKE_FEATURES.length, cut.widthPx);
    addTo(
      sums,
      opening.strokeFeatures + STROKE_FEATURES.length,
      rivals,
      RIVAL_FEATURES.length * k,
      RIVAL_FEATURES.length,
      cut.widthPx,
    );
    if (ruling === CLOSED || cut.kind === 'hand') opening.held = true;
    else if (ruling === OPEN || isBeyond(cut, this.limitPx)) this.forced.push(pair);
  }

  merge(): MergedComponent {
    const { graph } = this;
    // What is ruled open, or wider than the limit, is open before anything else is looked at.
    for (const p of this.forced) {
      let now = p;
      while (this.into[now] !== now) now = this.into[now]!;
      if (graph.isGone(now)) continue;
      this.noteJoin(now, NOTHING_PARTED);
      graph.join(now);
    }
    graph.joinAll();
    const scoreOfPair = this.joinedAt.slice();
    for (let p = 0; p < this.openings.length; p++) {
      if (graph.isGone(p)) continue;
      this.tell(p, false);
      for (const first of this.inPair[p]!) scoreOfPair[first] = this.scoreOf(p);
    }
    const group = new Int32Array(this.area.length);
    for (let c = 0; c < group.length; c++) group[c] = graph.rootOf(c);
    return { group, scoreOfPair };
  }

  /** The opening with the lowest score is joined. */
  private decide(p: number): void {
    this.noteJoin(p, this.scoreOf(p));
    this.tell(p, true);
  }

  private tell(p: number, joined: boolean): void {
    if (this.onDecision === undefined) return;
    const byOutline = this.openings[p]!.outline > 0 && this.gapScore(p) > this.outlineScore(p);
    const features = byOutline ? this.outlineFeaturesAt(p) : this.featuresAt(p).slice();
    this.onDecision(this.inPair[p]!, features, joined, byOutline);
  }

  /** An opening is as closed as the weakest of its gaps and open outlines. */
  private scoreOf(p: number): number {
    return this.openings[p]!.outline === 0 ? this.graph.costOf(p) : Math.min(this.gapScore(p), this.outlineScore(p));
  }

  private costOf(p: number): number {
    const { boundsScore } = this.scoring;
    const gap = this.gapScore(p);
    if (this.openings[p]!.outline === 0) return gap;
    const outline = this.outlineScore(p);
    return gap < boundsScore || outline >= boundsScore
      ? Math.min(gap, outline)
      : boundsScore - LAST * (1 + boundsScore - outline);
  }

  /** Infinity without gaps. */
  private gapScore(p: number): number {
    return this.openings[p]!.open === 0 ? Infinity : this.scoring.rate(this.featuresAt(p));
  }

  /** Infinity without open outlines. */
  private outlineScore(p: number): number {
    if (this.openings[p]!.outline === 0) return Infinity;
    return rateOutline(this.outlineFeaturesAt(p), this.scoring.boundsScore, this.scoring.outlineWeights);
  }

  private outlineFeaturesAt(p: number): Float64Array {
    const { outline } = this.openings[p]!;
    return outlineFeaturesOf(this.factsOf(p, this.outlineFeatures, outline), this.lineWidthPx);
  }

  private noteJoin(p: number, score: number): void {
    for (const first of this.inPair[p]!) this.joinedAt[first] = score;
  }

  private featuresAt(p: number): Float64Array {
    return featuresOf(
      this.factsOf(p, this.strokeFeatures, this.openings[p]!.open),
      this.lineWidthPx,
      this.limitPx,
      this.features,
    );
  }

  /** @param sums features of the cuts meant. @param open sum of their widths. */
  private factsOf(p: number, sums: Float64Array, open: number): OpeningFacts {
    const { area, means, graph } = this;
    const { inked, texture, strokeFeatures } = this.openings[p]!;
    const a = graph.a[p]!;
    const b = graph.b[p]!;
    const aIsSmaller = area[a]! < area[b]! || (area[a] === area[b] && a < b);
    const smaller = aIsSmaller ? a : b;
    const other = aIsSmaller ? b : a;
    for (let k = 0; k < means.length; k++) means[k] = sums[strokeFeatures + k]! / open;
    return {
      open,
      inked,
      texture: texture / open,
      strokeFeatures: means,
      areaPx: area[smaller]!,
      radiusPx: this.radius[smaller]!,
      allOpen: this.openOf[smaller]!,
      neighbours: graph.edgesOf(smaller).size,
      otherAreaPx: area[other]!,
      wallsPx: this.walls[smaller]!,
    };
  }

  private joinCells(stays: number, goes: number, p: number): void {
    const { area, walls, openOf, radius } = this;
    const { inked, open } = this.openings[p]!;
    area[stays] = area[stays]! + area[goes]!;
    walls[stays] = Math.max(0, walls[stays]! + walls[goes]! - 2 * inked);
    openOf[stays] = openOf[stays]! + openOf[goes]! - 2 * open;
    radius[stays] = Math.max(radius[stays]!, radius[goes]!);
  }

  private joinOpenings(stays: number, goes: number): void {
    const held = this.openings[stays]!;
    const moved = this.openings[goes]!;
    held.open += moved.open;
    held.outline += moved.outline;
    held.inked += moved.inked;
    held.texture += moved.texture;
    for (const sums of [this.strokeFeatures, this.outlineFeatures])
      addTo(sums, held.strokeFeatures, sums, moved.strokeFeatures, CUT_FEATURE_COUNT, 1);
    held.held ||= moved.held;
    this.into[goes] = stays;
    for (const first of this.inPair[goes]!) this.inPair[stays]!.push(first);
  }
}

/** Whether a cut is wider than anybody closes: open outlines never are, unless no gaps are closed at all. */
export function isBeyond({ kind, widthPx }: Pick<Cut, 'kind' | 'widthPx'>, limitPx: number): boolean {
  return kind === 'outline' ? limitPx === 0 : widthPx > limitPx;
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
