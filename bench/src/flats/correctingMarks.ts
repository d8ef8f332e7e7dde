import type { Mark } from '@jumble/core';

type Place = readonly [number, number];

/** A page as a flatter sees it who looks for what is not as intended. */
export interface PageLook {
  readonly width: number;
  readonly height: number;
  /** A pixel deep inside each region, and its part now. */
  readonly regions: readonly { readonly at: number; readonly part: string | null }[];
  /** Region of every {@link LOOK_STEP}th pixel, -1 on ink. */
  readonly regionOfSample: ArrayLike<number>;
}
export const LOOK_STEP = 3;

/** A mark keeps to a box of the page that is on the screen at {@link MARK_SCALE}, in px. */
const BOX_WIDTH = 1200;
const BOX_HEIGHT = 1120;
export const MARK_SCALE = 0.6;
/** A small shape is rubbed to and fro over so many places. */
const PLACES = 6;
/** It is passed over at most so far, in px, and by so much of the mark: what is longer would be meant. */
const MOST_PASSED = 120;
const MOST_PASSED_SHARE = 0.18;
/** A small shape is rubbed so many times as far as it reaches: that says it is meant ... */
const RUBBED = 2.2;
/** ... unless so many px of the mark lie in it anyway. */
const LONG = 200;

/**
 * Marks that put right what is not as intended: each shape is rubbed over, and the pen stays down on the way to
 * the next one of its part near by, as long as it only passes what lies between.
 *
 * @param meant part that each region was meant to have.
 */
export function correctingMarks(look: PageLook, meant: readonly (string | null)[]): Mark[] {
  const { regions } = look;
  const wrong = regions.flatMap((one, region) =>
    meant[region] !== null && one.part !== meant[region] ? [region] : [],
  );
  const rubOf = new Map(wrong.map((region) => [region, rubOver(look, region)]));
  const marks: Mark[] = [];
  for (const part of new Set(wrong.map((region) => meant[region]!))) {
    const left = new Set(wrong.filter((region) => meant[region] === part));
    for (const first of left) {
      left.delete(first);
      let points = [...rubOf.get(first)!];
      let length = lengthOf(points);
      for (;;) {
        let next: { region: number; way: readonly Place[]; far: number } | null = null;
        let fromStart = false;
        // A mark that is thought of before it is drawn may begin where it would have ended.
        for (const here of [points.at(-1)!, points[0]!]) {
          for (const region of left) {
            const rub = rubOf.get(region)!;
            const way = far(here, rub[0]!) <= far(here, rub.at(-1)!) ? rub : [...rub].reverse();
            const distance = far(here, way[0]!);
            if (distance >= (next?.far ?? Infinity)) continue;
            const [width, height] = sizeOf([...points, ...way]);
            if (width > BOX_WIDTH || height > BOX_HEIGHT) continue;
            const most = Math.min(MOST_PASSED, MOST_PASSED_SHARE * (length + lengthOf(way)));
            const over = crossedBy(look, [here, way[0]!]);
            if ([...over].some(([other, px]) => meant[other] !== part && px >= most)) continue;
            next = { region, way, far: distance };
            fromStart = here === points[0];
          }
        }
        if (next === null) break;
        if (fromStart) points = points.reverse();
        left.delete(next.region);
        length += next.far + lengthOf(next.way);
        points.push(...next.way);
      }
      marks.push({ part, points });
    }
  }
  return marks;
}

function far([ax, ay]: Place, [bx, by]: Place): number {
  return Math.hypot(bx - ax, by - ay);
}

function sizeOf(way: readonly Place[]): Place {
  const [xs, ys] = [way.map(([x]) => x), way.map(([, y]) => y)];
  return [Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)];
}

function lengthOf(way: readonly Place[]): number {
  return way.reduce((sum, place, k) => (k === 0 ? 0 : sum + far(way[k - 1]!, place)), 0);
}

function regionAt({ width, regionOfSample }: PageLook, x: number, y: number): number {
  return regionOfSample[Math.floor((y * width + x) / LOOK_STEP)] ?? -1;
}

/** Whether the straight way from one place to another crosses no other region. */
function staysIn(look: PageLook, region: number, [ax, ay]: Place, [bx, by]: Place): boolean {
  const steps = Math.max(1, Math.abs(bx - ax), Math.abs(by - ay));
  for (let s = 1; s <= steps; s++) {
    const here = regionAt(look, Math.round(ax + ((bx - ax) * s) / steps), Math.round(ay + ((by - ay) * s) / steps));
    if (here >= 0 && here !== region) return false;
  }
  return true;
}

/** How many px of a way lie in each region. */
function crossedBy(look: PageLook, way: readonly Place[]): Map<number, number> {
  const over = new Map<number, number>();
  for (let k = 1; k < way.length; k++) {
    const [ax, ay] = way[k - 1]!;
    const [bx, by] = way[k]!;
    const steps = Math.max(1, Math.abs(bx - ax), Math.abs(by - ay));
    for (let s = 1; s <= steps; s++) {
      const region = regionAt(look, Math.round(ax + ((bx - ax) * s) / steps), Math.round(ay + ((by - ay) * s) / steps));
      if (region >= 0) over.set(region, (over.get(region) ?? 0) + 1);
    }
  }
  return over;
}

/** To and fro over a shape, so that it is seen to be meant. */
function rubOver(look: PageLook, region: number): Place[] {
  const { width, regions, regionOfSample } = look;
  const inside: Place[] = [];
  for (let k = 0; k < regionOfSample.length; k++) {
    const at = k * LOOK_STEP;
    if (regionOfSample[k] === region) inside.push([at % width, Math.floor(at / width)]);
  }
  const { at } = regions[region]!;
  const way: Place[] = [[at % width, Math.floor(at / width)]];
  for (let k = 0; k < PLACES; k++) {
    const here = way.at(-1)!;
    let next: Place | null = null;
    let best = 0;
    for (const place of inside) {
      const apart = Math.min(...way.map((one) => far(one, place)));
      if (apart <= best || !staysIn(look, region, here, place)) continue;
      [next, best] = [place, apart];
    }
    if (next === null) break;
    way.push(next);
  }
  if (way.length === 1) way.push([way[0]![0] + 1, way[0]![1]]);
  const once = [...way];
  const least = Math.min(LONG, RUBBED * (Math.max(...sizeOf(once)) + 1));
  while ((crossedBy(look, way).get(region) ?? 0) < least && way.length < 40 * once.length)
    way.push(...once.reverse().slice(1));
  return way;
}
