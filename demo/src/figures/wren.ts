import type { Drawing } from '../Drawing.ts';
import { curve, ellipse, line, place, type Frame, type Point } from '../geometry.ts';

/** What her face says. */
export type Mood = 'calm' | 'glad' | 'alarmed';

/**
 * Wren, the conductor, known by her cap with the leaf badge, round spectacles, black bob and striped
 * scarf. The head is 100 units high around the origin, looking to the right.
 */
export function wrenHead(d: Drawing, frame: Frame, mood: Mood): void {
  const at = (points: readonly Point[]): Point[] => place(frame, points);
  const s = frame.scale;
  const w = d.pen;
  // Hair behind, in one black mass with two lights.
  d.black(curve(at([[-40, -34], [-52, -6], [-56, 26], [-48, 50], [-26, 52], [-22, 20], [10, -30], [-10, -46]]), true, 4), 'wren-hair');
  for (const k of [0, 1]) d.stroke(curve(at([[-45 + 7 * k, -6 + 4 * k], [-49 + 7 * k, 16], [-45 + 7 * k, 38 - 6 * k]])), { width: 0 });
  d.white(curve(at([[-44, -8], [-50, 14], [-47, 34], [-46.5, 14]]), true, 3));
  d.white(curve(at([[-37, 4], [-41, 22], [-38, 40], [-37.5, 22]]), true, 3));
  // Face, ear and fringe.
  d.shape('wren-skin', curve(at([[-26, -32], [8, -38], [34, -26], [38, -6], [43, 8], [36, 16], [36, 30], [22, 49], [8, 52], [-10, 44], [-24, 26], [-27, 6]]), true, 4), { width: w * 1.1 });
  d.shape('wren-skin', curve(at([[-28, -2], [-20, -6], [-15, 4], [-19, 16], [-26, 16]]), true, 3), { width: w * 0.8 });
  d.stroke(curve(at([[-25, 1], [-20, 2], [-21, 10]])), { width: w * 0.5, taper: [0.2, 0.5] });
  d.black(curve(at([[-30, -30], [-26, 0], [-20, -10], [-12, -26], [4, -32], [20, -30], [35, -16], [34, -34], [0, -44]]), true, 3), 'wren-hair');
  // Spectacles.
  const eyeY = -4;
  for (const [x, r] of [[3, 13], [30, 10.5]] as const) {
    d.shape('wren-glass', at(ellipse(x, eyeY, r, 13)), { width: w * 0.75, weight: 0.15 });
    const look = mood === 'alarmed' ? 0 : 2.5;
    const open = mood === 'glad' ? 2.6 : 4.6;
    d.black(at(ellipse(x + look, eyeY + 1, 3.6, open)));
    if (mood !== 'glad' && s > 0.9) d.white(at(ellipse(x + look + 1.2, eyeY - 1, 1.2, 1.4)));
    d.stroke(curve(at(mood === 'alarmed' ? [[x - 9, -22], [x, -27], [x + 8, -24]] : [[x - 9, -20], [x, -23], [x + 9, -19]])), { width: w * 0.8, taper: [0.3, 0.4] });
  }
  d.stroke(line(at([[16, eyeY - 1], [19.5, eyeY - 1]]), 3), { width: w * 0.6 });
  d.stroke(line(at([[-10, eyeY - 2], [-22, -1]]), 4), { width: w * 0.6 });
  // Nose and mouth.
  d.stroke(curve(at([[21, 4], [28, 14], [23, 18], [18, 17]])), { width: w * 0.65, taper: [0.4, 0.3] });
  if (mood === 'alarmed') d.black(at(ellipse(19, 33, 5, 7)));
  else if (mood === 'glad') d.shape('blank', curve(at([[6, 27], [18, 31], [31, 26], [26, 36], [14, 37]]), true, 3), { width: w * 0.6 });
  else d.stroke(curve(at([[9, 31], [19, 33], [29, 29]])), { width: w * 0.65, taper: [0.3, 0.4] });
  d.stroke(curve(at([[-2, 40], [4, 43]])), { width: w * 0.4, taper: [0.5, 0.5] });
  for (const [x, y] of [[-4, 14], [1, 17], [-8, 18], [33, 14]] as const) d.black(at(ellipse(x, y, 1, 1)));
  if (s > 1.1) d.hatch([at([[-23, 14]])[0]!, at([[-12, 40]])[0]!], [at([[-12, 16]])[0]!, at([[-2, 38]])[0]!], 7, w * 0.4, 3);
  // Cap: crown, band, peak and badge.
  d.shape('wren-cap', curve(at([[-42, -34], [-48, -58], [-26, -78], [10, -80], [40, -66], [42, -44], [20, -52], [-14, -50]]), true, 4), { width: w * 1.15 });
  d.stroke(curve(at([[-30, -68], [-6, -62], [30, -62]])), { width: w * 0.6, taper: [0.3, 0.4] });
  d.hatch([at([[-42, -44]])[0]!, at([[-30, -72]])[0]!], [at([[-26, -48]])[0]!, at([[-16, -66]])[0]!], 8, w * 0.45, 11);
  d.shape('wren-band', curve(at([[-42, -34], [-14, -50], [20, -52], [42, -44], [40, -34], [20, -41], [-10, -39], [-38, -25]]), true, 4), { width: w * 0.9 });
  d.black(curve(at([[4, -40], [26, -42], [42, -36], [60, -24], [50, -20], [30, -28], [10, -30]]), true, 3), 'wren-cap');
  d.white(curve(at([[20, -37], [36, -34], [50, -25], [34, -31]]), true, 3));
  d.shape('wren-brass', curve(at([[12, -62], [24, -58], [24, -46], [12, -40], [4, -48], [4, -58]]), true, 3), { width: w * 0.7 });
  d.stroke(line(at([[13, -58], [14, -44]]), 3), { width: w * 0.4 });
}

/** Scarf round the neck, its end hanging over the coat. */
export function wrenScarf(d: Drawing, frame: Frame): void {
  const at = (points: readonly Point[]): Point[] => place(frame, points);
  const w = d.pen;
  const tail = [[-8, 62], [14, 64], [20, 110], [24, 152], [-4, 158], [-8, 110]] as const;
  d.shape('wren-scarf', curve(at(tail), true, 4), { width: w });
  for (const y of [84, 112, 138]) {
    d.shape('wren-stripe', at(line([[-8.5 + (y > 120 ? 2 : 0), y], [16.5 + (y - 84) * 0.1, y + 2], [17.5 + (y - 84) * 0.1, y + 12], [-8 + (y > 120 ? 2.5 : 0), y + 11]], 4, true)), { width: w * 0.6 });
  }
  for (let k = 0; k < 6; k++) d.stroke(line(at([[-2 + 5 * k, 156], [-4 + 5.6 * k, 170]]), 4), { width: w * 0.6, taper: [0, 0.6] });
  d.shape('wren-scarf', curve(at([[-34, 38], [-12, 50], [12, 56], [32, 44], [42, 54], [30, 72], [0, 78], [-30, 70], [-44, 52]]), true, 4), { width: w * 1.05 });
  d.shape('wren-stripe', curve(at([[-27, 42], [-16, 48], [-20, 72], [-33, 67]]), true, 4), { width: w * 0.6 });
  d.shape('wren-stripe', curve(at([[10, 57], [22, 50], [24, 72], [10, 76]]), true, 4), { width: w * 0.6 });
  d.stroke(curve(at([[-12, 62], [0, 66], [8, 64]])), { width: w * 0.5, taper: [0.4, 0.5] });
}

/** Shoulders and chest, for a panel that cuts her at the waist. */
export function wrenBust(d: Drawing, frame: Frame, mood: Mood, gap?: { at: number; widthPx: number }): void {
  const at = (points: readonly Point[]): Point[] => place(frame, points);
  const w = d.pen;
  d.shape('wren-coat', curve(at([[-30, 56], [-74, 78], [-100, 120], [-112, 260], [-40, 280], [70, 280], [108, 250], [100, 130], [76, 82], [30, 58]]), true, 5), { width: w * 1.2, ...(gap === undefined ? {} : { gap }) });
  wrenChest(d, frame, mood);
}

/** The same where no panel cuts her off: the coat runs out into the paper below. */
export function wrenRunningOut(d: Drawing, frame: Frame, mood: Mood): void {
  const at = (points: readonly Point[]): Point[] => place(frame, points);
  const w = d.pen;
  d.openShape('wren-coat', curve(at([[-150, 452], [-122, 330], [-112, 240], [-100, 120], [-74, 78], [-30, 56], [30, 58], [76, 82], [100, 130], [112, 240], [124, 330], [146, 436]]), false, 5), { width: w * 1.25, taper: [0.1, 0.1] });
  d.stroke(curve(at([[8, 280], [2, 350], [10, 420]])), { width: w * 0.9, taper: [0, 0.6] });
  d.stroke(curve(at([[-66, 300], [-84, 370], [-94, 430]])), { width: w * 0.7, taper: [0.5, 0.5] });
  d.stroke(curve(at([[70, 296], [88, 360], [96, 410]])), { width: w * 0.7, taper: [0.5, 0.5] });
  wrenChest(d, frame, mood);
}

function wrenChest(d: Drawing, frame: Frame, mood: Mood): void {
  const at = (points: readonly Point[]): Point[] => place(frame, points);
  const w = d.pen;
  d.shape('wren-lining', at(line([[-34, 60], [-58, 84], [-34, 150], [-2, 226], [2, 150], [-6, 84]], 5, true)), { width: w * 0.9 });
  d.shape('wren-lining', at(line([[34, 60], [62, 88], [44, 140], [14, 226], [8, 150], [16, 84]], 5, true)), { width: w * 0.9 });
  d.stroke(line(at([[6, 150], [8, 280]]), 5), { width: w * 0.9 });
  for (const [x, y] of [[-14, 240], [-12, 272], [28, 236], [30, 270]] as const) {
    d.shape('wren-brass', at(ellipse(x, y, 7, 7)), { width: w * 0.65 });
    d.stroke(at(ellipse(x, y, 3, 3)).slice(0, 8), { width: w * 0.35 });
  }
  d.stroke(curve(at([[-76, 130], [-70, 200], [-80, 270]])), { width: w, taper: [0.3, 0.1] });
  d.stroke(curve(at([[78, 130], [72, 190], [80, 260]])), { width: w, taper: [0.3, 0.1] });
  d.hatch([at([[-98, 140]])[0]!, at([[-106, 250]])[0]!], [at([[-80, 132]])[0]!, at([[-84, 240]])[0]!], 14, w * 0.5, 21);
  d.hatch([at([[100, 150]])[0]!, at([[106, 240]])[0]!], [at([[82, 146]])[0]!, at([[84, 232]])[0]!], 11, w * 0.5, 22);
  d.hatch([at([[-72, 92]])[0]!, at([[-50, 84]])[0]!], [at([[-62, 112]])[0]!, at([[-44, 106]])[0]!], 6, w * 0.45, 23);
  d.shape('wren-brass', at(line([[58, 104], [84, 96], [90, 116], [64, 124]], 4, true)), { width: w * 0.6 });
  d.stroke(line(at([[66, 112], [82, 107]]), 4), { width: w * 0.4 });
  wrenScarf(d, frame);
  wrenHead(d, frame, mood);
}

/** A hand held up with the lantern. Its handle hangs from the origin. */
export function lantern(d: Drawing, frame: Frame): void {
  const at = (points: readonly Point[]): Point[] => place(frame, points);
  const w = d.pen;
  d.stroke(curve(at([[-18, 22], [-14, 2], [0, -6], [14, 2], [18, 22]])), { width: w * 0.8 });
  d.shape('wren-brass', at(line([[-14, 16], [14, 16], [22, 30], [-22, 30]], 4, true)), { width: w * 0.8 });
  d.shape('lamp', at(line([[-19, 31], [19, 31], [22, 78], [-22, 78]], 4, true)), { width: w * 0.8 });
  d.shape('lamp', at(curve([[0, 40], [8, 56], [0, 70], [-8, 56]], true, 3)), { width: w * 0.5 });
  for (const x of [-8, 8]) d.stroke(line(at([[x * 0.9, 31], [x, 40]]), 4), { width: w * 0.5 });
  for (const x of [-11, 11]) d.stroke(line(at([[x, 31], [x * 1.15, 78]]), 4), { width: w * 0.6 });
  d.shape('wren-brass', at(line([[-26, 78], [26, 78], [22, 90], [-22, 90]], 4, true)), { width: w * 0.8 });
}

export function hand(d: Drawing, frame: Frame): void {
  const at = (points: readonly Point[]): Point[] => place(frame, points);
  const w = d.pen;
  d.shape('wren-skin', curve(at([[-16, 18], [-20, 0], [-12, -16], [6, -20], [18, -10], [18, 8], [10, 20]]), true, 3), { width: w * 0.9 });
  for (const k of [0, 1, 2]) d.stroke(curve(at([[-6 + 8 * k, -17 + 2 * k], [-9 + 8 * k, -6], [-6 + 8 * k, 2]])), { width: w * 0.5, taper: [0, 0.6] });
  d.shape('wren-skin', curve(at([[-14, 10], [-24, 2], [-28, -8], [-20, -12], [-10, 0]]), true, 3), { width: w * 0.75 });
}

/** Wren from head to boots; the origin is her head, she is about 640 units tall. */
export function wrenFigure(d: Drawing, frame: Frame, mood: Mood, pose: 'lantern' | 'wave', gap?: { at: number; widthPx: number }): void {
  const at = (points: readonly Point[]): Point[] => place(frame, points);
  const w = d.pen;
  // Boots and trousers.
  for (const [x, lean] of [[-34, -6], [32, 8]] as const) {
    d.shape('wren-trousers', at(line([[x - 22, 380], [x + 22, 380], [x + 18 + lean, 486], [x - 20 + lean, 486]], 6, true)), { width: w });
    d.hatch([at([[x - 20, 400]])[0]!, at([[x - 19, 470]])[0]!], [at([[x, 396]])[0]!, at([[x, 466]])[0]!], 7, w * 0.5, 31);
    d.black(curve(at([[x - 22 + lean, 478], [x + 22 + lean, 478], [x + 24 + lean, 530], [x + 56 + lean, 548], [x + 58 + lean, 562], [x - 26 + lean, 562]]), true, 4), 'wren-hair');
    d.white(curve(at([[x - 12 + lean, 492], [x - 14 + lean, 528], [x - 8 + lean, 546], [x - 9 + lean, 520]]), true, 3));
    d.white(curve(at([[x + 20 + lean, 544], [x + 42 + lean, 551], [x + 46 + lean, 555], [x + 24 + lean, 550]]), true, 3));
  }
  // The far arm, then the coat over it.
  if (pose === 'wave') {
    d.shape('wren-coat', curve(at([[66, 96], [118, 40], [140, -30], [168, -22], [160, 50], [108, 150], [76, 150]]), true, 5), { width: w * 1.1 });
    d.shape('wren-lining', curve(at([[136, -30], [150, -40], [172, -30], [168, -14], [150, -18]]), true, 4), { width: w * 0.8 });
    hand(d, { ...frame, x: at([[156, -58]])[0]![0], y: at([[156, -58]])[0]![1] });
  }
  d.shape('wren-coat', curve(at([[-30, 56], [-70, 76], [-84, 120], [-74, 230], [-104, 400], [-60, 424], [4, 416], [70, 426], [108, 396], [74, 236], [82, 120], [68, 78], [30, 58]]), true, 5), { width: w * 1.2, ...(gap === undefined ? {} : { gap }) });
  d.shape('wren-lining', at(line([[4, 250], [30, 330], [44, 420], [4, 416], [-14, 419], [-6, 330]], 5, true)), { width: w * 0.9 });
  d.stroke(curve(at([[-40, 240], [-52, 330], [-78, 410]])), { width: w * 0.8, taper: [0.5, 0.1] });
  d.stroke(curve(at([[46, 250], [62, 330], [84, 404]])), { width: w * 0.8, taper: [0.5, 0.1] });
  d.hatch([at([[-78, 250]])[0]!, at([[-102, 396]])[0]!], [at([[-56, 250]])[0]!, at([[-70, 390]])[0]!], 18, w * 0.5, 33);
  d.shape('wren-brass', at(line([[-72, 224], [76, 230], [76, 246], [-74, 242]], 5, true)), { width: w * 0.8 });
  d.shape('wren-brass', at(line([[-12, 220], [20, 222], [20, 252], [-12, 250]], 4, true)), { width: w * 0.8 });
  d.shape('wren-lining', at(line([[-34, 60], [-54, 84], [-30, 146], [-2, 218], [2, 150], [-6, 84]], 5, true)), { width: w * 0.85 });
  d.shape('wren-lining', at(line([[34, 60], [56, 86], [40, 140], [12, 218], [8, 150], [16, 84]], 5, true)), { width: w * 0.85 });
  for (const y of [272, 330]) for (const x of [-22, 50]) d.shape('wren-brass', at(ellipse(x - (x > 0 ? 0 : (y - 262) * 0.1), y, 6.5, 6.5)), { width: w * 0.6 });
  wrenScarf(d, frame);
  // The near arm.
  if (pose === 'lantern') {
    lantern(d, { ...frame, x: at([[-150, 166]])[0]![0], y: at([[-150, 166]])[0]![1], scale: frame.scale * 1.15 });
    d.shape('wren-coat', curve(at([[-58, 84], [-98, 116], [-128, 158], [-162, 146], [-168, 168], [-130, 206], [-82, 176], [-52, 140]]), true, 5), { width: w * 1.1 });
    d.shape('wren-lining', curve(at([[-158, 140], [-172, 150], [-172, 174], [-160, 178], [-150, 158]]), true, 4), { width: w * 0.8 });
    hand(d, { ...frame, x: at([[-178, 158]])[0]![0], y: at([[-178, 158]])[0]![1], turn: (frame.turn ?? 0) - 1.2 });
    d.stroke(curve(at([[-100, 130], [-112, 160], [-104, 180]])), { width: w * 0.6, taper: [0.4, 0.4] });
  } else {
    d.shape('wren-coat', curve(at([[-62, 84], [-96, 140], [-104, 220], [-96, 268], [-70, 266], [-64, 200], [-48, 140]]), true, 5), { width: w * 1.1 });
    hand(d, { ...frame, x: at([[-82, 284]])[0]![0], y: at([[-82, 284]])[0]![1], turn: Math.PI });
  }
  wrenHead(d, frame, mood);
}
