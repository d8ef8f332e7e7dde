import type { Drawing } from '../Drawing.ts';
import { curve, ellipse, makeRandom, place, type Frame, type Point } from '../geometry.ts';

/** Mumble, the digger: a huge soft mole with a star for a nose. The nose is at the origin. */
export function mumble(d: Drawing, frame: Frame, gap?: { at: number; widthPx: number }): void {
  const at = (points: readonly Point[]): Point[] => place(frame, points);
  const w = d.pen;
  const body = curve(at([[-150, 320], [-190, 160], [-170, 10], [-120, -90], [-40, -130], [60, -128], [140, -80], [196, 20], [214, 180], [180, 330]]), true, 6);
  d.shape('mumble-fur', body, { width: w * 1.3, ...(gap === undefined ? {} : { gap }) });
  // Fur along the back and sides, in tufts.
  const random = makeRandom(77);
  for (let k = 4; k < body.length * 0.92; k += 6) {
    const [x, y] = body[k]!;
    const [cx, cy] = at([[10, 120]])[0]!;
    const inward = 0.1 + random() * 0.14;
    const end: Point = [x + (cx - x) * inward + (random() - 0.5) * 16, y + (cy - y) * inward + 14 * frame.scale];
    d.stroke([[x, y], [(x + end[0]) / 2 + 4, (y + end[1]) / 2], end], { width: w * 0.6, taper: [0, 0.8], weight: 0 });
  }
  d.shape('mumble-belly', curve(at([[-84, 320], [-104, 200], [-70, 110], [20, 84], [104, 116], [130, 210], [110, 320]]), true, 6), { width: w * 0.8 });
  for (let k = 0; k < 9; k++) d.stroke(curve(at([[-60 + 20 * k, 150 + 10 * (k % 3)], [-58 + 20 * k, 172 + 10 * (k % 3)], [-52 + 20 * k, 190 + 10 * (k % 3)]])), { width: w * 0.5, taper: [0.2, 0.7] });
  // Paws with claws.
  for (const side of [-1, 1]) {
    const put = (points: readonly Point[]): Point[] => at(points.map(([x, y]): Point => [10 + x * side, y]));
    d.shape('mumble-fur', curve(put([[128, 130], [180, 108], [236, 130], [250, 186], [206, 214], [150, 196]]), true, 5), { width: w * 1.1 });
    for (let k = 0; k < 5; k++) {
      const [x, y] = [178 + 20 * k, 206 - 8 * Math.abs(k - 1.5)];
      d.shape('mumble-claw', curve(put([[x - 11, y - 4], [x + 10, y - 8], [x + 12, y + 22], [x + 4, y + 46], [x - 6, y + 24]]), true, 3), { width: w * 0.75 });
    }
    d.hatch([put([[136, 140]])[0]!, put([[150, 190]])[0]!], [put([[160, 136]])[0]!, put([[176, 184]])[0]!], 8, w * 0.5, 41);
  }
  // Muzzle, star nose, small eyes.
  d.shape('mumble-belly', curve(at([[-64, -6], [-30, -50], [24, -52], [60, -8], [40, 46], [-2, 60], [-46, 44]]), true, 5), { width: w });
  for (let k = 0; k < 11; k++) {
    const a = (k / 11) * 2 * Math.PI;
    d.shape('mumble-nose', at(ellipse(Math.cos(a) * 30, Math.sin(a) * 26, 14, 7.5, a)), { width: w * 0.65 });
  }
  d.shape('mumble-nose', at(ellipse(0, 0, 19, 16)), { width: w * 0.8 });
  for (const x of [-7, 7]) d.black(at(ellipse(x, 0, 3.5, 6)));
  for (const x of [-66, 62]) {
    d.black(at(ellipse(x, -60, 8, 10)));
    d.white(at(ellipse(x - 2, -63, 2.6, 3)));
    d.stroke(curve(at([[x - 16, -74], [x, -82], [x + 15, -72]])), { width: w * 0.7, taper: [0.4, 0.4] });
  }
  d.stroke(curve(at([[-22, 40], [0, 50], [24, 38]])), { width: w * 0.7, taper: [0.3, 0.3] });
  for (const side of [-1, 1]) for (const y of [10, 22, 34]) d.stroke(curve(at([[side * 44, y], [side * 80, y - 6], [side * 112, y + 4]])), { width: w * 0.4, taper: [0.1, 0.6] });
}
