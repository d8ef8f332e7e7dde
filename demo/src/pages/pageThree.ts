import type { Drawing } from '../Drawing.ts';
import { curve, ellipse, line, rectangle, type Point } from '../geometry.ts';
import { balloon, caption, letter } from '../lettering.ts';
import { ilo } from '../figures/ilo.ts';
import { mumble } from '../figures/mumble.ts';
import { lantern, wrenBust, wrenFigure } from '../figures/wren.ts';
import { fern, mushroom, root } from '../sets/plants.ts';
import { paving, stoneWall, track, tunnel } from '../sets/tunnel.ts';
import { tram, tramInside } from '../sets/tram.ts';

/** Page 3: the waiting room at Fernhollow. Five panels in a fine pen. */
export function drawPageThree(d: Drawing): void {
  const [left, right] = [96, d.width - 96];

  // 1. Fernhollow from the platform.
  d.panel(rectangle(left, 96, right - left, 880), 'depth', () => {
    d.pen = 6;
    stoneWall(d, left, 90, right - left, 520, 4, 107);
    paving(d, [[-200, 1000], [2300, 1000]], [[300, 600], [1760, 600]], 4, 8);
    d.pen = 5.5;
    tram(d, { x: 560, y: 560, scale: 1.15 });
    d.pen = 6.5;
    bench(d, 1240, 700, 420);
    ilo(d, { x: 1420, y: 590, scale: 0.95 });
    sign(d, 1180, 190, 460, 'FERNHOLLOW');
    for (const [x, y, s] of [[1700, 900, 130], [1790, 930, 90], [1620, 930, 70]] as const) mushroom(d, x, y, s, x);
    fern(d, [120, 990], [330, 620], 80, 7, 11);
    fern(d, [1950, 990], [1800, 560], -60, 7, 12);
    d.pen = 6.8;
    wrenFigure(d, { x: 1010, y: 440, scale: 0.86 }, 'calm', 'lantern', { at: 0.31, widthPx: 7 });
    caption(d, 130, 126, 500, 76, ['FERNHOLLOW, LATER.']);
    balloon(d, 820, 236, 230, 72, [970, 380], ['ALL CHANGE,', 'PLEASE.']);
  });

  // 2. Wren, close.
  d.panel(rectangle(left, 1016, 700, 960), 'depth', () => {
    d.pen = 5;
    stoneWall(d, left, 1010, 700, 980, 8, 121);
    root(d, 'root', [[60, 1000], [180, 1260], [120, 1560], [240, 2000]], [130, 90], 131, { at: 0.72, widthPx: 9 });
    d.pen = 8.5;
    wrenBust(d, { x: 450, y: 1440, scale: 1.95 }, 'calm', { at: 0.19, widthPx: 9 });
    d.pen = 7;
    lantern(d, { x: 690, y: 1560, scale: 2.2 });
    balloon(d, 520, 1120, 240, 70, [470, 1260], ['NOBODY ELSE?']);
  });

  // 3. Inside: somebody large has come aboard.
  d.panel(rectangle(836, 1016, right - 836, 960), 'tram-body', () => {
    d.pen = 5.5;
    tramInside(d, 820, 1006, 1160, 990, 4);
    d.pen = 8;
    mumble(d, { x: 1580, y: 1560, scale: 0.96 }, { at: 0.61, widthPx: 9 });
    d.pen = 7;
    ilo(d, { x: 1120, y: 1620, scale: 1.35 });
    d.shape('wood', line([[850, 1830], [930, 1830], [934, 1990], [846, 1990]], 8, true), { width: 6, gap: { at: 0.27, widthPx: 6 } });
    balloon(d, 1080, 1170, 220, 78, [1120, 1460], ['YOU TAKE UP', 'FOUR SEATS.']);
    balloon(d, 1700, 1130, 170, 58, [1620, 1320], ['MMMBLE!']);
  });

  // 4. The line goes on.
  d.panel(rectangle(left, 2016, 900, 1018), 'earth', () => {
    d.pen = 6;
    tunnel(d, { eye: [540, 2460], reach: [500, 470], rings: 5, seed: 141 });
    track(d, [[150, 3060], [930, 3060]], [[526, 2500], [552, 2500]], 7);
    d.pen = 6.5;
    root(d, 'root', [[60, 2080], [300, 2160], [640, 2110], [1020, 2180]], [110, 60], 143, { at: 0.67, widthPx: 7 });
    for (const [x, y, s] of [[180, 2970, 130], [290, 3000, 90], [890, 2980, 110]] as const) mushroom(d, x, y, s, x);
    fern(d, [120, 3040], [260, 2660], 60, 6, 144);
  });

  // 5. Three on a bench.
  d.panel(rectangle(1036, 2016, right - 1036, 1018), 'depth', () => {
    d.pen = 5;
    stoneWall(d, 1036, 2010, right - 1036, 1040, 8, 151);
    d.pen = 6.5;
    sign(d, 1290, 2080, 620, 'NEXT: ROOTWELL');
    lamp(d, 1150, 2180);
    bench(d, 1090, 2800, 800);
    d.pen = 7;
    ilo(d, { x: 1660, y: 2690, scale: 1.15 });
    d.pen = 7.5;
    wrenBust(d, { x: 1300, y: 2660, scale: 1.4 }, 'glad', { at: 0.75, widthPx: 9 });
    balloon(d, 1500, 2390, 210, 60, [1370, 2540], ['SOON, THEN.']);
  });
}

/** A bench with slats, its back to the wall. */
function bench(d: Drawing, x: number, y: number, width: number): void {
  for (const side of [x + 30, x + width - 60]) d.shape('tram-iron', line([[side, y + 20], [side + 26, y + 20], [side + 32, y + 190], [side - 6, y + 190]], 8, true), { width: d.pen * 0.9 });
  for (let k = 0; k < 3; k++) d.shape('wood', line([[x, y - 130 + 46 * k], [x + width, y - 132 + 46 * k], [x + width, y - 100 + 46 * k], [x, y - 98 + 46 * k]], 8, true), { width: d.pen * 0.8, ...(k === 1 ? { gap: { at: 0.02, widthPx: 6 } } : {}) });
  d.shape('wood', line([[x - 14, y + 4], [x + width + 14, y], [x + width + 22, y + 40], [x - 20, y + 44]], 8, true), { width: d.pen });
}

/** A station's name between two screws. */
function sign(d: Drawing, x: number, y: number, width: number, name: string): void {
  d.shape('sign', line([[x, y], [x + width, y - 8], [x + width + 4, y + 112], [x + 3, y + 118]], 8, true), { width: 7, gap: { at: 0.15, widthPx: 7 } });
  letter(d, x + width / 2, y + 54, [name], 40);
  for (const px of [x + 20, x + width - 16]) d.shape('wren-brass', ellipse(px, y + 56, 9, 9), { width: 3.5 });
}

/** A lamp on the wall, its glass in a cage. */
function lamp(d: Drawing, x: number, y: number): void {
  d.shape('tram-iron', line([[x - 12, y - 60], [x + 12, y - 60], [x + 16, y], [x - 16, y]], 5, true), { width: 6 });
  d.shape('lamp', curve([[x - 34, y], [x + 34, y], [x + 42, y + 60], [x, y + 104], [x - 42, y + 60]] as Point[], true, 4), { width: 6 });
  for (const px of [-16, 16]) d.stroke(curve([[x + px, y + 4], [x + px * 1.4, y + 50], [x + px * 0.6, y + 92]]), { width: 3.5 });
}
