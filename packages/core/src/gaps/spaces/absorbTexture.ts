import type { CellFacts, CellPairs, TextureBorders } from '../../model/CellGraph.ts';
import { findRoot, joinRoots, ownRoots } from '../../raster/unionFind.ts';
import type { Cut } from '../../model/Cut.ts';
import {
  type CommonBorder,
  OWN_TEXTURE_SCORING,
  type SpaceFacts,
  TEXTURE_FEATURES,
  type TextureScoring,
  textureTerms,
} from './rateTexture.ts';
import { PairNumbers } from '../../raster/PairNumbers.ts';
import { WeakestFirst } from '../../raster/WeakestFirst.ts';

/** Pairs of cells with the width of all closures between them that bound regions. */
export interface ClosedPairs extends Pick<CellPairs, 'a' | 'b'> {
  readonly closedPx: Float64Array;
}

export function closedPairs({ count, a, b, ofCut }: CellPairs, cuts: readonly Cut[], bounds: Uint8Array): ClosedPairs {
  const closedPx = new Float64Array(count);
  for (let k = 0; k < cuts.length; k++) {
    const pair = ofCut[k]!;
    if (bounds[k] === 1) closedPx[pair] = closedPx[pair]! + cuts[k]!.widthPx;
  }
  return { a, b, closedPx };
}

/** Spaces between strokes are narrower than so many line widths to either side of their middle. */
const THIN_WIDTHS = 9;
/** Crossing strokes leave a mesh: cells this narrow and small, in line widths, with thin ink between them. */
const TINY_WIDTHS = 1.1;
const TINY_AREA = 14;
const LEAST_MESH_SHARE = 0.5;
/** Ink that is thinner than lines are, or of hatching, for so much of a border may bound nothing. */
const LEAST_SHARE = 0.3;

/** Cells thin enough to be spaces between the strokes of hatching. */
export function thinCells({ count, radiusPx }: Pick<CellFacts, 'count' | 'radiusPx'>, lineWidthPx: number): Uint8Array {
  const thin = new Uint8Array(count);
  for (let c = 0; c < count; c++) if (radiusPx[c]! <= THIN_WIDTHS * lineWidthPx) thin[c] = 1;
  return thin;
}

type Changing<T> = { -readonly [key in keyof T]: T[key] };

/** What is known of a group of cells, while groups are joined. */
interface Group extends Changing<SpaceFacts> {
  first: number;
  isThin: boolean;
  /** Parted by hand. */
  isKept: boolean;
}

function emptyGroup(): Group {
  return {
    areaPx: 0,
    radiusPx: 0,
    borderPx: 0,
    texturePx: 0,
    thinPx: 0,
    widths: 0,
    rows: 0,
    neighbours: 0,
    mesh: 0,
    innerPx: 0,
    mostPx: 0,
    first: Infinity,
    isThin: false,
    isKept: false,
  };
}

interface Pair extends Changing<CommonBorder> {
  a: number;
  b: number;
  version: number;
  gone: boolean;
}

type OnDecision = (a: number, b: number, features: Float64Array, joined: boolean) => void;

/**
 * Spaces between strokes of hatching are nobody's regions: groups with ink of hatching between them that
 * bounds nothing are joined, the surest first.
 *
 * @param first pixel of each cell in reading order.
 * @param groupOfCell group of each cell, one of its cells; changed in place.
 * @param keep 1 for cells that were parted by hand: they stay.
 * @param onDecision is told a cell of either group at each decision, the features it was made on, and whether it
 * joined them; for fitting.
 * @param scoring another one; for fitting.
 */
export function absorbTexture(
  facts: Omit<CellFacts, 'wallsPx'>,
  borders: TextureBorders,
  closed: ClosedPairs,
  first: Int32Array,
  groupOfCell: Int32Array,
  keep: Uint8Array,
  lineWidthPx: number,
  onDecision?: OnDecision,
  scoring: TextureScoring = OWN_TEXTURE_SCORING,
): void {
  if (borders.count === 0) return;
  const groups = groupsOf(facts, first, groupOfCell, keep, lineWidthPx);
  const pairs = pairsOf(borders, groupOfCell, groups);
  for (const pair of pairs) {
    countBorder(groups[pair.a]!, pair);
    countBorder(groups[pair.b]!, pair);
  }
  measureMesh(groups, pairs, lineWidthPx);
  const spaces = new Spaces(groups, pairsThatMayJoin(groups, pairs), lineWidthPx, scoring);
  for (let k = 0; k < closed.closedPx.length; k++) {
    const px = closed.closedPx[k]!;
    if (px > 0) spaces.addClosed(groupOfCell[closed.a[k]!]!, groupOfCell[closed.b[k]!]!, px);
  }
  spaces.joinAll(onDecision);
  spaces.writeRoots(groupOfCell);
}

function countBorder(group: Group, { px, texturePx, thinPx, widths, rows }: Pair): void {
  group.borderPx += px;
  group.texturePx += texturePx;
  group.thinPx += thinPx;
  group.widths += widths;
  group.rows += rows;
}

/** Only groups that hang together by what may be hatching can ever become one. */
function pairsThatMayJoin(groups: readonly (Group | undefined)[], pairs: readonly Pair[]): Pair[] {
  const parent = ownRoots(groups.length);
  for (const pair of pairs) if (mayJoin(groups, pair)) joinRoots(parent, pair.a, pair.b);
  const near: Pair[] = [];
  for (const pair of pairs) if (findRoot(parent, pair.a) === findRoot(parent, pair.b)) near.push(pair);
  return near;
}

function groupsOf(
  facts: Omit<CellFacts, 'wallsPx'>,
  first: Int32Array,
  groupOfCell: Int32Array,
  keep: Uint8Array,
  lineWidthPx: number,
): (Group | undefined)[] {
  const groups: (Group | undefined)[] = new Array<undefined>(facts.count).fill(undefined);
  for (let c = 0; c < facts.count; c++) {
    const group = (groups[groupOfCell[c]!] ??= emptyGroup());
    addCell(group, facts.areaPx[c]!, facts.radiusPx[c]!, first[c]!);
    group.isKept ||= keep[c] === 1;
  }
  for (const group of groups) if (group !== undefined) group.isThin = group.radiusPx <= THIN_WIDTHS * lineWidthPx;
  return groups;
}

function addCell(group: Group, areaPx: number, radiusPx: number, first: number): void {
  group.areaPx += areaPx;
  group.radiusPx = Math.max(group.radiusPx, radiusPx);
  group.first = Math.min(group.first, first);
}

/** Whether ink between two groups may bound nothing. */
function mayJoin(groups: readonly (Group | undefined)[], { a, b, px, thinPx, texturePx, gone }: Pair): boolean {
  if (gone || thinPx + texturePx < LEAST_SHARE * px) return false;
  const one = groups[a]!;
  const two = groups[b]!;
  return !one.isKept && !two.isKept && (one.isThin || two.isThin);
}

/** Groups while they are joined, pair by pair. */
class Spaces {
  private readonly parent: Int32Array;
  /** For each group the pair it forms with each neighbour. */
  private readonly ofGroup: Map<number, number>[] = [];
  /** How many joins each group has been through or seen beside it: its pairs are rated again only then. */
  private readonly changes: Int32Array;
  private readonly ratedAt: Int32Array;
  private readonly rated: Float64Array;
  private readonly heap = new WeakestFirst();
  private readonly features = new Float64Array(TEXTURE_FEATURES.length);

  constructor(
    private readonly groups: readonly (Group | undefined)[],
    private readonly pairs: readonly Pair[],
    private readonly lineWidthPx: number,
    private readonly scoring: TextureScoring,
  ) {
    this.parent = ownRoots(groups.length);
    this.changes = new Int32Array(groups.length);
    this.ratedAt = new Int32Array(pairs.length).fill(-1);
    this.rated = new Float64Array(pairs.length);
    for (let p = 0; p < pairs.length; p++) this.setPair(pairs[p]!.a, pairs[p]!.b, p);
  }

  addClosed(a: number, b: number, px: number): void {
    const p = this.ofGroup[a]?.get(b);
    if (p !== undefined) this.pairs[p]!.openPx += px;
  }

  private setPair(a: number, b: number, p: number): void {
    (this.ofGroup[a] ??= new Map()).set(b, p);
    (this.ofGroup[b] ??= new Map()).set(a, p);
  }

  /** @param groupOfCell each cell's group is replaced by what that went into. */
  writeRoots(groupOfCell: Int32Array): void {
    for (let c = 0; c < groupOfCell.length; c++) groupOfCell[c] = findRoot(this.parent, groupOfCell[c]!);
  }

  joinAll(onDecision: OnDecision | undefined): void {
    const { pairs } = this;
    for (let p = 0; p < pairs.length; p++) this.queue(p);
    do this.joinSurest(onDecision);
    while (this.queueRisen());
    if (onDecision === undefined) return;
    for (const pair of pairs) {
      if (mayJoin(this.groups, pair)) onDecision(pair.a, pair.b, this.featuresOf(pair).slice(), false);
    }
  }

  /** Joins what may be joined, the surest first, until the surest that is left is not sure enough. */
  private joinSurest(onDecision: OnDecision | undefined): void {
    const { pairs, heap, scoring } = this;
    for (let next = heap.pop(); next !== undefined; next = heap.pop()) {
      const pair = pairs[next.pair]!;
      if (pair.gone || pair.version !== next.version) continue;
      // A group that grew meanwhile changes its pairs' scores: they are looked at when their turn comes.
      const now = this.score(next.pair);
      if (now < -next.score) {
        this.queue(next.pair);
        continue;
      }
      if (now < scoring.joinsFrom) break;
      onDecision?.(pair.a, pair.b, this.featuresOf(pair).slice(), true);
      this.join(pair);
    }
  }

  /** Queues the pairs that have become sure enough meanwhile. @returns whether there are any. */
  private queueRisen(): boolean {
    const risen: number[] = [];
    for (let p = 0; p < this.pairs.length; p++) {
      if (mayJoin(this.groups, this.pairs[p]!) && this.score(p) >= this.scoring.joinsFrom) risen.push(p);
    }
    for (const p of risen) this.queue(p);
    return risen.length > 0;
  }

  private queue(p: number): void {
    const pair = this.pairs[p]!;
    pair.version++;
    if (mayJoin(this.groups, pair)) this.heap.push({ score: -this.score(p), pair: p, version: pair.version });
  }

  private score(p: number): number {
    const pair = this.pairs[p]!;
    const at = this.changes[pair.a]! + this.changes[pair.b]!;
    if (this.ratedAt[p] !== at) {
      this.ratedAt[p] = at;
      this.rated[p] = this.scoring.rate(this.featuresOf(pair));
    }
    return this.rated[p]!;
  }

  private featuresOf(pair: Pair): Float64Array {
    const { a, b } = pair;
    const one = this.groups[a]!;
    const two = this.groups[b]!;
    const swap = two.areaPx < one.areaPx || (two.areaPx === one.areaPx && two.first < one.first);
    return textureTerms(this.factsOf(swap ? b : a), this.factsOf(swap ? a : b), pair, this.lineWidthPx, this.features);
  }

  private factsOf(g: number): SpaceFacts {
    const group = this.groups[g]!;
    group.mostPx = 0;
    for (const p of this.ofGroup[g]!.values())
      group.mostPx = Math.max(group.mostPx, this.pairs[p]!.texturePx + this.pairs[p]!.thinPx);
    group.neighbours = this.ofGroup[g]!.size;
    return group;
  }

  private join(pair: Pair): void {
    const { groups, ofGroup, changes } = this;
    const swap = ofGroup[pair.a]!.size < ofGroup[pair.b]!.size;
    const stays = swap ? pair.b : pair.a;
    const goes = swap ? pair.a : pair.b;
    pair.gone = true;
    this.parent[goes] = stays;
    ofGroup[stays]!.delete(goes);
    ofGroup[goes]!.delete(stays);
    addGroup(groups[stays]!, groups[goes]!, pair);
    // More than either has counted to: the sum over a pair's two groups only grows.
    changes[stays] = changes[stays]! + changes[goes]! + 1;
    for (const [far, other] of ofGroup[goes]!) this.move(other, far, stays, goes);
    ofGroup[goes]!.clear();
  }

  /** Carries the pair of a group that is gone and a third one over to the group that it went into. */
  private move(p: number, far: number, stays: number, goes: number): void {
    const { pairs, ofGroup, changes } = this;
    const moved = pairs[p]!;
    const twin = ofGroup[stays]!.get(far);
    ofGroup[far]!.delete(goes);
    changes[far] = changes[far]! + 1;
    if (twin === undefined) {
      moved.a = stays;
      moved.b = far;
      this.setPair(stays, far, p);
      this.queue(p);
    } else {
      addBorder(pairs[twin]!, moved);
      moved.gone = true;
      this.queue(twin);
    }
  }
}

/** What was between two groups is within them once they are one. */
function addGroup(stays: Group, goes: Group, between: CommonBorder): void {
  stays.areaPx += goes.areaPx;
  stays.radiusPx = Math.max(stays.radiusPx, goes.radiusPx);
  stays.mesh = Math.max(stays.mesh, goes.mesh);
  stays.borderPx += goes.borderPx - 2 * between.px;
  stays.texturePx += goes.texturePx - 2 * between.texturePx;
  stays.thinPx += goes.thinPx - 2 * between.thinPx;
  stays.widths += goes.widths - 2 * between.widths;
  stays.rows += goes.rows - 2 * between.rows;
  stays.innerPx += goes.innerPx + between.texturePx + between.thinPx;
  stays.isThin &&= goes.isThin;
  stays.first = Math.min(stays.first, goes.first);
}

function addBorder(to: Pair, border: CommonBorder): void {
  to.px += border.px;
  to.thinPx += border.thinPx;
  to.texturePx += border.texturePx;
  to.widths += border.widths;
  to.squares += border.squares;
  to.rows += border.rows;
  to.openPx += border.openPx;
  to.narrowest = Math.min(to.narrowest, border.narrowest);
}

/** The borders of groups, in the order of their first pixels: cells may be numbered otherwise. */
function pairsOf(borders: TextureBorders, groupOfCell: Int32Array, groups: readonly (Group | undefined)[]): Pair[] {
  const numbers = new PairNumbers();
  const pairs: Pair[] = [];
  for (let p = 0; p < borders.count; p++) {
    const one = groupOfCell[borders.a[p]!]!;
    const two = groupOfCell[borders.b[p]!]!;
    if (one === two) {
      groups[one]!.innerPx += borders.texturePx[p]! + borders.thinPx[p]!;
      continue;
    }
    const isFirst = groups[one]!.first < groups[two]!.first;
    const a = isFirst ? one : two;
    const b = isFirst ? two : one;
    const number = numbers.numberOf(a, b);
    if (number === pairs.length) pairs.push(emptyPair(a, b));
    addColumns(pairs[number]!, borders, p);
  }
  const low = new Float64Array(pairs.length);
  const high = new Float64Array(pairs.length);
  const order = new Int32Array(pairs.length);
  for (let p = 0; p < pairs.length; p++) {
    low[p] = groups[pairs[p]!.a]!.first;
    high[p] = groups[pairs[p]!.b]!.first;
    order[p] = p;
  }
  order.sort((one, two) => low[one]! - low[two]! || high[one]! - high[two]!);
  const sorted: Pair[] = [];
  for (let p = 0; p < order.length; p++) sorted.push(pairs[order[p]!]!);
  return sorted;
}

function addColumns(pair: Pair, borders: TextureBorders, p: number): void {
  pair.px += borders.px[p]!;
  pair.thinPx += borders.thinPx[p]!;
  pair.texturePx += borders.texturePx[p]!;
  pair.widths += borders.widths[p]!;
  pair.squares += borders.squares[p]!;
  pair.rows += borders.rows[p]!;
  pair.narrowest = Math.min(pair.narrowest, borders.narrowest[p]!);
}

function emptyPair(a: number, b: number): Pair {
  return {
    a,
    b,
    px: 0,
    thinPx: 0,
    texturePx: 0,
    widths: 0,
    squares: 0,
    narrowest: Infinity,
    rows: 0,
    openPx: 0,
    version: 0,
    gone: false,
  };
}

/** Counts tiny groups that hang together across thin ink. */
function measureMesh(groups: readonly (Group | undefined)[], pairs: readonly Pair[], lineWidthPx: number): void {
  const parent = ownRoots(groups.length);
  for (const { a, b, px, thinPx, texturePx } of pairs) {
    if (thinPx + texturePx < LEAST_MESH_SHARE * px) continue;
    if (isTiny(groups[a], lineWidthPx) && isTiny(groups[b], lineWidthPx)) joinRoots(parent, a, b);
  }
  const size = new Int32Array(groups.length);
  for (let g = 0; g < groups.length; g++) {
    if (!isTiny(groups[g], lineWidthPx)) continue;
    const root = findRoot(parent, g);
    size[root] = size[root]! + 1;
  }
  for (let g = 0; g < groups.length; g++) {
    if (isTiny(groups[g], lineWidthPx)) groups[g]!.mesh = size[findRoot(parent, g)]!;
  }
}

function isTiny(group: Group | undefined, lineWidthPx: number): boolean {
  return (
    group !== undefined &&
    group.radiusPx <= TINY_WIDTHS * lineWidthPx &&
    group.areaPx <= TINY_AREA * lineWidthPx * lineWidthPx
  );
}
