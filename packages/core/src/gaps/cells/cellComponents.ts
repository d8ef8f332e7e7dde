import { findRoot, joinRoots, ownRoots } from '../../raster/unionFind.ts';
import type { Cut } from '../../model/Cut.ts';
import type { CellFacts, CellPairs } from '../../model/CellGraph.ts';
import type { Rulings } from '../../model/Ruling.ts';

/** Cells that hang together by openings, with numbers of their own from 0 on, and what they are called on the page. */
export interface CellComponent {
  readonly cell: readonly number[];
  readonly pair: readonly number[];
  readonly cut: readonly number[];
  readonly cuts: readonly Cut[];
  readonly ofCut: readonly number[];
  /** Of each cell area, radius and walls, of each pair its cells and inked border, of each cut texture and ruling. */
  readonly facts: Float64Array;
}

/** Whether nothing has changed that merging depends on. */
export function isSameComponent(one: CellComponent, two: CellComponent): boolean {
  if (one.facts.length !== two.facts.length || one.cuts.length !== two.cuts.length) return false;
  for (let k = 0; k < one.cuts.length; k++) {
    if (one.cuts[k] !== two.cuts[k] || one.ofCut[k] !== two.ofCut[k]) return false;
  }
  for (let k = 0; k < one.facts.length; k++) if (one.facts[k] !== two.facts[k]) return false;
  return true;
}

/** So many numbers in {@link CellComponent.facts} for each cell, pair and cut. */
export const CELL_FACTS = 3;
export const PAIR_FACTS = 3;
export const CUT_FACTS = 2;
/** Rulings as numbers. */
export const [UNRULED, CLOSED, OPEN] = [0, 1, 2];

/** The cells that have openings, component by component. */
export function componentsOf(
  cells: CellFacts,
  pairs: CellPairs,
  cuts: readonly Cut[],
  texture: Float64Array,
  rulings: Rulings,
): CellComponent[] {
  const parent = ownRoots(cells.count);
  for (let p = 0; p < pairs.count; p++) joinRoots(parent, pairs.a[p]!, pairs.b[p]!);
  const members = new Map<number, Members>();
  for (let p = 0; p < pairs.count; p++) {
    const root = findRoot(parent, pairs.a[p]!);
    let component = members.get(root);
    if (component === undefined) members.set(root, (component = { cell: [], pair: [], cut: [] }));
    component.pair.push(p);
  }
  for (let c = 0; c < cells.count; c++) members.get(findRoot(parent, c))?.cell.push(c);
  for (let k = 0; k < cuts.length; k++) {
    const pair = pairs.ofCut[k]!;
    if (pair >= 0) members.get(findRoot(parent, pairs.a[pair]!))!.cut.push(k);
  }
  const local = new Int32Array(Math.max(cells.count, pairs.count));
  const components: CellComponent[] = [];
  for (const own of members.values()) components.push(partOf(own, cells, pairs, cuts, texture, rulings, local));
  return components;
}

interface Members {
  readonly cell: number[];
  readonly pair: number[];
  readonly cut: number[];
}

/** @param local scratch: a number for each cell, or pair, of the page. */
function partOf(
  { cell, pair, cut }: Members,
  cells: CellFacts,
  pairs: CellPairs,
  cuts: readonly Cut[],
  texture: Float64Array,
  rulings: Rulings,
  local: Int32Array,
): CellComponent {
  const facts = new Float64Array(CELL_FACTS * cell.length + PAIR_FACTS * pair.length + CUT_FACTS * cut.length);
  let at = 0;
  for (let k = 0; k < cell.length; k++) {
    const c = cell[k]!;
    local[c] = k;
    facts[at++] = cells.areaPx[c]!;
    facts[at++] = cells.radiusPx[c]!;
    facts[at++] = cells.wallsPx[c]!;
  }
  for (let k = 0; k < pair.length; k++) {
    const p = pair[k]!;
    facts[at++] = local[pairs.a[p]!]!;
    facts[at++] = local[pairs.b[p]!]!;
    facts[at++] = pairs.inkedPx[p]!;
  }
  for (let k = 0; k < pair.length; k++) local[pair[k]!] = k;
  const ofCut: number[] = [];
  const own: Cut[] = [];
  for (let k = 0; k < cut.length; k++) {
    facts[at++] = texture[cut[k]!]!;
    const ruling = rulings[cut[k]!];
    facts[at++] = ruling === 'closed' ? CLOSED : ruling === 'open' ? OPEN : UNRULED;
    ofCut.push(local[pairs.ofCut[cut[k]!]!]!);
    own.push(cuts[cut[k]!]!);
  }
  return { cell, pair, cut, cuts: own, ofCut, facts };
}
