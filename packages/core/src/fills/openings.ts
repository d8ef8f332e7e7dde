import { keyOfCut } from '../gaps/proposals/handCut.ts';
import { findRoot, joinRoots } from '../raster/unionFind.ts';
import type { Survey } from '../model/Survey.ts';

type Divided = Pick<Survey, 'graph' | 'closures' | 'regions'>;

/** A passage between two cells: all cuts across it together. */
export interface Opening {
  readonly a: number;
  readonly b: number;
  readonly widthPx: number;
  /** 0..1: how much it looks like a gap; 0 where someone ruled one of its cuts open, else 1 where someone closed one. */
  readonly hold: number;
}

/** The passages between the cells of a page. @param outlinesHold open outlines hold as if someone had closed them. */
export function openingsOf({ graph, closures }: Divided, outlinesHold = false): Opening[] {
  const byKey = new Map(closures.map((one) => [one.key, one]));
  const { pairs, cuts } = graph;
  const widthPx = new Float64Array(pairs.count);
  const hold = new Float64Array(pairs.count);
  const isOpen = new Uint8Array(pairs.count);
  cuts.forEach((cut, k) => {
    const pair = pairs.ofCut[k]!;
    if (pair < 0) return;
    widthPx[pair] = widthPx[pair]! + cut.widthPx;
    const closure = byKey.get(keyOfCut(cut));
    if (closure?.ruling === 'open') isOpen[pair] = 1;
    const holds = outlinesHold && cut.kind === 'outline' && closure !== undefined;
    const value = holds || cut.kind === 'hand' || closure?.ruling === 'closed' ? 1 : (closure?.confidence ?? 0);
    hold[pair] = Math.max(hold[pair]!, value);
  });
  return Array.from({ length: pairs.count }, (_, p) => ({
    a: pairs.a[p]!,
    b: pairs.b[p]!,
    widthPx: widthPx[p]!,
    hold: isOpen[p] === 1 ? 0 : hold[p]!,
  }));
}

/** Crumbs and spaces of hatching go with the region they were given to, though no opening leads there. */
export function joinAdopted(
  { graph, regions }: Divided,
  openings: readonly Opening[],
  join: (one: number, two: number) => void,
): void {
  const { count, areaPx } = graph.cells;
  const together = Int32Array.from({ length: count }, (_, k) => k);
  for (const { a, b } of openings) if (regions.ofCell[a] === regions.ofCell[b]) joinRoots(together, a, b);
  const area = new Float64Array(count);
  for (let c = 0; c < count; c++) area[findRoot(together, c)] = area[findRoot(together, c)]! + areaPx[c]!;
  const main = new Int32Array(regions.count).fill(-1);
  for (let c = 0; c < count; c++) {
    if (findRoot(together, c) !== c) continue;
    const region = regions.ofCell[c]!;
    if (main[region]! < 0 || area[c]! > area[main[region]!]!) main[region] = c;
  }
  for (let c = 0; c < count; c++) {
    if (findRoot(together, c) === c && main[regions.ofCell[c]!] !== c) join(c, main[regions.ofCell[c]!]!);
  }
}

/**
 * Keys of cuts between cells of different labels that lie in one region so far.
 *
 * @param label of each cell; below 0 for none, which parts nothing.
 */
export function cutsBetween({ graph, regions }: Omit<Divided, 'closures'>, label: Int32Array): string[] {
  const { pairs, cuts } = graph;
  const keys: string[] = [];
  cuts.forEach((cut, k) => {
    const pair = pairs.ofCut[k]!;
    if (pair < 0 || cut.kind === 'hand') return;
    const [a, b] = [pairs.a[pair]!, pairs.b[pair]!];
    if (label[a]! < 0 || label[b]! < 0 || label[a] === label[b] || regions.ofCell[a] !== regions.ofCell[b]) return;
    keys.push(keyOfCut(cut));
  });
  return keys;
}
