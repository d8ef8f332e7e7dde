import type { Drawing } from '../Drawing.ts';
import { curve, ellipse, line, makeRandom, rectangle, type Point } from '../geometry.ts';
import { balloon, caption } from '../lettering.ts';
import { ilo } from '../figures/ilo.ts';
import { mumble } from '../figures/mumble.ts';
import { lantern, wrenBust, wrenFigure } from '../figures/wren.ts';
import { fern, mushroom, root } from '../sets/plants.ts';
import { paving, stoneWall, track, tunnel } from '../sets/tunnel.ts';
import { tram, tramInside } from '../sets/tram.ts';

const MARGIN = 96;
const GUTTER = 40;
const ROWS = 3;
/** Panels that figures were drawn for are so high. */
const PANEL_HEIGHT = 900;
const SETS = ['tunnel', 'wall', 'inside', 'platform'] as const;
type Figure = 'wren' | 'wren close' | 'ilo' | 'mumble';
const WORDS = [['MIND THE', 'ROOTS.'], ['NEXT STOP?'], ['IT IS LATE,', 'LITTLE ONE.'], ['HOLD ON!'], ['LISTEN ...']] as const;

interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/**
 * A page of the same comic composed by chance: its cast in other places, sizes and company than on the pages that are
 * told. Nothing is told here; it is for measuring on pages that nobody looked at.
 */
export function drawStagedPage(d: Drawing, seed: number): void {
  const random = makeRandom(seed * 7919 + 13);
  const chance = new Chance(random);
  const shares = Array.from({ length: ROWS }, () => chance.between(0.8, 1.25));
  const all = shares.reduce((sum, share) => sum + share, 0);
  const high = d.height - 2 * MARGIN - (ROWS - 1) * GUTTER;
  let y = MARGIN;
  for (const share of shares) {
    const height = (high * share) / all;
    const across = d.width - 2 * MARGIN;
    const first = random() < 0.3 ? across : across * chance.between(0.38, 0.62);
    stagePanel(d, chance, { x: MARGIN, y, width: first, height });
    if (first < across) {
      const x = MARGIN + first + GUTTER;
      stagePanel(d, chance, { x, y, width: d.width - MARGIN - x, height });
    }
    y += height + GUTTER;
  }
}

class Chance {
  constructor(private readonly random: () => number) {}

  between(a: number, b: number): number {
    return a + (b - a) * this.random();
  }

  seed(): number {
    return Math.floor(this.between(1, 999));
  }

  among<T>(list: readonly T[]): T {
    return list[Math.floor(this.random() * list.length)]!;
  }

  /** A gap in every third outline. */
  gap(widthPx: number): { at: number; widthPx: number } | undefined {
    const [cut, at] = [this.random() < 0.35, this.between(0.1, 0.9)];
    return cut ? { at, widthPx } : undefined;
  }
}

function stagePanel(d: Drawing, chance: Chance, box: Box): void {
  const set = chance.among(SETS);
  const background = { tunnel: 'earth', wall: 'depth', inside: 'tram-body', platform: 'depth' }[set];
  d.panel(rectangle(box.x, box.y, box.width, box.height), background, () => {
    drawSet(d, chance, set, box);
    const unit = box.height / PANEL_HEIGHT;
    const count = box.width > 1000 ? 2 + Math.floor(chance.between(0, 2)) : 1 + Math.floor(chance.between(0, 2));
    const step = box.width / count;
    // Nobody stands beside herself.
    let left: readonly Figure[] = [chance.among(['wren', 'wren close'] as const), 'ilo', 'mumble'];
    for (let k = 0; k < count; k++) {
      const who = chance.among(left);
      left = left.filter((other) => other !== who);
      const x = box.x + step * (k + chance.between(0.35, 0.65));
      drawFigure(d, chance, who, x, box, unit * chance.between(0.8, 1.2));
    }
    if (set !== 'inside') drawPlants(d, chance, box, unit);
    d.pen = 7;
    const words = chance.among(WORDS);
    const wide = Math.min(box.width * 0.3, 80 + 17 * Math.max(...words.map((word) => word.length)));
    const at: Point = [box.x + box.width * chance.between(0.3, 0.7), box.y + 60 + 44 * words.length];
    balloon(d, ...at, wide, 26 + 26 * words.length, [at[0] + chance.between(-60, 60), at[1] + 170], [...words]);
    if (chance.between(0, 1) < 0.3) caption(d, box.x + 30, box.y + box.height - 110, 380, 74, ['MEANWHILE ...']);
  });
}

function drawSet(d: Drawing, chance: Chance, set: (typeof SETS)[number], { x, y, width, height }: Box): void {
  d.pen = chance.between(5.2, 6.4);
  const floor = y + height;
  if (set === 'tunnel') {
    const eye: Point = [x + width * chance.between(0.35, 0.65), y + height * chance.between(0.48, 0.6)];
    tunnel(d, { eye, reach: [width * 0.42, height * 0.54], rings: 3 + Math.floor(chance.between(0, 3)), seed: chance.seed() });
    track(d, [[eye[0] - width * 0.3, floor + 20], [eye[0] + width * 0.3, floor + 20]], [[eye[0] - 18, eye[1] + 50], [eye[0] + 18, eye[1] + 50]], 5);
    if (chance.between(0, 1) < 0.4) tram(d, { x: eye[0] + 20, y: eye[1], scale: height / 1500 });
  } else if (set === 'inside') {
    tramInside(d, x - 10, y - 6, width + 20, height + 20, Math.max(2, Math.round(width / 380)));
  } else {
    stoneWall(d, x, y - 4, width, set === 'wall' ? height + 10 : height * 0.5, set === 'wall' ? 6 : 3, chance.seed());
    if (set === 'wall') {
      d.black(curve([[x - 20, y - 10], [x + width * 0.5, y - 10], [x + width * 0.3, y + height * 0.2], [x + width * 0.1, y + height * 0.5], [x - 20, y + height * 0.7]], true, 8));
      return;
    }
    paving(d, [[x - 200, floor + 20], [x + width + 200, floor + 20]], [[x + 100, y + height * 0.5], [x + width - 100, y + height * 0.5]], 4, 6);
    tram(d, { x: x + width * chance.between(0.2, 0.4), y: y + height * 0.48, scale: (1.1 * height) / PANEL_HEIGHT });
    d.pen = 7;
    const post = x + width * chance.between(0.6, 0.85);
    d.shape('wood', line([[post - 13, y + height * 0.2], [post + 13, y + height * 0.2], [post + 17, y + height * 0.7], [post - 17, y + height * 0.7]], 8, true), { width: 6, ...withGap(chance.gap(7)) });
    d.shape('sign', line([[post - 150, y + height * 0.1], [post + 150, y + height * 0.09], [post + 154, y + height * 0.22], [post - 148, y + height * 0.23]], 8, true), { width: 7 });
  }
}

function withGap(gap: { at: number; widthPx: number } | undefined): { gap?: { at: number; widthPx: number } } {
  return gap === undefined ? {} : { gap };
}

function drawFigure(d: Drawing, chance: Chance, who: Figure, x: number, { y, height }: Box, scale: number): void {
  const mirror = chance.between(0, 1) < 0.5;
  d.pen = 6 + 1.5 * scale;
  const mood = chance.among(['calm', 'glad', 'alarmed'] as const);
  const gap = chance.gap(4 + 5 * scale);
  if (who === 'wren') {
    wrenFigure(d, { x, y: y + height * 0.36, scale: 0.92 * scale, mirror }, mood, chance.among(['lantern', 'wave'] as const), gap);
  } else if (who === 'wren close') {
    d.pen = 9;
    wrenBust(d, { x, y: y + height * 0.45, scale: 1.8 * scale, mirror }, mood, gap);
    if (chance.between(0, 1) < 0.4) lantern(d, { x: x + 330 * scale, y: y + height * 0.6, scale: 2.2 * scale });
  } else if (who === 'ilo') {
    ilo(d, { x, y: y + height * 0.56, scale: 1.35 * scale });
  } else {
    mumble(d, { x, y: y + height * 0.5, scale: 1.15 * scale }, gap);
    for (let k = 0; k < 3; k++) {
      const [r, t] = [chance.between(34, 80), chance.between(0, 3)];
      const [sx, sy] = [x + chance.between(-420, 420) * scale, y + height * chance.between(0.82, 0.95)];
      const stone = Array.from({ length: 7 }, (_, j): Point => [sx + Math.cos(t + j * 0.9) * r, sy + Math.sin(t + j * 0.9) * r * 0.8]);
      d.shape(r > 50 ? 'stone' : 'stone-dark', line(stone, 7, true), { width: 6.5 });
    }
  }
}

function drawPlants(d: Drawing, chance: Chance, { x, y, width, height }: Box, unit: number): void {
  d.pen = 7.5;
  const floor = y + height + 20;
  if (chance.between(0, 1) < 0.5) {
    const [side, inwards] = chance.between(0, 1) < 0.5 ? [x, 1] : [x + width, -1];
    const spine: Point[] = [[side - 30 * inwards, y], [side + 90 * inwards, y + height * 0.3], [side + 60 * inwards, y + height * 0.6], [side + 160 * inwards, floor]];
    root(d, 'root', spine, [170 * unit, 100 * unit], chance.seed(), chance.gap(11));
  }
  d.pen = 6;
  for (let k = Math.floor(chance.between(0, 4)); k > 0; k--) {
    mushroom(d, x + width * chance.between(0.08, 0.92), floor - 40, 110 * unit * chance.between(0.6, 1.2), chance.seed());
  }
  if (chance.between(0, 1) < 0.6) {
    const foot = x + width * chance.among([0.06, 0.94]);
    const lean = foot < x + width / 2 ? 1 : -1;
    fern(d, [foot, floor + 20], [foot + lean * 220 * unit, floor - 380 * unit], lean * 70, 6, chance.seed());
  }
  if (chance.between(0, 1) < 0.2) d.shape('lamp', ellipse(x + width * 0.5, y + height * 0.3, 30 * unit, 34 * unit), { width: 6 });
}
