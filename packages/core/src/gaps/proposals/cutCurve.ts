import { cosDegrees } from '../../exact/exactMath.ts';
import type { Cut } from '../../model/Cut.ts';
import type { Point } from '../../model/Point.ts';

/** Ends that turn farther than this away from the chord say nothing of the way between them. */
const LEAST_COSINE = cosDegrees(65);
/** Less of a turn is drawn as a chord: the two differ by less than a pixel in a gap of this kind. */
const STRAIGHT_COSINE = cosDegrees(3);

/**
 * The curve that carries two strokes on into each other: a cubic with the handles of a circle's arc,
 * `L / (3 cos^2(turn / 2))`; turns that differ are drawn half way to their mean.
 *
 * @param towards unit directions in which the strokes end, at `from` and at `to`.
 * @returns its two inner points in px, in quarters; null where a chord is as good.
 */
export function curveBetween(
  from: Point,
  to: Point,
  [ax, ay, bx, by]: readonly [number, number, number, number],
): Cut['curve'] {
  const [cx, cy] = [to[0] - from[0], to[1] - from[1]];
  const length = Math.sqrt(cx * cx + cy * cy);
  if (length < 3) return null;
  const [ux, uy] = [cx / length, cy / length];
  // Both turns as if they belonged to one arc: the second one mirrored.
  const [cosA, sinA] = [ax * ux + ay * uy, ux * ay - uy * ax];
  const [cosB, sinB] = [-(bx * ux + by * uy), ux * by - uy * bx];
  if (Math.min(cosA, cosB) < LEAST_COSINE || Math.min(cosA, cosB) > STRAIGHT_COSINE) return null;
  const mean = unit(cosA + cosB, sinA + sinB);
  const first = handle(unit(cosA + mean[0], sinA + mean[1]));
  const second = handle(unit(cosB + mean[0], sinB + mean[1]));
  const quarters = (v: number): number => Math.round(v * 4) / 4;
  return [
    quarters(from[0] + ux * first[0] - uy * first[1]),
    quarters(from[1] + uy * first[0] + ux * first[1]),
    quarters(to[0] - ux * second[0] - uy * second[1]),
    quarters(to[1] - uy * second[0] + ux * second[1]),
  ];

  /** Along and beside the chord. */
  function handle([cos, sin]: Point): Point {
    // cos^2(turn / 2) = (1 + cos(turn)) / 2.
    const reach = length / (1.5 * (1 + cos));
    return [cos * reach, sin * reach];
  }
}

function unit(x: number, y: number): Point {
  const norm = Math.sqrt(x * x + y * y);
  return norm === 0 ? [1, 0] : [x / norm, y / norm];
}

/** A cut as a cubic: its ends and the two inner points, `[x0, y0, x1, y1, x2, y2, x3, y3]` in px; for a chord on the chord. */
export function cubicOfCut({
  from,
  to,
  curve,
}: Pick<Cut, 'from' | 'to' | 'curve'>): [number, number, number, number, number, number, number, number] {
  const [x1, y1, x2, y2] = curve ?? [
    (2 * from[0] + to[0]) / 3,
    (2 * from[1] + to[1]) / 3,
    (from[0] + 2 * to[0]) / 3,
    (from[1] + 2 * to[1]) / 3,
  ];
  return [from[0], from[1], x1, y1, x2, y2, to[0], to[1]];
}

/** A point of a cut and the direction there, `[x, y, dx, dy]`; the direction has no unit length. @param t 0 at `from`, 1 at `to`. */
export function pointOfCut(cut: Pick<Cut, 'from' | 'to' | 'curve'>, t: number): [number, number, number, number] {
  const [x0, y0, x1, y1, x2, y2, x3, y3] = cubicOfCut(cut);
  const s = 1 - t;
  const [a, b, c, d] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
  const [e, f, g] = [s * s, 2 * s * t, t * t];
  return [
    a * x0 + b * x1 + c * x2 + d * x3,
    a * y0 + b * y1 + c * y2 + d * y3,
    e * (x1 - x0) + f * (x2 - x1) + g * (x3 - x2),
    e * (y1 - y0) + f * (y2 - y1) + g * (y3 - y2),
  ];
}

/** Chords that follow a cut to within a pixel. */
const CHORD_PX = 4;

/** The pixels of a cut, ink and paper: an 8-connected line, which no 4-connected path passes. A pixel may come twice. */
export function walkCut(cut: Pick<Cut, 'from' | 'to' | 'curve'>, visit: (x: number, y: number) => void): void {
  const chord = Math.max(Math.abs(cut.to[0] - cut.from[0]), Math.abs(cut.to[1] - cut.from[1]));
  const pieces = cut.curve === null ? 1 : Math.max(2, Math.ceil((1.5 * chord) / CHORD_PX));
  let [x0, y0] = cut.from;
  for (let piece = 1; piece <= pieces; piece++) {
    const [px, py] = piece === pieces ? cut.to : pointOfCut(cut, piece / pieces);
    const [x1, y1] = [Math.round(px), Math.round(py)];
    const steps = Math.max(Math.abs(x1 - x0), Math.abs(y1 - y0));
    for (let k = 0; k <= steps; k++) {
      visit(
        steps === 0 ? x0 : Math.round(x0 + ((x1 - x0) * k) / steps),
        steps === 0 ? y0 : Math.round(y0 + ((y1 - y0) * k) / steps),
      );
    }
    [x0, y0] = [x1, y1];
  }
}
