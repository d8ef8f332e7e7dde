import type { Mark } from '@jumble/core';
import { DEMO_PARTS, makeRandom } from '@jumble/demo';

/** The truth is looked at in squares of so many px. */
export const TRUTH_STEP = 4;
/** Shapes smaller than this share of the page get no mark of their own: a rough hand passes them over ... */
const LEAST_SHARE = 0.0002;
/** ... but takes those along that are no smaller than this and lie on its way to another one. */
const LEAST_ON_WAY = 0.00008;
/** The pen stays down to the next shape of the part this near, in squares ... */
const REACH = 150;
/** ... over so much of another marked shape at most. */
const MOST_BETWEEN = 34;
/** A shape gets so many turns of the pen at most. */
const TURNS = 60;
/** Places nearer than this to a mark are not gone to; farther than that the pen is lifted for them. */
const CLOSE = 6;
const OUT_OF_REACH = 20;
/** And strays by so much of its length over a line, when it strays. */
const STRAY = 0.12;
const LONGEST_STRAY = 24;

export interface RoughMarks {
  readonly marks: readonly Mark[];
  readonly strayed: number;
}

/** A piece of the page that was meant for one part. */
interface Shape {
  readonly part: number;
  readonly squares: readonly number[];
}

/**
 * Rough marks as a flatter draws them: to and fro within each shape of the page as it was meant, and with the
 * pen down on to the next shape of the same part near by.
 *
 * @param truth number of the part of every {@link TRUTH_STEP}th px, `width * height`.
 * @param strays every so-manyth mark runs over its outline; 0 for none.
 */
export function roughMarks(truth: Uint8Array, width: number, height: number, strays: number, seed: number): RoughMarks {
  const random = makeRandom(seed);
  const { shapes, shapeOf } = shapesOf(truth, width);
  const marks: Mark[] = [];
  let strayed = 0;
  for (const part of new Set(shapes.map((shape) => shape.part))) {
    const inside = (x: number, y: number): boolean =>
      x >= 0 && y >= 0 && x < width && y < height && truth[Math.round(y) * width + Math.round(x)] === part;
    const strokes = shapes
      .filter(({ part: own, squares }) => own === part && squares.length >= LEAST_ON_WAY * truth.length)
      .flatMap(({ squares }) => {
        const own = squares.length >= LEAST_SHARE * truth.length;
        return scribbles(squares, width, inside, random).map((way) => ({ way, own }));
      });
    const left = new Set(strokes);
    const mayPass = (from: Point, to: Point): boolean => {
      let between = 0;
      const steps = Math.ceil(Math.hypot(to[0] - from[0], to[1] - from[1]));
      for (let k = 1; k < steps; k++) {
        const x = Math.round(from[0] + ((to[0] - from[0]) * k) / steps);
        const y = Math.round(from[1] + ((to[1] - from[1]) * k) / steps);
        if (inside(x, y)) between = 0;
        else if (
          ++between > MOST_BETWEEN ||
          shapes[shapeOf[y * width + x]!]!.squares.length < LEAST_SHARE * truth.length
        )
          return false;
      }
      return true;
    };
    for (const first of strokes) {
      if (!first.own || !left.delete(first)) continue;
      const way = [...first.way];
      for (;;) {
        const end = way.at(-1)!;
        let best: { stroke: (typeof strokes)[number]; turned: boolean; far: number } | null = null;
        for (const stroke of left) {
          for (const turned of [false, true]) {
            const to = turned ? stroke.way.at(-1)! : stroke.way[0]!;
            const far = Math.hypot(to[0] - end[0], to[1] - end[1]);
            if (far > REACH || (best !== null && far >= best.far) || !mayPass(end, to)) continue;
            best = { stroke, turned, far };
          }
        }
        if (best === null) break;
        left.delete(best.stroke);
        way.push(...(best.turned ? [...best.stroke.way].reverse() : best.stroke.way));
      }
      if (strays > 0 && marks.length % strays === strays - 1) {
        strayed++;
        way.push(overTheLine(way, inside));
      }
      marks.push({
        part: DEMO_PARTS[part]!.id,
        points: way.map(([x, y]) => [Math.max(0, x * TRUTH_STEP), Math.max(0, y * TRUTH_STEP)] as const),
      });
    }
  }
  return { marks, strayed };
}

type Point = readonly [number, number];

/** The shapes of a page in reading order, and which one each square lies in. */
function shapesOf(truth: Uint8Array, width: number): { shapes: Shape[]; shapeOf: Int32Array } {
  const shapeOf = new Int32Array(truth.length).fill(-1);
  const shapes: Shape[] = [];
  for (let first = 0; first < truth.length; first++) {
    if (shapeOf[first]! >= 0) continue;
    const part = truth[first]!;
    const squares = [first];
    shapeOf[first] = shapes.length;
    for (let k = 0; k < squares.length; k++) {
      const at = squares[k]!;
      const x = at % width;
      for (const next of [x > 0 ? at - 1 : -1, x + 1 < width ? at + 1 : -1, at - width, at + width]) {
        if (next < 0 || next >= truth.length || shapeOf[next]! >= 0 || truth[next] !== part) continue;
        shapeOf[next] = shapes.length;
        squares.push(next);
      }
    }
    shapes.push({ part, squares });
  }
  return { shapes, shapeOf };
}

/**
 * Rough strokes to and fro over a shape: to places far from each other, as long as the way there stays in
 * it; where a large part of the shape is out of reach the pen is lifted and set down there.
 */
function scribbles(
  shape: readonly number[],
  width: number,
  inside: (x: number, y: number) => boolean,
  random: () => number,
): [number, number][][] {
  const places = Array.from({ length: 200 }, (): [number, number] => {
    const at = shape[Math.floor(random() * shape.length)]!;
    return [at % width, Math.floor(at / width)];
  }).filter(([x, y]) => inside(x + 2, y) && inside(x - 2, y) && inside(x, y + 2) && inside(x, y - 2));
  if (places.length === 0) places.push([shape[0]! % width, Math.floor(shape[0]! / width)]);
  const ways = [[places[0]!]];
  const farthest = (least: number, mayGo: (x: number, y: number) => boolean): [number, number] | null => {
    let best = least;
    let next: [number, number] | null = null;
    for (const [x, y] of places) {
      const far = Math.min(...ways.flat().map(([wx, wy]) => Math.hypot(x - wx, y - wy)));
      if (far <= best || !mayGo(x, y)) continue;
      best = far;
      next = [x, y];
    }
    return next;
  };
  for (let k = 0; k < TURNS; k++) {
    const [ax, ay] = ways.at(-1)!.at(-1)!;
    const next = farthest(CLOSE, (x, y) => clearWay(ax, ay, x, y, inside));
    if (next !== null) ways.at(-1)!.push(next);
    else {
      const lifted = farthest(OUT_OF_REACH, () => true);
      if (lifted === null) break;
      ways.push([lifted]);
    }
  }
  return ways;
}

function clearWay(ax: number, ay: number, bx: number, by: number, inside: (x: number, y: number) => boolean): boolean {
  const steps = Math.ceil(Math.hypot(bx - ax, by - ay));
  for (let k = 1; k < steps; k++) if (!inside(ax + ((bx - ax) * k) / steps, ay + ((by - ay) * k) / steps)) return false;
  return true;
}

/** On from the end of a stroke until it is well over the outline. */
function overTheLine(way: readonly [number, number][], inside: (x: number, y: number) => boolean): [number, number] {
  const [x, y] = way.at(-1)!;
  const [fx, fy] = way.at(-2) ?? [x - 1, y];
  const norm = Math.hypot(x - fx, y - fy) || 1;
  const [dx, dy] = [(x - fx) / norm, (y - fy) / norm];
  let t = 1;
  while (t < 60 && inside(x + dx * t, y + dy * t)) t++;
  const length = way.reduce(
    (sum, [px, py], k) => (k === 0 ? 0 : sum + Math.hypot(px - way[k - 1]![0], py - way[k - 1]![1])),
    0,
  );
  t += Math.max(3, Math.min(LONGEST_STRAY, length * STRAY));
  return [Math.round(x + dx * t), Math.round(y + dy * t)];
}
