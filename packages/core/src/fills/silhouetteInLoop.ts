import { findRoot, joinRoots, ownRoots } from '../raster/unionFind.ts';
import { joinBoxes, type PixelBox } from '../survey/recutPage.ts';
import type { Survey } from '../survey/surveyPage.ts';
import { groupsInLoop, type CellGroups } from './groupsInLoop.ts';
import { cutsBetween, joinAdopted, openingsOf } from './openings.ts';

type Point = readonly [number, number];

/** What stands inside an outer contour. */
export interface Silhouette {
  /** All of its cells, rising. */
  readonly cells: Int32Array;
  /** Keys of cuts that have to be closed for it: its contour was open there. */
  readonly closures: readonly string[];
  /** What its cells lie in; null for none. */
  readonly box: PixelBox | null;
}

/**
 * The cells of a page in the groups that hang together when openings hold from a confidence on: as regions do,
 * only that weaker openings hold too. Rulings and closures drawn by hand stand.
 *
 * @param holdFrom 0..1. Cost: by cells and cuts.
 */
export function contourGroups(survey: Pick<Survey, 'graph' | 'closures' | 'regions'>, holdFrom: number): CellGroups {
  const { count, areaPx, box } = survey.graph.cells;
  const parent = ownRoots(count);
  const join = (a: number, b: number): void => joinRoots(parent, a, b);
  const openings = openingsOf(survey);
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
  return { count: areas.length, ofCell, areaPx: areas, box: Int32Array.from(boxes) };
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
 * All that lies inside the outer contour of what a rough loop goes round, in one go: the regions it encloses, and
 * the groups it encloses of regions that run out of it through an opening too weak to part them so far. Where the
 * contour was open, the closures are named.
 *
 * @param groups of {@link contourGroups}. @param share as {@link groupsInLoop} takes it.
 * @param mayTake whether a region may be taken.
 */
export function silhouetteInLoop(
  survey: Pick<Survey, 'width' | 'height' | 'field' | 'graph' | 'regions'>,
  groups: CellGroups,
  loop: readonly Point[],
  share: number,
  mayTake: (region: number) => boolean = () => true,
): Silhouette {
  const { regions } = survey;
  const whole = new Set(groupsInLoop(survey, regions, loop, share));
  const within = new Set(groupsInLoop(survey, groups, loop, share));
  const inside = Int32Array.from(regions.ofCell, (region, cell) =>
    mayTake(region) && (whole.has(region) || within.has(groups.ofCell[cell]!)) ? 1 : 0,
  );
  const boxes = survey.graph.cells.box;
  const cells: number[] = [];
  let box: PixelBox | null = null;
  for (const [cell, one] of inside.entries()) {
    if (one === 0) continue;
    cells.push(cell);
    const [left, top, right, bottom] = boxes.subarray(4 * cell, 4 * cell + 4);
    box = joinBoxes(box, [left!, top!, right!, bottom!]);
  }
  return { cells: Int32Array.from(cells), closures: cutsBetween(survey, inside), box };
}
