import type { Drawing } from '../Drawing.ts';
import { curve, ellipse, line, place, type Point } from '../geometry.ts';
import { balloon, letter } from '../lettering.ts';
import { ilo } from '../figures/ilo.ts';
import { hand, lantern, wrenRunningOut } from '../figures/wren.ts';
import { fern, mushroom, root } from '../sets/plants.ts';
import { tram } from '../sets/tram.ts';

/** Page 6, a splash: Wren, larger than the page; her coat runs out into the paper. */
export function drawPageSix(d: Drawing): void {
  // The moon of an air shaft, with roots before it.
  d.pen = 7;
  d.shape('lamp', ellipse(1180, 860, 640, 640), { width: 7, gap: { at: 0.75, widthPx: 12 } });
  for (const [r, part] of [[500, 'sign'], [360, 'caption']] as const) d.shape(part, ellipse(1180, 860, r, r), { width: 5, gap: { at: 0.12, widthPx: 9 } });
  d.pen = 8;
  root(d, 'root', [[2090, 240], [1760, 420], [1640, 760], [1880, 1180], [2090, 1300]], [150, 90], 404, { at: 0.31, widthPx: 11 });
  root(d, 'root-far', [[-40, 760], [140, 660], [230, 470], [120, 290], [-40, 250]], [110, 70], 405, { at: 0.67, widthPx: 9 });
  d.pen = 7;
  tram(d, { x: 420, y: 1230, scale: 1.3 });
  d.shape('rail', line([[140, 1474], [1020, 1400], [1024, 1424], [140, 1502]], 8, true), { width: 6, gap: { at: 0.3, widthPx: 14 } });

  d.pen = 13;
  const wren = { x: 1080, y: 1120, scale: 3.5 };
  wrenRunningOut(d, wren, 'glad');
  d.pen = 10;
  const [x, y] = place(wren, [[186, 104]])[0]!;
  lantern(d, { x, y, scale: 3.4 });
  d.pen = 12;
  d.shape('wren-coat', curve(place(wren, [[78, 104], [112, 148], [146, 132], [164, 100], [196, 118], [172, 168], [124, 214], [100, 196]]), true, 6), { gap: { at: 0.62, widthPx: 12 } });
  d.shape('wren-lining', curve(place(wren, [[160, 96], [176, 90], [202, 112], [200, 126], [184, 122]]), true, 5));
  hand(d, { x, y: y - 20, scale: 3.2, turn: 0.5 });

  d.pen = 8;
  ilo(d, { x: 330, y: 1900, scale: 1.5 });
  for (const [mx, my, s] of [[1800, 2970, 200], [1930, 3000, 140], [1650, 3020, 110], [150, 2970, 190], [290, 3010, 120]] as const) mushroom(d, mx, my, s, mx);
  d.pen = 7;
  fern(d, [1990, 2900], [1850, 2330], -40, 8, 411);
  fern(d, [60, 2900], [220, 2420], 60, 8, 412);
  const stone = (sx: number, sy: number, r: number, k: number): Point[] => Array.from({ length: 7 }, (_, j): Point => [sx + Math.cos(k + j * 0.9) * r, sy + Math.sin(k + j * 0.9) * r * 0.7]);
  for (const [sx, sy, r] of [[430, 3030, 80], [1470, 3050, 70], [560, 3060, 50]] as const) d.shape(r > 60 ? 'stone' : 'stone-dark', curve(stone(sx, sy, r, sx), true, 6), { width: 7, ...(r > 60 ? { gap: { at: 0.7, widthPx: 8 } } : {}) });

  letter(d, 1040, 170, ['THE UNDERSTORY LINE'], 92);
  balloon(d, 560, 640, 330, 92, [900, 960], ['LAST STOP, LITTLE ONE.', 'WATCH YOUR WINGS.']);
}
