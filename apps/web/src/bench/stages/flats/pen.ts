import { MOST_PEN_PX, simplifyLine, snapToInk } from '@jumble/core';
import { cutAlong, joinAcross } from '../../page/division.ts';
import type { Bench } from '../../state/Bench.ts';
import { stepSize } from '../../tools/penSizes.ts';
import type { PenNib } from './flatsState.ts';
import { setFlats } from './setFlats.ts';

type Point = readonly [number, number];

/** How far a cut's ends are drawn to ink, and how much its way is smoothed, in picture px. */
const SNAP_PX = 14;
const SMOOTH_PX = 1.5;

export function setPenSize(bench: Bench, sizePx: number): void {
  const { pen } = bench.state.flats;
  setFlats(bench, { pen: { ...pen, sizePx: Math.max(1, Math.min(MOST_PEN_PX, Math.round(sizePx))) } });
}

/** The next larger or smaller size. */
export function stepPenSize(bench: Bench, direction: 1 | -1): void {
  setPenSize(bench, stepSize(bench.state.flats.pen.sizePx, direction));
}

export function setNib(bench: Bench, nib: PenNib): void {
  setFlats(bench, { pen: { ...bench.state.flats.pen, nib } });
}

export function nextNib(bench: Bench): void {
  const { nib } = bench.state.flats.pen;
  setNib(bench, nib === 'inside' ? 'pixel' : nib === 'pixel' ? 'cut' : 'inside');
}

/**
 * Cuts a region along a way that was drawn; its ends go to ink where there is some near.
 *
 * @returns false where it would part nothing, so that nothing was done.
 */
export async function cutRegion(bench: Bench, way: readonly Point[]): Promise<boolean> {
  const { survey, view } = bench.state;
  if (survey === null || view === null) return false;
  const snapped = ([x, y]: Point): Point =>
    snapToInk(survey, x, y, Math.ceil(Math.min(60, SNAP_PX / view.scale)))?.at ?? [x, y];
  const points = simplifyLine(way, SMOOTH_PX / view.scale);
  const ends = [snapped(points[0]!), ...points.slice(1, -1), snapped(points.at(-1)!)];
  const distinct = ends.filter(([x, y], k) => k === 0 || x !== ends[k - 1]![0] || y !== ends[k - 1]![1]);
  return distinct.length > 1 && cutAlong(bench, distinct);
}

/** Joins two regions that are parted by closures alone. @returns false where ink parts them. */
export function joinRegions(bench: Bench, a: number, b: number): boolean {
  const [low, high] = a < b ? [a, b] : [b, a];
  const between = (bench.state.survey?.closures ?? []).filter(
    (one) => one.accepted && one.regions[0] === low && one.regions[1] === high,
  );
  if (between.length === 0) return false;
  void joinAcross(
    bench,
    between.map((one) => one.key),
  );
  return true;
}
