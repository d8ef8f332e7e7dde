import type { Drawing } from '../Drawing.ts';
import { between, curve, ellipse, line, place, type Frame, type Point } from '../geometry.ts';
import { letter } from '../lettering.ts';

/** The night tram from the front, its side running back to the right. The front is 200 x 300 units around the origin. */
export function tram(d: Drawing, frame: Frame, lit = true): void {
  const at = (points: readonly Point[]): Point[] => place(frame, points);
  const w = d.pen;
  // Side, in perspective: everything on it runs to one point.
  const eye: Point = [620, -20];
  const toward = (p: Point, t: number): Point => between(p, eye, t);
  const back = 0.62;
  const side = (y0: number, y1: number, t0: number, t1: number): Point[] => at([toward([100, y0], t0), toward([100, y0], t1), toward([100, y1], t1), toward([100, y1], t0)]);
  d.shape('tram-body', line(side(-120, 120, 0, back), 8, true), { width: w });
  d.shape('tram-trim', line(side(20, 34, 0, back), 8, true), { width: w * 0.7 });
  const step = (k: number): number => back * (1 - (1 - k / 7) ** 1.25);
  for (let k = 0; k < 6; k++) {
    d.shape(lit ? 'tram-window' : 'depth', line(side(-90, 6, step(k + 0.18), step(k + 0.84)), 6, true), { width: w * 0.85 });
    d.stroke(line(at([toward([100, -60], step(k + 0.18)), toward([100, -60], step(k + 0.84))]), 6), { width: w * 0.5 });
    if (k % 2 === 0) d.black(curve(at([toward([100, 4], step(k + 0.3)), toward([100, -34], step(k + 0.42)), toward([100, -44], step(k + 0.5)), toward([100, -32], step(k + 0.6)), toward([100, 4], step(k + 0.7))]), true, 3));
    for (const y of [52, 74, 96]) d.stroke(line(at([toward([100, y], step(k + 0.1)), toward([100, y], step(k + 0.9))]), 8), { width: w * 0.4, taper: [0.2, 0.3] });
  }
  d.shape('tram-iron', line(side(120, 146, 0, back), 8, true), { width: w * 0.8 });
  d.black(line(side(134, 150, 0.02, back), 8, true));
  d.shape('tram-roof', curve(at([toward([60, -158], 0), toward([100, -120], 0), toward([100, -120], back), toward([60, -158], back)]), true, 8), { width: w * 0.9 });
  // Front.
  d.shape('tram-body', curve(at([[-100, 120], [-100, -100], [-80, -132], [80, -132], [100, -100], [100, 120]]), true, 6), { width: w * 1.2 });
  d.shape('tram-roof', curve(at([[-108, -124], [-70, -164], [0, -176], [70, -164], [108, -124], [0, -134]]), true, 5), { width: w * 1.1 });
  d.shape('tram-trim', at(line([[-98, 16], [98, 16], [98, 34], [-98, 34]], 6, true)), { width: w * 0.8 });
  for (const [x0, x1] of [[-88, -36], [-28, 28], [36, 88]] as const) {
    const pane = line(at([[x0, -104], [x1, -104], [x1, 2], [x0, 2]]), 6, true);
    d.shape(lit ? 'tram-window' : 'depth', pane, { width: w });
    d.stroke(line(at([[x0 + 8, -20], [x0 + 34, -84]]), 6), { width: w * 0.5, taper: [0.3, 0.5] });
    d.stroke(line(at([[x0 + 18, -16], [x0 + 40, -66]]), 6), { width: w * 0.4, taper: [0.3, 0.5] });
  }
  d.shape('sign', at(line([[-44, -128], [44, -128], [44, -108], [-44, -108]], 6, true)), { width: w * 0.8 });
  letter(d, ...at([[0, -118]])[0]!, ['9'], 15 * frame.scale);
  for (const r of [34, 25]) d.shape(r === 34 ? 'wren-brass' : 'lamp', at(ellipse(0, 76, r, r)), { width: w * 0.9 });
  d.stroke(at(ellipse(-4, 72, 14, 14)).slice(12, 24), { width: w * 0.5, taper: [0.4, 0.4] });
  for (const x of [-72, 72]) {
    d.shape('tram-trim', at(line([[x - 16, 50], [x + 16, 50], [x + 16, 104], [x - 16, 104]], 6, true)), { width: w * 0.7 });
    for (const y of [60, 94]) for (const dx of [0]) d.shape('wren-brass', at(ellipse(x + dx, y, 3.6, 3.6)), { width: w * 0.4 });
  }
  d.shape('tram-iron', at(line([[-112, 120], [112, 120], [104, 150], [-104, 150]], 6, true)), { width: w });
  for (const x of [-70, -35, 0, 35, 70]) d.stroke(line(at([[x, 124], [x * 0.95, 146]]), 5), { width: w * 0.6 });
  d.black(at(line([[-90, 150], [90, 150], [78, 166], [-78, 166]], 6, true)));
  d.hatch([at([[-98, -80]])[0]!, at([[-98, 110]])[0]!], [at([[-90, -80]])[0]!, at([[-88, 110]])[0]!], 16, w * 0.45, 51);
}

/** Inside: a row of windows with the roots going by, straps, and a bench. */
export function tramInside(d: Drawing, x: number, y: number, width: number, height: number, panes: number): void {
  const w = d.pen;
  d.shape('tram-trim', line([[x, y], [x + width, y], [x + width, y + height * 0.12], [x, y + height * 0.12]], 12, true), { width: w * 0.9 });
  const step = width / panes;
  for (let k = 0; k < panes; k++) {
    const [l, t, r, b] = [x + k * step + step * 0.1, y + height * 0.18, x + (k + 1) * step - step * 0.1, y + height * 0.6];
    d.shape('tram-trim', line([[l - 14, t - 14], [r + 14, t - 14], [r + 14, b + 14], [l - 14, b + 14]], 8, true), { width: w * 0.9 });
    d.shape('depth', line([[l, t], [r, t], [r, b], [l, b]], 8, true), { width: w * 0.9 });
    for (const [y0, y1, thick] of [[0.62, 0.22, 0.2], [0.12, 0.5, 0.12]] as const) {
      const level = (v: number): number => t + (b - t) * v;
      d.shape('root-far', line([[l, level(y0)], [(l + r) / 2, level((y0 + y1) / 2 - 0.06)], [r, level(y1)], [r, level(y1 + thick)], [(l + r) / 2, level((y0 + y1) / 2 + thick - 0.05)], [l, level(y0 + thick)]], 8, true), { width: w * 0.7 });
      for (const u of [0.2, 0.45, 0.7]) d.stroke([[l + (r - l) * u, level(y0 + (y1 - y0) * u + thick * 0.3)], [l + (r - l) * (u + 0.1), level(y0 + (y1 - y0) * (u + 0.1) + thick * 0.42)], [l + (r - l) * (u + 0.18), level(y0 + (y1 - y0) * (u + 0.18) + thick * 0.5)]], { width: w * 0.5, taper: [0.4, 0.5] });
    }
    d.black(line([[l + 3, b - (b - t) * 0.26], [r - 3, b - (b - t) * 0.2], [r - 3, b - 3], [l + 3, b - 3]], 8, true));
    for (let j = 0; j < 5; j++) d.stroke([[l + (r - l) * (0.15 + 0.16 * j), t + 8], [l + (r - l) * (0.1 + 0.16 * j), t + (b - t) * 0.2]], { width: w * 0.5, taper: [0.1, 0.7] });
    for (const sx of [0.3, 0.7]) {
      const px = l + (r - l) * sx;
      d.stroke(line([[px, y + height * 0.1], [px, y + height * 0.24]], 6), { width: w * 0.7 });
      d.shape('tram-seat', curve([[px - 16, y + height * 0.3], [px, y + height * 0.235], [px + 16, y + height * 0.3], [px, y + height * 0.325]], true, 4), { width: w * 0.7 });
      d.shape('depth', ellipse(px, y + height * 0.292, 7, 9), { width: w * 0.5 });
    }
  }
  d.shape('tram-seat', line([[x, y + height * 0.66], [x + width, y + height * 0.66], [x + width, y + height * 0.86], [x, y + height * 0.86]], 12, true), { width: w });
  for (let k = 1; k < panes * 2; k++) {
    const px = x + (width * k) / (panes * 2);
    d.stroke(curve([[px, y + height * 0.67], [px + 4, y + height * 0.76], [px, y + height * 0.85]], false, 6), { width: w * 0.5, taper: [0.2, 0.3] });
    d.shape('wren-brass', ellipse(px + width / (panes * 4), y + height * 0.76, 7, 7), { width: w * 0.5 });
  }
  d.shape('wood', line([[x, y + height * 0.86], [x + width, y + height * 0.86], [x + width, y + height], [x, y + height]], 12, true), { width: w });
}
