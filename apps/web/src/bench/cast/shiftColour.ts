import { colord, extend } from 'colord';
import labPlugin from 'colord/plugins/lab';

extend([labPlugin]);

/** How a scene differs from the one it is copied from; each from -100 to 100. */
export interface SceneShift {
  readonly lightness: number;
  readonly warmth: number;
  readonly saturation: number;
}
export const NO_SHIFT: SceneShift = { lightness: 0, warmth: 0, saturation: 0 };

/** Where a marking's colour goes when that of the part it lies on changes: as far, in CIE L*a*b*. */
export function followColour(marking: string, before: string, after: string): string {
  const [own, from, to] = [colord(marking).toLab(), colord(before).toLab(), colord(after).toLab()];
  return colord({
    l: Math.max(0, Math.min(100, own.l + to.l - from.l)),
    a: own.a + to.a - from.a,
    b: own.b + to.b - from.b,
    alpha: 1,
  })
    .toHex()
    .slice(0, 7);
}

/** A colour in another light: shifted in CIE L*a*b*, warmer towards yellow and red. */
export function shiftColour(hex: string, { lightness, warmth, saturation }: SceneShift): string {
  const { l, a, b } = colord(hex).toLab();
  const chroma = 1 + saturation / 100;
  return colord({
    l: Math.max(0, Math.min(100, l + lightness * 0.6)),
    a: a * chroma + warmth * 0.12,
    b: b * chroma + warmth * 0.4,
    alpha: 1,
  })
    .toHex()
    .slice(0, 7);
}
