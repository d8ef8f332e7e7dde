import { curve, Drawing, ellipse, makeRandom, place, rectangle, type Frame, type Point } from '@jumble/demo';
import { renderDrawing } from './generateDrawing.ts';
import type { Sheet } from './lessons.ts';

/** Outlines that run out into the paper. */
export type OutlineKind = 'bust' | 'vessel' | 'figure' | 'limb';
export const OUTLINE_KINDS: readonly OutlineKind[] = ['bust', 'vessel', 'figure', 'limb'];

const WIDTH = 640;
const HEIGHT = 760;

/** The same seed gives the same drawing: something open among closed shapes, and strokes that only look like it. */
export async function generateOutline(seed: number, kind: OutlineKind): Promise<Sheet & { readonly pen: number }> {
  const open = compose(seed, kind, false);
  const shut = compose(seed, kind, true);
  return { ink: await renderDrawing(open), shut: await renderDrawing(shut), pen: open.pen };
}

class Hand {
  constructor(
    readonly d: Drawing,
    readonly random: () => number,
    /** Whether open outlines are drawn shut. */
    private readonly shut: boolean,
  ) {}

  between(a: number, b: number): number {
    return a + (b - a) * this.random();
  }

  chance(share: number): boolean {
    return this.random() < share;
  }

  /** A shape whose outline is drawn from the first point to the last, and across between them only where it is shut. */
  open(points: readonly Point[]): void {
    const taper: [number, number] = this.chance(0.4) ? [0.06, 0.06] : [0, 0];
    this.d.shape('part', points, { outline: false });
    this.d.stroke(points, { taper, weight: 0.3, wobble: 0.06 });
    if (this.shut) this.chord(points[0]!, points.at(-1)!);
  }

  chord(a: Point, b: Point): void {
    if (this.shut) this.d.stroke(curve([a, b], false, 4), { weight: 0, wobble: 0 });
  }
}

function compose(seed: number, kind: OutlineKind, shut: boolean): Drawing {
  const random = makeRandom(seed * 1543 + OUTLINE_KINDS.indexOf(kind) * 97);
  const d = new Drawing(WIDTH, HEIGHT, () => 0, shut);
  const hand = new Hand(d, random, shut);
  d.pen = hand.between(2.6, 8);
  const scene = (): void => {
    const behind = Math.floor(hand.between(0, 4));
    for (let k = 0; k < behind; k++) blob(hand);
    if (hand.chance(0.6)) speedLines(hand);
    const frame: Frame = {
      x: hand.between(0.38, 0.62) * WIDTH,
      y: hand.between(0.45, 0.55) * HEIGHT,
      scale: hand.between(0.75, 1.25),
      turn: kind === 'vessel' || kind === 'limb' ? hand.between(-0.5, 0.5) : hand.between(-0.12, 0.12),
      mirror: hand.chance(0.5),
    };
    DRAW[kind](hand, frame);
    if (hand.chance(0.4)) blob(hand, 40, 70);
  };
  if (hand.chance(0.4)) d.panel(rectangle(30, 30, WIDTH - 60, HEIGHT - 60), 'part', scene);
  else scene();
  return d;
}

const DRAW: Record<OutlineKind, (hand: Hand, frame: Frame) => void> = {
  /** Cut off below, with the inner lines of its arms running out beside the outer ones. */
  bust(hand, frame) {
    const [wide, low] = [hand.between(120, 175), hand.between(150, 210)];
    const lean = hand.between(-0.12, 0.35);
    const right: Point[] = [
      [34, -70],
      [40, -30],
      [wide * 0.7, -8],
      [wide * 0.97, 60],
      [wide * (1 + lean * 0.5), low],
    ];
    const left = right.map(([x, y]): Point => [-x, y]).reverse();
    hand.open(curve(place(frame, [...left, ...right]), false, 5));
    if (hand.chance(0.6)) {
      for (const side of [-1, 1]) {
        const x = side * wide * hand.between(0.55, 0.68);
        const top = low - hand.between(70, 120);
        hand.d.stroke(curve(place(frame, [[x, top], [x + side * 6, (top + low) / 2], [x + side * hand.between(4, 18), low]]), false, 5), { taper: [0.35, 0] }); // prettier-ignore
      }
    }
    // The collar, then the head over the neck.
    if (hand.chance(0.6)) hand.d.shape('part', curve(place(frame, [[-44, -34], [0, 36], [44, -34], [0, -10]]), true, 4)); // prettier-ignore
    hand.d.shape('part', place(frame, ellipse(0, -130, 62, 78)));
    hand.d.shape('part', curve(place(frame, [[-66, -150], [-40, -222], [40, -222], [66, -150], [30, -178], [-30, -178]]), true, 5)); // prettier-ignore
    if (hand.chance(0.4)) antennae(hand, frame);
  },
  /** Open at the top, and sometimes filled in part. */
  vessel(hand, frame) {
    const [rim, foot, high] = [hand.between(50, 130), hand.between(35, 100), hand.between(120, 240)];
    const belly = hand.between(0.9, 1.35) * Math.max(rim, foot);
    const wall: Point[] = [
      [rim, -high / 2],
      [belly, high * 0.05],
      [foot, high / 2],
    ];
    const level = hand.between(0, 0.3) * high;
    hand.open([
      ...curve(place(frame, wall), false, 5),
      ...curve(place(frame, wall.map(([x, y]): Point => [-x, y]).reverse()), false, 5),
    ]);
    if (hand.chance(0.4)) {
      const at = (y: number): number => belly + (foot - belly) * Math.max(0, (y - high * 0.05) / (high * 0.45));
      hand.d.stroke(curve(place(frame, [[-at(level), level], [0, level + 6], [at(level), level]]), false, 5)); // prettier-ignore
    }
    if (hand.chance(0.4)) hand.d.shape('part', place(frame, ellipse(0, high * 0.3, foot * 0.3, foot * 0.24)));
  },
  /** A long coat that thins out downwards, its two sides of unlike length. */
  figure(hand, frame) {
    const [wide, low] = [hand.between(70, 120), hand.between(190, 280)];
    const short = hand.between(-45, 45);
    const hem = wide * hand.between(0.75, 1.5);
    hand.open(
      curve(place(frame, [[-hem, low + short], [-wide * 1.05, low * 0.45], [-wide, -40], [-30, -96], [30, -96], [wide, -40], [wide * 1.05, low * 0.45], [hem, low]]), false, 5), // prettier-ignore
    );
    const folds = Math.floor(hand.between(0, 3));
    for (let k = 0; k < folds; k++) {
      const x = hand.between(-0.5, 0.5) * wide;
      const top = hand.between(0.1, 0.4) * low;
      hand.d.stroke(curve(place(frame, [[x, top], [x + 6, top + 40], [x + 2, top + 80]]), false, 5), { width: hand.d.pen * 0.6, taper: [0.3, 0.5] }); // prettier-ignore
    }
    hand.d.shape('part', place(frame, ellipse(0, -140, 48, 56)));
    if (hand.chance(0.5)) hand.d.shape('part', place(frame, ellipse(0, 10, 22, 18)));
    if (hand.chance(0.4)) antennae(hand, { ...frame, y: frame.y + 20 * frame.scale });
  },
  /** A body with one arm that ends in nothing. */
  limb(hand, frame) {
    const [thick, long] = [hand.between(26, 60), hand.between(110, 210)];
    const rise = hand.between(-60, 60);
    hand.open([
      ...curve(place(frame, [[long, rise - thick * hand.between(0.6, 1.1)], [long * 0.5, rise * 0.4 - thick], [-10, -thick]]), false, 5), // prettier-ignore
      ...curve(place(frame, [[-10, thick], [long * 0.5, rise * 0.4 + thick], [long, rise + thick * hand.between(0.6, 1.1)]]), false, 5), // prettier-ignore
    ]);
    hand.d.shape('part', curve(place(frame, [[-170, -60], [-90, -110], [0, -80], [20, 40], [-10, 130], [-130, 140], [-180, 40]]), true, 5)); // prettier-ignore
    if (hand.chance(0.5)) hand.d.shape('part', place(frame, ellipse(-80, 10, 34, 30)));
    if (hand.chance(0.3)) antennae(hand, frame);
  },
};

function blob(hand: Hand, least = 50, most = 120): void {
  const size = hand.between(least, most);
  const [x, y] = [hand.between(0.1, 0.9) * WIDTH, hand.between(0.1, 0.9) * HEIGHT];
  const turn = hand.between(0, 6);
  const ring = Array.from({ length: 6 }, (_, k): Point => {
    const r = size * hand.between(0.65, 1.1);
    return [x + Math.cos(turn + k * 1.047) * r, y + Math.sin(turn + k * 1.047) * r];
  });
  hand.d.shape('part', curve(ring, true, 5));
}

/** Long strokes side by side that part nothing. */
function speedLines(hand: Hand): void {
  const count = 2 + Math.floor(hand.between(0, 3));
  const turn = hand.between(0, 3.1);
  const [ux, uy] = [Math.cos(turn), Math.sin(turn)];
  const [x, y, step] = [hand.between(0.1, 0.9) * WIDTH, hand.between(0.1, 0.9) * HEIGHT, hand.between(18, 190)];
  for (let k = 0; k < count; k++) {
    const [from, long] = [hand.between(-30, 30), hand.between(90, 240)];
    const [sx, sy] = [x - uy * step * k + ux * from, y + ux * step * k + uy * from];
    hand.d.stroke(curve([[sx, sy], [sx + ux * long, sy + uy * long]], false, 5), { taper: [0.1, 0.3] }); // prettier-ignore
  }
}

/** Two long feelers out of a head: the paper between them is not part of anything. */
function antennae(hand: Hand, frame: Frame): void {
  const [apart, high] = [hand.between(16, 40), hand.between(60, 110)];
  for (const side of [-1, 1]) {
    hand.d.stroke(curve(place(frame, [[side * 16, -200], [side * apart, -200 - high / 2], [side * (apart + hand.between(0, 26)), -200 - high]]), false, 5), { taper: [0, 0.25] }); // prettier-ignore
  }
}
