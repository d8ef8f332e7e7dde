import { ciede2000 } from '../colour/ciede2000.ts';
import { labOf } from '../colour/lab.ts';

/** Flats as they are judged: a colour for each pixel. */
export interface CheckedFlats {
  readonly width: number;
  readonly height: number;
  /** 0 without colour, {@link HALF} where it is half transparent, else 1 + the place in `rgb`. */
  readonly data: Uint16Array;
  /** 0xRRGGBB. */
  readonly rgb: readonly number[];
  /** The part each colour belongs to: those of one part may be near. @default each its own */
  readonly partOf?: readonly number[];
}

/** In place of a colour: neither there nor not. */
export const HALF = 65_535;

/** Most colours that are told apart; a picture with more is blended all over. */
export const MOST_COLOURS = 60_000;

/** What is wrong with a colour wherever it occurs. */
export type ColourFault =
  | { readonly kind: 'soft' }
  | { readonly kind: 'off-palette'; readonly nearest: number }
  | { readonly kind: 'near-colours'; readonly other: number; readonly difference: number };

/** How many pixels of a colour are looked at to see whether it is a blend. */
const SAMPLES = 60;
/** How far, per channel, a blend may lie off the way between the two it was made of. */
const BLEND_SLACK = 5;
/** How far around a pixel the two colours of a blend are looked for, in px. */
const BLEND_REACH = 2;

/**
 * What is wrong with colours as such: blends of their neighbours, colours that no part has, and two that are nearly the same.
 *
 * @param palette the colours that parts have, 0xRRGGBB; null where nobody knows. @returns by place in `rgb`; undefined for none.
 */
export function findColourFaults(
  flats: CheckedFlats,
  palette: ReadonlySet<number> | null,
  nearColours: number,
): (ColourFault | undefined)[] {
  const facts = measureColours(flats);
  const { rgb } = flats;
  const isSolid = rgb.map((one, k) => (palette === null ? facts.hasInside[k] === 1 : palette.has(one)));
  const faults: (ColourFault | undefined)[] = rgb.map((one, k) => {
    if (facts.areaPx[k] === 0 || isSolid[k]) return undefined;
    if (isBlend(flats, k, facts.samples[k]!, isSolid)) return { kind: 'soft' };
    return palette === null ? undefined : { kind: 'off-palette', nearest: nearestOf(one, palette) };
  });
  const used = rgb.flatMap((one, k) => (isSolid[k] === true && facts.areaPx[k]! > 0 ? [{ k, lab: labOf(one) }] : []));
  used.sort((a, b) => a.lab.l - b.lab.l);
  used.forEach((one, place) => {
    for (let next = place + 1; next < used.length; next++) {
      const two = used[next]!;
      // Lightness alone tells them apart: its weight is 1.75 at most.
      if (two.lab.l - one.lab.l > 1.75 * nearColours) break;
      const difference = ciede2000(one.lab, two.lab);
      const isSame =
        rgb[one.k] === rgb[two.k] || (flats.partOf !== undefined && flats.partOf[one.k] === flats.partOf[two.k]);
      if (difference >= nearColours || isSame) continue;
      const [less, more] = facts.areaPx[one.k]! <= facts.areaPx[two.k]! ? [one.k, two.k] : [two.k, one.k];
      faults[less] ??= { kind: 'near-colours', other: rgb[more]!, difference };
    }
  });
  return faults;
}

interface ColourFacts {
  readonly areaPx: Uint32Array;
  /** 1 where a pixel has its own colour all around. */
  readonly hasInside: Uint8Array;
  /** Some of its pixels. */
  readonly samples: readonly (readonly number[])[];
}

function measureColours({ width, height, data, rgb }: CheckedFlats): ColourFacts {
  const areaPx = new Uint32Array(rgb.length);
  const hasInside = new Uint8Array(rgb.length);
  const samples = rgb.map((): number[] => []);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width;) {
      const at = y * width + x;
      const value = data[at]!;
      let end = x + 1;
      while (end < width && data[at + end - x] === value) end++;
      if (value > 0 && value !== HALF) {
        const k = value - 1;
        areaPx[k] = areaPx[k]! + end - x;
        if (samples[k]!.length < SAMPLES) samples[k]!.push(at);
        if (hasInside[k] === 0 && end - x >= 3 && y > 0 && y + 1 < height)
          hasInside[k] = Number(isInside(data, width, at + 1, end - x - 2, value));
      }
      x = end;
    }
  }
  return { areaPx, hasInside, samples };
}

function isInside(data: Uint16Array, width: number, from: number, count: number, value: number): boolean {
  let run = 0;
  for (let at = from - 1; at < from + count + 1; at++) {
    run = data[at - width] === value && data[at + width] === value ? run + 1 : 0;
    if (run === 3) return true;
  }
  return false;
}

/** Whether most pixels of a colour lie between two others, in the picture as in colour. White is what no colour looks like. */
function isBlend(
  { width, height, data, rgb }: CheckedFlats,
  colour: number,
  samples: readonly number[],
  isSolid: readonly boolean[],
): boolean {
  let blends = 0;
  for (const at of samples) {
    const [x, y] = [at % width, Math.floor(at / width)];
    const around = new Set<number>();
    for (let py = Math.max(0, y - BLEND_REACH); py <= Math.min(height - 1, y + BLEND_REACH); py++) {
      for (let px = Math.max(0, x - BLEND_REACH); px <= Math.min(width - 1, x + BLEND_REACH); px++) {
        const value = data[py * width + px]!;
        if (value === 0) around.add(0xffffff);
        else if (value !== HALF && value - 1 !== colour && isSolid[value - 1] === true) around.add(rgb[value - 1]!);
      }
    }
    const list = [...around];
    if (list.some((one, k) => list.slice(k + 1).some((two) => liesBetween(rgb[colour]!, one, two)))) blends++;
  }
  return blends * 2 > samples.length;
}

function liesBetween(rgb: number, one: number, two: number): boolean {
  const channels = [16, 8, 0].map(
    (shift) => [(rgb >> shift) & 255, (one >> shift) & 255, (two >> shift) & 255] as const,
  );
  const length2 = channels.reduce((sum, [, a, b]) => sum + (b - a) * (b - a), 0);
  if (length2 === 0) return false;
  const t = channels.reduce((sum, [c, a, b]) => sum + (c - a) * (b - a), 0) / length2;
  return t > 0.01 && t < 0.99 && channels.every(([c, a, b]) => Math.abs(a + t * (b - a) - c) <= BLEND_SLACK);
}

function nearestOf(rgb: number, palette: ReadonlySet<number>): number {
  const lab = labOf(rgb);
  let [best, least] = [-1, Infinity];
  for (const one of palette) {
    const difference = ciede2000(lab, labOf(one));
    if (difference < least) [best, least] = [one, difference];
  }
  return best;
}
