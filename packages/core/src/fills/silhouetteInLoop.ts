import { findRoot, joinRoots, ownRoots } from '../raster/unionFind.ts';
import { type PixelBox, joinBoxes } from '../survey/recutPage.ts';
import type { Survey } from '../model/Survey.ts';
import { type CellGroups, enclosedGroups, loopFrame, pxInLoop } from './groupsInLoop.ts';
import { cutsBetween, joinAdopted, openingsOf } from './openings.ts';
import type { Point } from '../model/Point.ts';

/** What stands inside an outer contour. */
export interface Silhouette {
  /** All of its cells, rising. */
  readonly cells: Int32Array;
  /** Keys of cuts that have to be closed for it: its contour was open there. */
  readonly closures: readonly string[];
}

/**
 * The cells of a page in the groups that hang together when openings hold from a confidence on: as regions do,
 * only that weaker openings hold too, and open outlines whatever speaks for them. Rulings and closures drawn by hand
 * stand.
 *
 * @param holdFrom 0..1. Cost: by cells and cuts.
 */
export function contourGroups(survey: Pick<Survey, 'graph' | 'closures' | 'regions'>, holdFrom: number): CellGroups {
  const { count, areaPx, box } = survey.graph.cells;
  const parent = ownRoots(count);
  const join = (a: number, b: number): void => joinRoots(parent, a, b);
  const openings = openingsOf(survey, true);
  joinAdopted(survey, openings, join);
  for (const { a, b, hold } of openings) if (hold < holdFrom) join(a, b);
  const numberOf = new Int32Array(count).fill(-1);
  const ofCell = new Int32Array(count);
  const areas: number[] = [];
  const boxes: number[] = [];
  for (let cell = 0; cell < count; cell++) {
    const root = findRoot(parent, cell);
    if (numberOf[root]! < 0) {
      numberOf[root] = areas.length;
      areas.push(0);
      boxes.push(Infinity, Infinity, 0, 0);
    }
    const group = (ofCell[cell] = numberOf[root]!);
    areas[group]! += areaPx[cell]!;
    for (const [k, pick] of [Math.min, Math.min, Math.max, Math.max].entries())
      boxes[4 * group + k] = pick(boxes[4 * group + k]!, box[4 * cell + k]!);
  }
  return { count: areas.length, ofCell, areaPx: Float64Array.from(areas), box: Int32Array.from(boxes) };
}

/** The regions that lie in cells, by a pixel deep inside each: crumbs beside it do not count. */
export function regionsOfCells(
  { regions, field }: Pick<Survey, 'field' | 'regions'>,
  cells: ReadonlySet<number>,
): Set<number> {
  const found = new Set<number>();
  regions.anchor.forEach((at, region) => cells.has(field[at]!) && found.add(region));
  return found;
}

/**
 * The cells inside the outer contour of what a rough loop goes round: the regions it encloses, and the groups it
 * encloses of regions that run out of it through an opening too weak to part them so far.
 *
 * @param groups of {@link contourGroups}. @param share of the paper of a region or group that has to lie inside, 0..1.
 * @param mayTake whether a region may be taken.
 * @returns 1 for each cell inside, and the box they lie in; null for none.
 */
export function cellsInContour(
  survey: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>,
  groups: CellGroups,
  loop: readonly Point[],
  share: number,
  mayTake: (region: number) => boolean = () => true,
): { inside: Int32Array; box: PixelBox | null } {
  const { regions } = survey;
  const inside = new Int32Array(regions.ofCell.length);
  const frame = loopFrame(survey, loop);
  if (frame === null) return { inside, box: null };
  let box: PixelBox | null = null;
  const take = (taken: Uint8Array, from: CellGroups, group: number): void => {
    taken[group] = 1;
    const [left, top, right, bottom] = from.box.subarray(4 * group, 4 * group + 4);
    box = joinBoxes(box, [left!, top!, right!, bottom!]);
  };
  const inCells = pxInLoop(survey, frame, regions.ofCell.length);
  const whole = new Uint8Array(regions.count);
  for (const region of enclosedGroups(survey, frame, regions, inCells, share, mayTake)) take(whole, regions, region);
  // Of what is not taken as it is, the groups.
  const isOpen = new Uint8Array(groups.count);
  regions.ofCell.forEach((region, cell) => {
    if (whole[region] === 0 && mayTake(region)) isOpen[groups.ofCell[cell]!] = 1;
  });
  const within = new Uint8Array(groups.count);
  for (const group of enclosedGroups(survey, frame, groups, inCells, share, (one) => isOpen[one] === 1))
    take(within, groups, group);
  regions.ofCell.forEach((region, cell) => {
    if (whole[region] === 1 || (within[groups.ofCell[cell]!] === 1 && mayTake(region))) inside[cell] = 1;
  });
  return { inside, box };
}

/** What a loop goes round, as {@link cellsInContour} says, with the gaps of the contour: they have to be closed for it. */
export function silhouetteInLoop(
  survey: Pick<Survey, 'width' | 'height' | 'field' | 'graph' | 'closures' | 'regions'>,
  holdFrom: number,
  loop: readonly Point[],
  share: number,
  mayTake: (region: number) => boolean = () => true,
): Silhouette {
  const { inside } = cellsInContour(survey, contourGroups(survey, holdFrom), loop, share, mayTake);
  return { cells: cellsOf(inside), closures: cutsBetween(survey, inside) };
}

/** Numbers of the cells that are marked with 1, rising. */
export function cellsOf(inside: Int32Array): Int32Array {
  const cells: number[] = [];
  for (let cell = 0; cell < inside.length; cell++) if (inside[cell] === 1) cells.push(cell);
  return Int32Array.from(cells);
}
