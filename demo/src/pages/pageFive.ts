import type { Drawing } from '../Drawing.ts';
import { curve, ellipse, line, rectangle, type Point } from '../geometry.ts';
import { balloon, caption } from '../lettering.ts';
import { ilo } from '../figures/ilo.ts';
import { mumble } from '../figures/mumble.ts';
import { lantern, wrenBust, wrenFigure } from '../figures/wren.ts';
import { fern, mushroom, root } from '../sets/plants.ts';
import { paving, stoneWall, track, tunnel } from '../sets/tunnel.ts';
import { tram } from '../sets/tram.ts';

/** Page 5: the lamps go out at Rootwell. Five panels in heavy blacks and cross-hatching. */
export function drawPageFive(d: Drawing): void {
  const [left, right] = [96, d.width - 96];

  // 1. Down into the dark.
  d.panel(rectangle(left, 96, right - left, 860), 'earth', () => {
    d.pen = 6.5;
    tunnel(d, { eye: [1340, 560], reach: [640, 470], rings: 4, seed: 304 });
    track(d, [[900, 980], [1860, 980]], [[1326, 620], [1360, 620]], 5);
    d.black(curve([[90, 90], [1000, 90], [860, 260], [760, 520], [800, 800], [900, 970], [90, 970]], true, 9));
    d.pen = 5.5;
    tram(d, { x: 1330, y: 540, scale: 0.62 });
    shadow(d, [[820, 960], [760, 420]], [[1060, 960], [960, 300]], 22, 305);
    shadow(d, [[1960, 300], [1960, 900]], [[1780, 380], [1760, 860]], 20, 306);
    d.pen = 7;
    d.white(curve([[420, 300], [560, 260], [660, 330], [690, 520], [650, 760], [680, 930], [330, 930], [300, 620], [330, 400]], true, 8));
    wrenFigure(d, { x: 500, y: 390, scale: 0.92 }, 'calm', 'lantern', { at: 0.31, widthPx: 9 });
    caption(d, 1440, 130, 480, 112, ['ROOTWELL, WHERE', 'THE LAMPS END.']);
  });

  // 2. Wren.
  d.panel(rectangle(left, 996, 620, 960), 'depth', () => {
    d.pen = 6;
    stoneWall(d, left, 990, 620, 980, 5, 321);
    d.black(curve([[90, 990], [730, 990], [730, 1200], [560, 1110], [300, 1140], [190, 1320], [160, 1640], [90, 1760]], true, 8));
    shadow(d, [[110, 1700], [110, 1960]], [[260, 1640], [250, 1960]], 16, 322);
    d.pen = 9;
    wrenBust(d, { x: 420, y: 1460, scale: 1.8 }, 'alarmed', { at: 0.75, widthPx: 11 });
    shadow(d, [[560, 1700], [580, 1950]], [[470, 1740], [480, 1950]], 14, 323);
  });

  // 3. The one lamp left.
  d.panel(rectangle(756, 996, 540, 960), 'depth', () => {
    d.black(rectangle(740, 980, 580, 1000));
    d.white(ellipse(1026, 1440, 236, 330));
    d.shape('earth', ellipse(1026, 1440, 224, 318), { width: 6 });
    for (let k = 0; k < 16; k++) {
      const a = (k / 16) * 2 * Math.PI;
      d.stroke([[1026 + Math.cos(a) * 214, 1440 + Math.sin(a) * 306], [1026 + Math.cos(a + 0.03) * 188, 1440 + Math.sin(a + 0.03) * 272], [1026 + Math.cos(a + 0.05) * 160, 1440 + Math.sin(a + 0.05) * 236]], { width: 5, taper: [0, 0.8] });
    }
    d.pen = 8;
    lantern(d, { x: 1026, y: 1290, scale: 3.2 });
  });

  // 4. Ilo in the dark.
  d.panel(rectangle(1336, 996, right - 1336, 960), 'depth', () => {
    d.pen = 6;
    stoneWall(d, 1336, 990, 640, 980, 6, 341);
    d.black(curve([[1320, 980], [1980, 980], [1980, 1500], [1880, 1260], [1640, 1150], [1440, 1240], [1380, 1560], [1320, 1640]], true, 8));
    d.pen = 8;
    ilo(d, { x: 1650, y: 1560, scale: 1.5 });
    shadow(d, [[1350, 1900], [1960, 1900]], [[1370, 1800], [1940, 1800]], 30, 342);
    balloon(d, 1650, 1110, 230, 64, [1650, 1450], ['ARE WE LOST?']);
  });

  // 5. Eyes.
  d.panel(rectangle(left, 1996, right - left, 1038), 'depth', () => {
    d.pen = 6;
    stoneWall(d, left, 1990, right - left, 560, 4, 351);
    paving(d, [[-200, 3060], [2300, 3060]], [[400, 2540], [1700, 2540]], 4, 7);
    d.black(curve([[90, 1990], [1970, 1990], [1970, 2300], [1700, 2160], [1300, 2130], [1000, 2190], [600, 2140], [300, 2240], [200, 2500], [90, 2660]], true, 9));
    shadow(d, [[100, 3020], [900, 3020]], [[140, 2860], [860, 2880]], 34, 352);
    d.pen = 9;
    mumble(d, { x: 1500, y: 2600, scale: 1.2 }, { at: 0.87, widthPx: 12 });
    shadow(d, [[1300, 2980], [1720, 2980]], [[1340, 2900], [1690, 2900]], 24, 353);
    d.pen = 7.5;
    root(d, 'root', [[1980, 2060], [1880, 2380], [1930, 2700], [1840, 3060]], [150, 90], 354, { at: 0.31, widthPx: 10 });
    d.shape('wood', line([[180, 2700], [270, 2690], [280, 3060], [172, 3060]], 8, true), { width: 7, gap: { at: 0.15, widthPx: 8 } });
    d.shape('sign', line([[120, 2560], [430, 2548], [434, 2690], [124, 2700]], 8, true), { width: 7.5, gap: { at: 0.55, widthPx: 9 } });
    for (const [x, y, s] of [[1040, 3000, 130], [1130, 3020, 90]] as const) mushroom(d, x, y, s, x);
    d.pen = 8.5;
    wrenBust(d, { x: 700, y: 2670, scale: 1.4 }, 'glad', { at: 0.19, widthPx: 12 });
    d.pen = 6;
    fern(d, [1180, 3050], [1260, 2760], 50, 5, 355);
    d.shape('lamp', ellipse(520, 2460, 40, 46), { width: 7, gap: { at: 0.3, widthPx: 8 } });
    balloon(d, 900, 2330, 280, 76, [760, 2540], ['NOT WHILE SOMEBODY', 'WAITS FOR US.']);
  });
}

/** Deep shadow between two edges. */
function shadow(d: Drawing, from: readonly [Point, Point], to: readonly [Point, Point], count: number, seed: number): void {
  d.crossHatch(from, to, count, 3.2, seed);
}
