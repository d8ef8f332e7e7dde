import type { Drawing } from '../Drawing.ts';
import { curve, ellipse, line, place, type Frame, type Point } from '../geometry.ts';

/** Ilo, the moth child: feathered feelers, great eyes, wings with two spots each. Head 80 units high around the origin. */
export function ilo(d: Drawing, frame: Frame, wings = true): void {
  const at = (points: readonly Point[]): Point[] => place(frame, points);
  const w = d.pen;
  if (wings) {
    for (const side of [-1, 1]) {
      const put = (points: readonly Point[]): Point[] => at(points.map(([x, y]): Point => [x * side, y]));
      d.shape('ilo-wing', curve(put([[16, 58], [90, -8], [150, 6], [160, 70], [110, 120], [40, 124]]), true, 5), { width: w * 1.05 });
      d.shape('ilo-wing', curve(put([[20, 110], [92, 116], [116, 160], [80, 196], [30, 170]]), true, 5), { width: w });
      for (const [x, y, r] of [[104, 58, 26], [76, 152, 18]] as const) {
        d.shape('ilo-ring', put(ellipse(x, y, r, r * 0.9)), { width: w * 0.7 });
        d.shape('ilo-spot', put(ellipse(x, y, r * 0.62, r * 0.56)), { width: w * 0.6 });
        d.black(put(ellipse(x - 2, y, r * 0.25, r * 0.28)));
      }
      for (const [x, y] of [[128, 22], [148, 50], [140, 90]] as const) d.stroke(curve(put([[40, 70], [(x + 40) / 2, (y + 66) / 2 - 6], [x - 14, y + 2]])), { width: w * 0.45, taper: [0.1, 0.5] });
    }
  }
  d.shape('ilo-dress', curve(at([[-24, 40], [24, 40], [50, 150], [30, 172], [0, 166], [-30, 174], [-50, 150]]), true, 5), { width: w });
  for (const x of [-18, 2, 20]) d.stroke(curve(at([[x * 0.7, 84], [x, 120], [x * 1.3, 158]])), { width: w * 0.5, taper: [0.5, 0.1] });
  for (const y of [66, 86]) d.shape('ilo-ring', at(ellipse(0, y, 4.5, 4.5)), { width: w * 0.5 });
  d.shape('ilo-fur', curve(at([[-36, 32], [-20, 44], [-10, 36], [0, 48], [10, 36], [22, 44], [36, 32], [26, 58], [14, 50], [4, 64], [-6, 52], [-16, 62], [-26, 50]]), true, 3), { width: w * 0.8 });
  d.shape('ilo-fur', curve(at([[-38, 0], [-42, -22], [-24, -38], [0, -42], [24, -38], [42, -22], [38, 2], [26, 30], [0, 40], [-26, 30]]), true, 4), { width: w * 1.05 });
  for (const side of [-1, 1]) {
    d.shape('ilo-eye', at(ellipse(side * 18, -2, 13, 16)), { width: w * 0.7 });
    d.black(at(ellipse(side * 17, 1, 7.5, 10)));
    d.white(at(ellipse(side * 17 - 2, -3, 2.4, 3)));
    // Feelers.
    const stem = curve(at([[side * 14, -38], [side * 30, -66], [side * 58, -84]]), false, 4);
    d.stroke(stem, { width: w * 0.7, taper: [0, 0.3] });
    for (let k = 3; k < stem.length - 1; k += 3) {
      const [x, y] = stem[k]!;
      const reach = frame.scale * 13 * Math.sin((k / stem.length) * Math.PI);
      d.stroke(line([[x, y], [x + side * reach * 0.2, y - reach]], 3), { width: w * 0.5, taper: [0, 0.7] });
      d.stroke(line([[x, y], [x + side * reach, y + reach * 0.35]], 3), { width: w * 0.5, taper: [0, 0.7] });
    }
  }
  d.stroke(curve(at([[-7, 24], [0, 28], [8, 23]])), { width: w * 0.6, taper: [0.3, 0.3] });
  for (const [x, y] of [[-32, 14], [-28, 22], [32, 14], [28, 22]] as const) d.stroke(line(at([[x, y], [x * 0.82, y + 4]]), 3), { width: w * 0.45, taper: [0, 0.6] });
}
