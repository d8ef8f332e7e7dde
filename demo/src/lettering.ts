import type { Drawing } from './Drawing.ts';
import { curve, line, makeRandom, type Point } from './geometry.ts';

/** Our own hand lettering: capitals as pen strokes on a grid 4 wide and 6 high. */
const LETTERS: Readonly<Record<string, readonly string[]>> = {
  A: ['06 20 46', '13.8 33.8'],
  B: ['06 00 30 41 32.8 02.8', '32.8 44.2 36 06'],
  C: ['41 30 10 01.5 04.5 16 36 45'],
  D: ['00 06 26 44.5 41.5 20 00'],
  E: ['40 00 06 46', '03 33'],
  F: ['40 00 06', '03 33'],
  G: ['41 30 10 01.5 04.5 16 36 44 43.2 23.2'],
  H: ['00 06', '40 46', '03 43'],
  I: ['20 26'],
  J: ['30 34.6 26 16 04.8'],
  K: ['00 06', '40 03.4', '12.6 46'],
  L: ['00 06 46'],
  M: ['06 00 24 40 46'],
  N: ['06 00 46 40'],
  O: ['20 01.4 04.6 26 44.6 41.4 20'],
  P: ['06 00 30 41.4 33.2 03.2'],
  Q: ['20 01.4 04.6 26 44.6 41.4 20', '24.4 46.4'],
  R: ['06 00 30 41.4 33.2 03.2', '23.2 46'],
  S: ['41 30 10 01.4 13 33 44.6 36 16 05'],
  T: ['00 40', '20 26'],
  U: ['00 04.6 16 36 44.6 40'],
  V: ['00 26 40'],
  W: ['00 16 22.4 36 40'],
  X: ['00 46', '40 06'],
  Y: ['00 23 40', '23 26'],
  Z: ['00 40 06 46'],
  '9': ['43 23.4 03 01 20 41 43 36'],
  '!': ['20 24', '25.5 26'],
  '?': ['01 10 30 41.2 33 23.6 24.4', '25.6 26'],
  '.': ['25.6 26'],
  ',': ['25.5 16.8'],
  "'": ['20 21.4'],
  '-': ['13.2 33.2'],
  ':': ['21.6 22', '25 25.4'],
};

/** Writes lines of lettering, centred. @param height of a capital in px. */
export function letter(drawing: Drawing, x: number, y: number, text: readonly string[], height = 30): void {
  const unit = height / 6;
  const random = makeRandom(Math.round(x * 7 + y * 13));
  text.forEach((words, row) => {
    const widths = [...words].map((c) =>
      c === ' ' ? 3.2 : c === 'I' || c === "'" || c === '.' || c === '!' ? 3.4 : 5.4,
    );
    let px = x - (widths.reduce((a, b) => a + b, 0) * unit) / 2;
    const top = y + (row - text.length / 2) * height * 1.55 + height * 0.25;
    [...words].forEach((c, k) => {
      for (const stroke of LETTERS[c] ?? []) {
        const points = stroke.split(' ').map((pair): Point => {
          const at = pair.length > 1 && pair[1] === '.' ? 3 : 1;
          const shift = c === 'I' || c === '.' || c === '!' || c === "'" ? 1.2 : 0;
          return [
            px + (Number(pair.slice(0, at)) - shift + (random() - 0.5) * 0.25) * unit,
            top + (Number(pair.slice(at)) + (random() - 0.5) * 0.25) * unit,
          ];
        });
        drawing.stroke(points.length > 4 ? curve(points, false, 3) : line(points, 3), {
          width: height * 0.135,
          weight: 0,
          wobble: 0.05,
        });
      }
      px += widths[k]! * unit;
    });
  });
}

/** A balloon with its tail, and what is said in it. */
export function balloon(
  drawing: Drawing,
  x: number,
  y: number,
  rx: number,
  ry: number,
  tail: Point,
  text: readonly string[],
): void {
  const toward = Math.atan2((tail[1] - y) / ry, (tail[0] - x) / rx);
  const points: Point[] = [];
  for (let k = 0; k < 72; k++) {
    const a = toward + 0.16 + (k / 71) * (2 * Math.PI - 0.32);
    // A little squarer than an ellipse, as balloons are.
    const squash = (v: number): number => Math.sign(v) * Math.abs(v) ** 0.8;
    points.push([x + rx * squash(Math.cos(a)), y + ry * squash(Math.sin(a))]);
  }
  const [first, last] = [points[0]!, points.at(-1)!];
  const bend = (p: Point): Point => [p[0] * 0.45 + tail[0] * 0.55 + (x - tail[0]) * 0.06, p[1] * 0.45 + tail[1] * 0.55];
  drawing.shape(
    'blank',
    [...points, ...curve([last, bend(last), tail], false, 4), ...curve([tail, bend(first), first], false, 4)],
    { width: 5.5, weight: 0.2 },
  );
  letter(drawing, x, y, text);
}

/** A caption in a box. */
export function caption(
  drawing: Drawing,
  x: number,
  y: number,
  width: number,
  height: number,
  text: readonly string[],
): void {
  drawing.shape(
    'caption',
    line(
      [
        [x, y],
        [x + width, y],
        [x + width, y + height],
        [x, y + height],
      ],
      8,
      true,
    ),
    { width: 5, weight: 0.1, wobble: 0.03 },
  );
  letter(drawing, x + width / 2, y + height / 2, text, 27);
}

/** A sound, in outlined block letters that a colourist fills. */
export function sound(drawing: Drawing, x: number, y: number, text: string, size: number, turn: number): void {
  let px = x;
  let py = y;
  for (const c of text) {
    const hull = BLOCKS[c];
    if (hull !== undefined) {
      const put = (pairs: string): Point[] =>
        pairs.split(' ').map((pair): Point => {
          const [u, v] = [Number(pair[0]) * size * 0.17, Number(pair[1]) * size * 0.17 - size * 0.5];
          return [px + u * Math.cos(turn) - v * Math.sin(turn), py + u * Math.sin(turn) + v * Math.cos(turn)];
        });
      drawing.shape('sound', line(put(hull[0]!), 6, true), { width: 7 });
      for (const hole of hull.slice(1)) drawing.shape('blank', line(put(hole), 6, true), { width: 5 });
    }
    px += size * 0.86 * Math.cos(turn);
    py += size * 0.86 * Math.sin(turn);
  }
}

const BLOCKS: Readonly<Record<string, readonly string[]>> = {
  E: ['00 40 41 21 22 32 34 24 25 45 46 06'],
  C: ['00 40 42 22 24 44 46 06'],
  L: ['00 20 24 44 46 06'],
  A: ['00 40 46 26 25 15 16 06', '12 22 23 13'],
  N: ['00 10 33 30 40 46 36 13 16 06'],
  G: ['00 40 41 11 15 35 34 24 23 43 46 06'],
  R: ['00 40 43 34 46 26 14 16 06', '11 31 32 12'],
  U: ['00 10 14 34 30 40 46 06'],
  M: ['00 10 23 30 40 46 36 32 24 12 16 06'],
  B: ['00 30 41 42 33 44 45 36 06', '11 21 22 12', '14 24 25 15'],
};
