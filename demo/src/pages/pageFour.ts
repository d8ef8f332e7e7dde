import type { Drawing } from '../Drawing.ts';
import { curve, line, makeRandom, rectangle, type Point } from '../geometry.ts';
import { balloon, caption, sound } from '../lettering.ts';
import { ilo } from '../figures/ilo.ts';
import { mumble } from '../figures/mumble.ts';
import { wrenBust, wrenFigure } from '../figures/wren.ts';
import { mushroom, root } from '../sets/plants.ts';
import { stoneWall, track, tunnel } from '../sets/tunnel.ts';
import { tram } from '../sets/tram.ts';

/** Page 4: Mumble digs them out. Four panels in a dry brush. */
export function drawPageFour(d: Drawing): void {
  const [left, right] = [96, d.width - 96];

  // 1. The roof has come down.
  d.panel(rectangle(left, 96, right - left, 960), 'earth', () => {
    d.pen = 7;
    tunnel(d, { eye: [980, 560], reach: [760, 560], rings: 3, seed: 204 });
    track(d, [[420, 1080], [1640, 1080]], [[940, 720], [1020, 720]], 4);
    d.pen = 6.5;
    tram(d, { x: 760, y: 560, scale: 1.2 });
    rubble(d, 1180, 1000, 820, 21, 205);
    d.pen = 8;
    root(d, 'root', [[1990, 90], [1760, 300], [1500, 360], [1120, 520]], [190, 90], 206, { at: 0.42, widthPx: 14 });
    root(d, 'root', [[60, 200], [200, 460], [150, 760], [290, 1080]], [170, 110], 207, { at: 0.23, widthPx: 11 });
    d.pen = 7.5;
    wrenFigure(d, { x: 520, y: 470, scale: 0.9 }, 'alarmed', 'wave', { at: 0.31, widthPx: 15 });
    sound(d, 1230, 250, 'CRUMBLE', 104, 0.08);
    balloon(d, 400, 220, 220, 66, [500, 380], ['EVERYBODY OUT!']);
  });

  // 2. Mumble, at it.
  d.panel(rectangle(left, 1096, 1160, 1040), 'depth', () => {
    d.pen = 7;
    d.black(curve([[60, 1080], [1300, 1080], [1240, 1240], [900, 1180], [520, 1200], [240, 1300], [120, 1560], [60, 1700]], true, 9));
    d.pen = 10;
    mumble(d, { x: 640, y: 1560, scale: 1.5 }, { at: 0.87, widthPx: 18 });
    rubble(d, 660, 2090, 1080, 16, 215);
    d.pen = 8;
    for (let k = 0; k < 7; k++) d.stroke(curve([[180 + 150 * k, 1980 - 30 * (k % 3)], [150 + 156 * k, 1880 - 40 * (k % 2)], [190 + 150 * k, 1800 - 30 * (k % 3)]]), { width: 7, taper: [0.1, 0.6] });
    sound(d, 300, 1250, 'GRRR', 96, -0.12);
  });

  // 3. Ilo holds the lamp.
  d.panel(rectangle(1296, 1096, right - 1296, 1040), 'depth', () => {
    d.pen = 6;
    stoneWall(d, 1296, 1090, 680, 1060, 6, 223);
    d.pen = 8.5;
    ilo(d, { x: 1620, y: 1600, scale: 1.75 });
    d.pen = 7;
    d.shape('wood', line([[1310, 1960], [1400, 1950], [1410, 2150], [1304, 2150]], 8, true), { width: 7, gap: { at: 0.27, widthPx: 8 } });
    balloon(d, 1600, 1230, 250, 76, [1620, 1490], ['I CAN SEE', 'THE RAILS!']);
  });

  // 4. On again.
  d.panel(rectangle(left, 2176, right - left, 858), 'earth', () => {
    d.pen = 6.5;
    tunnel(d, { eye: [1480, 2540], reach: [620, 500], rings: 4, seed: 233 });
    track(d, [[1000, 3060], [1960, 3060]], [[1462, 2640], [1500, 2640]], 5);
    d.pen = 9;
    wrenBust(d, { x: 470, y: 2590, scale: 1.6 }, 'glad', { at: 0.75, widthPx: 11 });
    d.pen = 7;
    ilo(d, { x: 880, y: 2700, scale: 1.15 });
    for (const [x, y, s] of [[1120, 3010, 130], [1230, 3020, 90], [1860, 3000, 120]] as const) mushroom(d, x, y, s, x);
    root(d, 'root', [[60, 2200], [240, 2260], [420, 2200], [760, 2260]], [90, 60], 236, { at: 0.24, widthPx: 12 });
    caption(d, 1500, 2210, 420, 76, ['ONLY AN HOUR LATE.']);
    balloon(d, 800, 2320, 240, 66, [560, 2480], ['THANK YOU,', 'MUMBLE.']);
  });
}

/** A heap of broken stones, its foot so wide. */
function rubble(d: Drawing, x: number, y: number, width: number, count: number, seed: number): void {
  const random = makeRandom(seed);
  for (let k = 0; k < count; k++) {
    const across = random() - 0.5;
    const high = (1 - Math.abs(across) * 2) * (1 - k / count) * width * 0.34;
    const [cx, cy, r, turn] = [x + across * width, y - high, 34 + random() * 56, random() * 3];
    const stone = Array.from({ length: 6 }, (_, j): Point => {
      const reach = r * (0.75 + 0.4 * random());
      return [cx + Math.cos(turn + j * 1.047) * reach, cy + Math.sin(turn + j * 1.047) * reach * 0.8];
    });
    const gap = k === count - 1 ? { gap: { at: 0.4, widthPx: 15 } } : {};
    d.shape(random() < 0.4 ? 'stone-dark' : 'stone', line(stone, 7, true), { width: 7, ...gap });
    d.hatch([[cx - r * 0.4, cy + r * 0.45], [cx + r * 0.5, cy + r * 0.4]], [[cx - r * 0.1, cy], [cx + r * 0.45, cy - r * 0.05]], 5, 3.2, seed + k);
  }
}
