import type { Drawing } from '../Drawing.ts';
import { curve, ellipse, line, rectangle } from '../geometry.ts';
import { balloon, caption, sound } from '../lettering.ts';
import { ilo } from '../figures/ilo.ts';
import { mumble } from '../figures/mumble.ts';
import { lantern, wrenBust, wrenFigure } from '../figures/wren.ts';
import { fern, mushroom, root } from '../sets/plants.ts';
import { stoneWall, track, tunnel } from '../sets/tunnel.ts';
import { tram } from '../sets/tram.ts';

/** Page 2: something large is on the line. Four panels. */
export function drawPageTwo(d: Drawing): void {
  const [left, right] = [96, d.width - 96];

  // 1. Wren and Ilo look down the dark line.
  d.panel(rectangle(left, 96, 980, 930), 'earth', () => {
    d.pen = 6;
    tunnel(d, { eye: [700, 520], reach: [560, 480], rings: 4, seed: 14 });
    track(d, [[200, 1050], [1120, 1050]], [[688, 560], [716, 560]], 5);
    d.black(ellipse(640, 500, 24, 32));
    for (const x of [632, 660]) d.white(ellipse(x, 500, 7, 10));
    d.pen = 7.5;
    root(d, 'root', [[60, 90], [300, 180], [620, 150], [1100, 220]], [130, 70], 15, { at: 0.67, widthPx: 8 });
    d.shape('wood', line([[980, 860], [1040, 860], [1044, 1040], [976, 1040]], 8, true), { width: 6, gap: { at: 0.91, widthPx: 6 } });
    d.pen = 6;
    fern(d, [120, 1050], [300, 700], 70, 6, 5);
    for (const [x, y, s] of [[190, 1010, 96], [260, 1020, 66]] as const) mushroom(d, x, y, s, x);
    d.pen = 7;
    wrenFigure(d, { x: 900, y: 470, scale: 0.86, mirror: true }, 'alarmed', 'lantern', { at: 0.35, widthPx: 9 });
    d.pen = 6.5;
    ilo(d, { x: 440, y: 700, scale: 1.1 });
    for (const x of [426, 456]) d.stroke(line([[x, 886], [x, 950]], 5), { width: 9, taper: [0, 0.2] });
    caption(d, 130, 130, 420, 74, ['BELOW MOSSGATE.']);
    balloon(d, 350, 400, 190, 66, [420, 620], ['WHO IS THAT?']);
  });

  // 2. Wren, close, in the lamplight.
  d.panel(rectangle(1116, 96, right - 1116, 930), 'depth', () => {
    d.pen = 6;
    stoneWall(d, 1116, 96, 860, 930, 6, 26);
    d.pen = 7;
    d.black(curve([[1980, 80], [1980, 1040], [1820, 1040], [1880, 760], [1830, 480], [1740, 260], [1560, 80]], true, 8));
    d.pen = 9.5;
    wrenBust(d, { x: 1500, y: 520, scale: 2.25 }, 'alarmed', { at: 0.75, widthPx: 13 });
    d.pen = 7.5;
    lantern(d, { x: 1240, y: 640, scale: 2.5 });
    balloon(d, 1400, 190, 250, 66, [1440, 330], ['STOP THE TRAM!']);
  });

  // 3. Mumble breaks through.
  d.panel(rectangle(left, 1066, right - left, 1090), 'earth', () => {
    d.pen = 6;
    tunnel(d, { eye: [1120, 1560], reach: [820, 620], rings: 3, seed: 33 });
    track(d, [[300, 2180], [1960, 2180]], [[1090, 1760], [1180, 1760]], 3);
    d.pen = 9;
    mumble(d, { x: 1120, y: 1560, scale: 1.42 }, { at: 0.23, widthPx: 14 });
    d.pen = 6.5;
    for (const [x, y, r, t] of [[720, 1900, 74, 0.3], [600, 2010, 50, 1], [1540, 1950, 84, 0.6], [1660, 2060, 56, 1.8], [880, 2080, 46, 2.4], [1420, 2090, 40, 0.1], [520, 1880, 34, 0.9], [1760, 1930, 38, 2]] as const) {
      const stone = Array.from({ length: 7 }, (_, k): [number, number] => [x + Math.cos(t + k * 0.9) * r * (0.8 + 0.3 * Math.sin(k * 2.1 + t)), y + Math.sin(t + k * 0.9) * r * 0.8]);
      d.shape(r > 50 ? 'stone' : 'stone-dark', line(stone, 7, true), { width: 6.5 });
      d.hatch([[x - r * 0.5, y + r * 0.5], [x + r * 0.6, y + r * 0.45]], [[x - r * 0.2, y], [x + r * 0.5, y - r * 0.05]], 7, 3.2, x);
    }
    d.pen = 8;
    root(d, 'root', [[60, 1120], [260, 1380], [240, 1700], [380, 2200]], [180, 110], 44, { at: 0.19, widthPx: 10 });
    root(d, 'root', [[1990, 1140], [1830, 1400], [1880, 1740], [1740, 2200]], [170, 100], 45, { at: 0.79, widthPx: 12 });
    d.pen = 6;
    fern(d, [150, 2190], [430, 1840], 80, 6, 51);
    fern(d, [1940, 2190], [1600, 1890], -60, 6, 52);
    for (const [x, y, s] of [[470, 2140, 110], [1630, 2140, 96], [550, 2150, 70]] as const) mushroom(d, x, y, s, x);
    d.pen = 6.5;
    wrenFigure(d, { x: 640, y: 1640, scale: 0.72 }, 'alarmed', 'wave', { at: 0.31, widthPx: 7 });
    sound(d, 1110, 1236, 'RUMBLE', 132, 0.1);
    balloon(d, 420, 1330, 230, 70, [600, 1520], ['MUMBLE?', 'IS THAT YOU?']);
  });

  // 4. Friends.
  d.panel(rectangle(left, 2196, right - left, 838), 'depth', () => {
    d.pen = 5;
    stoneWall(d, left, 2190, right - left, 860, 6, 71);
    d.pen = 7;
    d.black(curve([[90, 2190], [90, 2560], [260, 2420], [520, 2330], [900, 2290], [1300, 2300], [1640, 2340], [1970, 2480], [1970, 2190]], true, 10));
    d.pen = 5.5;
    tram(d, { x: 420, y: 2760, scale: 1.25 });
    d.pen = 8;
    mumble(d, { x: 1490, y: 2640, scale: 1.12 }, { at: 0.87, widthPx: 11 });
    d.pen = 7;
    d.shape('sign', line([[560, 2420], [700, 2410], [704, 2480], [562, 2488]], 8, true), { width: 6.5, gap: { at: 0.55, widthPx: 10 } });
    ilo(d, { x: 1130, y: 2760, scale: 1.35 });
    d.pen = 8;
    wrenBust(d, { x: 800, y: 2650, scale: 1.4 }, 'glad', { at: 0.63, widthPx: 10 });
    d.pen = 6;
    fern(d, [1900, 3050], [1760, 2720], -40, 6, 81);
    fern(d, [1950, 3050], [1940, 2690], 30, 6, 82);
    d.shape('wood', line([[1240, 2980], [1400, 2970], [1404, 3050], [1236, 3050]], 8, true), { width: 6, gap: { at: 0.15, widthPx: 8 } });
    balloon(d, 640, 2350, 280, 80, [770, 2510], ['YOU ONLY WANTED', 'A RIDE HOME.']);
    balloon(d, 1680, 2330, 170, 60, [1560, 2510], ['MMMBLE.']);
  });
}
