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
import { Agglomeration } from '../../raster/Agglomeration.ts';

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

/** The border of two groups as it was first. */
interface Pair extends Changing<CommonBorder> {
  readonly a: number;
  readonly b: number;
}

type OnDecision = (a: number, b: number, features: Float64Array, joined: boolean) => void;

/**
 * Spaces between strokes of hatching are nobody's regions: groups with ink of hatching between them that
 * bounds nothing are joined, the surest first.
 *
 * @param first pixel of each cell in reading order.
 * @param groupOfCell group of each cell, one of its cells; changed in place.
 * @param keep 1 for cells that were parted by hand: spaces among them stay.
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
  const spaces = new SpaceJoiner(groups, pairsThatMayJoin(groups, pairs), lineWidthPx, scoring, onDecision);
  for (let k = 0; k < closed.closedPx.length; k++) {
    const px = closed.closedPx[k]!;
    if (px > 0) spaces.addClosed(groupOfCell[closed.a[k]!]!, groupOfCell[closed.b[k]!]!, px);
  }
  spaces.joinAll();
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
  for (const pair of pairs) if (mayJoin(groups, pair.a, pair.b, pair)) joinRoots(parent, pair.a, pair.b);
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
  for (const group of groups) {
    if (group === undefined) continue;
    group.isThin = group.radiusPx <= THIN_WIDTHS * lineWidthPx;
    // What is no space between strokes takes others in, and is taken in by none.
    group.isKept &&= group.isThin;
  }
  return groups;
}

function addCell(group: Group, areaPx: number, radiusPx: number, first: number): void {
  group.areaPx += areaPx;
  group.radiusPx = Math.max(group.radiusPx, radiusPx);
  group.first = Math.min(group.first, first);
}

/** Whether ink between two groups may bound nothing. */
function mayJoin(
  groups: readonly (Group | undefined)[],
  a: number,
  b: number,
  { px, thinPx, texturePx }: CommonBorder,
): boolean {
  if (thinPx + texturePx < LEAST_SHARE * px) return false;
  const one = groups[a]!;
  const two = groups[b]!;
  return !one.isKept && !two.isKept && (one.isThin || two.isThin);
}

/** Joins groups of cells across ink that bounds nothing, the surest first. */
class SpaceJoiner {
  private readonly graph: Agglomeration;
  private readonly features = new Float64Array(TEXTURE_FEATURES.length);

  constructor(
    private readonly groups: readonly (Group | undefined)[],
    private readonly pairs: readonly Pair[],
    private readonly lineWidthPx: number,
    scoring: TextureScoring,
    private readonly onDecision: OnDecision | undefined,
  ) {
    const a = Int32Array.from(pairs, (pair) => pair.a);
    const b = Int32Array.from(pairs, (pair) => pair.b);
    this.graph = new Agglomeration(groups.length, a, b, {
      cost: (p) => -scoring.rate(this.featuresOf(p)),
      mayJoin: (p) => this.mayJoin(p),
      isWorth: (cost) => -cost >= scoring.joinsFrom,
      onDecision: onDecision === undefined ? undefined : (p) => this.tell(onDecision, p, true),
      joinNodes: (stays, goes, p) => addGroup(groups[stays]!, groups[goes]!, pairs[p]!),
      joinEdges: (stays, goes) => addBorder(pairs[stays]!, pairs[goes]!),
    });
  }

  addClosed(a: number, b: number, px: number): void {
    const p = this.graph.edgeBetween(a, b);
    if (p !== undefined) this.pairs[p]!.openPx += px;
  }

  joinAll(): void {
    this.graph.joinAll();
    const { onDecision } = this;
    if (onDecision === undefined) return;
    for (let p = 0; p < this.pairs.length; p++)
      if (!this.graph.isGone(p) && this.mayJoin(p)) this.tell(onDecision, p, false);
  }

  /** @param groupOfCell each cell's group is replaced by what that went into. */
  writeRoots(groupOfCell: Int32Array): void {
    for (let c = 0; c < groupOfCell.length; c++) groupOfCell[c] = this.graph.rootOf(groupOfCell[c]!);
  }

  private mayJoin(p: number): boolean {
    return mayJoin(this.groups, this.graph.a[p]!, this.graph.b[p]!, this.pairs[p]!);
  }

  private tell(onDecision: OnDecision, p: number, joined: boolean): void {
    onDecision(this.graph.a[p]!, this.graph.b[p]!, this.featuresOf(p).slice(), joined);
  }

  private featuresOf(p: number): Float64Array {
    const a = this.graph.a[p]!;
    const b = this.graph.b[p]!;
    const one = this.groups[a]!;
    const two = this.groups[b]!;
    const swap = two.areaPx < one.areaPx || (two.areaPx === one.areaPx && two.first < one.first);
    const [smaller, larger] = swap ? [b, a] : [a, b];
    return textureTerms(this.factsOf(smaller), this.factsOf(larger), this.pairs[p]!, this.lineWidthPx, this.features);
  }

  private factsOf(g: number): SpaceFacts {
    const group = this.groups[g]!;
    const edges = this.graph.edgesOf(g);
    group.mostPx = 0;
    for (const p of edges.values())
      group.mostPx = Math.max(group.mostPx, this.pairs[p]!.texturePx + this.pairs[p]!.thinPx);
    group.neighbours = edges.size;
    return group;
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
