import { root } from '../exact/exactMath.ts';
import { linearOf } from './lab.ts';

/** OKLab under D65 (Ottosson 2020). */
export interface Oklab {
  readonly l: number;
  readonly a: number;
  readonly b: number;
}

/** The cube root of any number. */
const cubeRoot = (x: number): number => (x < 0 ? -root(-x, 3) : x === 0 ? 0 : root(x, 3));

/** sRGB 0xRRGGBB to OKLab. */
export function oklabOf(rgb: number): Oklab {
  const r = linearOf(rgb >>> 16);
  const g = linearOf((rgb >>> 8) & 255);
  const b = linearOf(rgb & 255);
  const l = cubeRoot(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = cubeRoot(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = cubeRoot(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return {
    l: 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    a: 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    b: 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  };
}

/** OKLab to linear sRGB, unbounded. */
function linearRgb({ l, a, b }: Oklab): readonly [number, number, number] {
  const x = l + 0.3963377774 * a + 0.2158037573 * b;
  const y = l - 0.1055613458 * a - 0.0638541728 * b;
  const z = l - 0.0894841775 * a - 1.291485548 * b;
  const [x3, y3, z3] = [x * x * x, y * y * y, z * z * z];
  return [
    4.0767416621 * x3 - 3.3077115913 * y3 + 0.2309699292 * z3,
    -1.2684380046 * x3 + 2.6097574011 * y3 - 0.3413193965 * z3,
    -0.0041960863 * x3 - 0.7034186147 * y3 + 1.707614701 * z3,
  ];
}

/** What rounds to a byte all the same is still inside. */
const SLACK = 1e-4;
const isByte = (v: number): boolean => v >= -SLACK && v <= 1 + SLACK;
const isInside = (lab: Oklab): boolean => {
  const [r, g, b] = linearRgb(lab);
  return isByte(r) && isByte(g) && isByte(b);
};
/** Halvings of the way to the edge of the gamut. */
const STEPS = 24;

/** OKLab to sRGB 0xRRGGBB; what lies outside loses chroma until it fits, hue and lightness kept. */
export function rgbOfOklab(lab: Oklab): number {
  const l = Math.min(1, Math.max(0, lab.l));
  let shade: Oklab = { l, a: lab.a, b: lab.b };
  if (!isInside(shade)) {
    let [in_, out] = [0, 1];
    for (let k = 0; k < STEPS; k++) {
      const middle = (in_ + out) / 2;
      if (isInside({ l, a: lab.a * middle, b: lab.b * middle })) in_ = middle;
      else out = middle;
    }
    shade = { l, a: lab.a * in_, b: lab.b * in_ };
  }
  const [r, g, b] = linearRgb(shade);
  return (byteOf(r) << 16) | (byteOf(g) << 8) | byteOf(b);
}

/** The last byte whose linear value is not above each of so many steps from 0 to 1. */
const BYTE_STEPS = 4096;
const byteBelow = Uint8Array.from({ length: BYTE_STEPS + 1 }, (_, step) => {
  let byte = 0;
  while (byte < 255 && linearOf(byte + 1) <= step / BYTE_STEPS) byte++;
  return byte;
});

/** The byte whose linear value is nearest. */
function byteOf(linear: number): number {
  if (linear <= 0) return 0;
  if (linear >= 1) return 255;
  let low = byteBelow[Math.floor(linear * BYTE_STEPS)]!;
  while (low < 254 && linearOf(low + 1) <= linear) low++;
  return linear - linearOf(low) <= linearOf(low + 1) - linear ? low : low + 1;
}

/** Lightness times one less `darken`, hue kept, chroma clipped to the gamut. */
export function darkenOklab({ l, a, b }: Oklab, darken: number): number {
  return rgbOfOklab({ l: l * (1 - darken), a, b });
}

/** From one colour to another. @param share 0..1. */
export function mixOklab(one: Oklab, two: Oklab, share: number): Oklab {
  const mix = (from: number, to: number): number => from + (to - from) * share;
  return { l: mix(one.l, two.l), a: mix(one.a, two.a), b: mix(one.b, two.b) };
}

/** Hue in degrees, saturation and lightness 0..1, to sRGB 0xRRGGBB. */
export function rgbOfHsl(hue: number, saturation: number, lightness: number): number {
  const turned = ((hue % 360) + 360) % 360;
  const chroma = (1 - Math.abs(2 * lightness - 1)) * saturation;
  const second = chroma * (1 - Math.abs(((turned / 60) % 2) - 1));
  const base = lightness - chroma / 2;
  const sector = Math.floor(turned / 60) % 6;
  const [r, g, b] = (
    [
      [chroma, second, 0],
      [second, chroma, 0],
      [0, chroma, second],
      [0, second, chroma],
      [second, 0, chroma],
      [chroma, 0, second],
    ] as const
  )[sector]!;
  const byte = (v: number): number => Math.round(Math.min(1, Math.max(0, v + base)) * 255);
  return (byte(r) << 16) | (byte(g) << 8) | byte(b);
}

/** A colour of the same hue and chroma at another lightness, 0..1. */
export const atLightness = ({ a, b }: Oklab, l: number): number => rgbOfOklab({ l, a, b });
