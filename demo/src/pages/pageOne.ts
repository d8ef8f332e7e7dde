import type { Drawing } from '../Drawing.ts';
import { curve, line, rectangle, type Point } from '../geometry.ts';
import { balloon, caption, letter, sound } from '../lettering.ts';
import { ilo } from '../figures/ilo.ts';
import { hand, lantern, wrenBust, wrenFigure } from '../figures/wren.ts';
import { fern, mushroom, root } from '../sets/plants.ts';
import { paving, stoneWall, track, tunnel } from '../sets/tunnel.ts';
import { tram, tramInside } from '../sets/tram.ts';

/** Page 1: the last tram comes in. Five panels. */
export function drawPageOne(d: Drawing): void {
  const [left, right] = [96, d.width - 96];

  // 1. The tunnel; the tram far down it, Wren on the track bed with her lantern.
  d.panel(rectangle(left, 96, right - left, 1060), 'earth', () => {
    d.pen = 6.5;
    tunnel(d, { eye: [1080, 640], reach: [760, 560], rings: 5, seed: 4 });
    track(d, [[560, 1180], [1760, 1180]], [[1062, 690], [1100, 690]], 6);
    d.pen = 5.4;
    tram(d, { x: 1090, y: 640, scale: 0.74 });
    d.pen = 8;
    root(d, 'root', [[60, 300], [220, 520], [190, 820], [330, 1180]], [190, 120], 9, { at: 0.23, widthPx: 9 });
    root(d, 'root', [[1990, 240], [1850, 520], [1900, 800], [1790, 1190]], [200, 110], 12, { at: 0.31, widthPx: 14 });
    d.pen = 6;
    for (const [x, y, s] of [[420, 1130, 120], [520, 1150, 84], [1700, 1120, 140]] as const) mushroom(d, x, y, s, x);
    fern(d, [150, 1190], [420, 760], 90, 7, 1);
    fern(d, [1930, 1190], [1640, 800], -80, 6, 3);
    d.pen = 6.5;
    wrenFigure(d, { x: 690, y: 610, scale: 0.82 }, 'calm', 'lantern', { at: 0.31, widthPx: 6 });
    caption(d, 130, 128, 560, 112, ['THE LAST TRAM RUNS', 'UNDER THE ROOTS.']);
    balloon(d, 1390, 250, 330, 96, [1120, 470], ['UNDERSTORY LINE,', 'MIND THE FERNS!']);
  });

  // 2. Wren, close.
  d.panel(rectangle(left, 1196, 760, 900), 'depth', () => {
    d.pen = 6;
    stoneWall(d, left, 1196, 760, 900, 6, 21);
    d.pen = 7;
    d.black(curve([[60, 1180], [420, 1180], [300, 1330], [190, 1560], [180, 1900], [60, 1980]], true, 8));
    root(d, 'root', [[880, 1180], [800, 1400], [850, 1640], [770, 2120]], [120, 80], 31, { at: 0.27, widthPx: 11 });
    d.pen = 9.5;
    wrenBust(d, { x: 420, y: 1590, scale: 2.15 }, 'glad', { at: 0.75, widthPx: 12 });
    d.pen = 7.5;
    lantern(d, { x: 756, y: 1720, scale: 2.4 });
    balloon(d, 560, 1290, 262, 76, [520, 1420], ['RIGHT ON TIME.']);
  });

  // 3. Inside: Ilo by the window, Wren at the door.
  d.panel(rectangle(896, 1196, right - 896, 900), 'tram-body', () => {
    d.pen = 6;
    tramInside(d, 880, 1190, 1100, 930, 3);
    d.pen = 7;
    ilo(d, { x: 1600, y: 1690, scale: 1.7 });
    d.shape('wood', line([[930, 1980], [1010, 1980], [1014, 2110], [926, 2110]], 8, true), { width: 6, gap: { at: 0.27, widthPx: 7 } });
    d.pen = 7.5;
    wrenBust(d, { x: 1180, y: 1720, scale: 1.35 }, 'calm', { at: 0.31, widthPx: 8 });
    balloon(d, 1240, 1320, 270, 84, [1190, 1570], ['TICKETS, PLEASE.', 'WINGS COUNT TWICE.']);
    balloon(d, 1760, 1400, 176, 66, [1640, 1560], ['NOT FAIR!']);
  });

  // 4. The brake.
  d.panel(rectangle(left, 2136, 620, 900), 'depth', () => {
    d.pen = 5.5;
    stoneWall(d, left, 2130, 620, 920, 5, 61);
    d.pen = 7;
    d.black(curve([[720, 2120], [720, 2900], [640, 2700], [610, 2480], [560, 2300], [470, 2120]], true, 9));
    d.pen = 8.5;
    wrenBust(d, { x: 450, y: 2420, scale: 1.75, mirror: true }, 'alarmed', { at: 0.19, widthPx: 11 });
    // The lever, her hand on it, and the sleeve.
    d.shape('tram-iron', line([[214, 2640], [262, 2640], [292, 3060], [196, 3060]], 9, true), { width: 8, gap: { at: 0.39, widthPx: 10 } });
    for (const y of [2760, 2860, 2960]) d.shape('wren-brass', curve([[226, y], [242, y - 13], [258, y], [242, y + 13]], true, 3), { width: 4 });
    d.shape('wren-coat', curve([[560, 2600], [470, 2700], [360, 2700], [290, 2650], [270, 2720], [330, 2800], [480, 2830], [620, 2760]], true, 6), { width: 9 });
    d.hatch([[330, 2790], [560, 2800]], [[350, 2740], [560, 2730]], 16, 4, 63);
    d.stroke(curve([[470, 2700], [450, 2740], [470, 2790]]), { width: 5, taper: [0.2, 0.4] });
    d.shape('wren-lining', curve([[300, 2640], [262, 2660], [250, 2712], [276, 2734], [318, 2690]], true, 4), { width: 7 });
    d.shape('wren-brass', curve([[238, 2570], [206, 2590], [196, 2630], [238, 2650], [280, 2630], [270, 2590]], true, 5), { width: 8 });
    hand(d, { x: 236, y: 2632, scale: 2.3, turn: 1.3 });
    sound(d, 196, 2930, 'CLANG', 116, -0.14);
    balloon(d, 270, 2230, 150, 58, [380, 2350], ['WHOA!']);
  });

  // 5. Mossgate: the platform.
  d.panel(rectangle(756, 2136, right - 756, 900), 'depth', () => {
    d.pen = 5.2;
    stoneWall(d, 756, 2130, 1210, 430, 3, 81);
    d.pen = 6;
    paving(d, [[560, 3060], [2200, 3060]], [[900, 2600], [1800, 2600]], 4, 6);
    d.pen = 5.5;
    tram(d, { x: 940, y: 2560, scale: 1.05 });
    d.pen = 7;
    d.shape('wood', line([[1420, 2300], [1446, 2300], [1450, 2760], [1416, 2760]], 8, true), { width: 6, gap: { at: 0.63, widthPx: 7 } });
    d.shape('sign', line([[1260, 2210], [1610, 2196], [1616, 2320], [1264, 2330]], 8, true), { width: 7.5, gap: { at: 0.15, widthPx: 9 } });
    letter(d, 1438, 2264, ['MOSSGATE'], 44);
    for (const [x, y] of [[1276, 2226], [1596, 2214], [1280, 2314], [1600, 2304]] as const) d.shape('wren-brass', curve([[x - 7, y], [x, y - 7], [x + 7, y], [x, y + 7]], true, 3), { width: 3.5 });
    d.pen = 6;
    for (const [x, y, s] of [[1500, 2790, 110], [1560, 2810, 74], [1230, 2800, 90]] as const) mushroom(d, x, y, s, x + 5);
    d.pen = 6.5;
    ilo(d, { x: 1690, y: 2620, scale: 1.05 });
    for (const x of [1674, 1706]) d.stroke(line([[x, 2795], [x + 2, 2850]] as Point[], 5), { width: 9, taper: [0, 0.2] });
    d.pen = 6.8;
    wrenFigure(d, { x: 1320, y: 2420, scale: 0.98 }, 'glad', 'wave', { at: 0.31, widthPx: 8 });
    d.pen = 6;
    fern(d, [1960, 3050], [1800, 2680], -50, 6, 91);
    fern(d, [1990, 3050], [1960, 2620], 40, 4, 92);
    fern(d, [1900, 3060], [1650, 2860], -60, 4, 93);
    balloon(d, 1010, 2258, 268, 78, [1270, 2390], ['MOSSGATE! ALL', 'ABOARD, ALL OFF!']);
  });
}
