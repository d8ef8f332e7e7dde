import type { Survey } from '../../model/Survey.ts';
import { blur, kernelOf } from './guideBlur.ts';
import type { GuidePlace, GuideRaster } from '../register/registerGuide.ts';

/** Taken out: looked up a million times. */
const { floor, max, min } = Math;

/** Points of the page taken for each px of the key, in each direction: to see what is plain, to begin with, and once the key lies exactly. */
const FEW_POINTS = 2;
export const POINTS = 4;
export const FINE_POINTS = 6;

/** With so many px of the key for each region most are plain. */
const PLAIN_FROM = 150;

/** What reading a key needs of a page. */
export type GuidedPage = Pick<Survey, 'width' | 'height' | 'field' | 'regions' | 'lineWidthPx'>;

/** Which regions cover each px of the key, and how much of it: entries of px p are `row[p] .. row[p + 1] - 1`. */
interface Entries {
  readonly row: Int32Array;
  readonly region: Int32Array;
  readonly share: Float64Array;
  /** How much of it lies under the region's lines. */
  readonly inked: Float64Array;
}

/** The same, with how far each px is to be trusted, and by region. */
export interface Cover extends Entries {
  /** How far each px says something, 0..1: what lies under solid black is anybody's guess. */
  readonly trust: Float64Array;
  readonly byRegion: EntriesByRegion;
}

/** The entries of each region, `entry[start[region]] .. entry[start[region + 1] - 1]`, with the px each lies in. */
export interface EntriesByRegion {
  readonly start: Int32Array;
  readonly entry: Int32Array;
  readonly px: Int32Array;
}

export function entriesByRegion({ row, region }: Pick<Cover, 'row' | 'region'>, count: number): EntriesByRegion {
  const start = new Int32Array(count + 1);
  for (let k = 0; k < region.length; k++) start[region[k]! + 1] = start[region[k]! + 1]! + 1;
  for (let r = 0; r < count; r++) start[r + 1] = start[r + 1]! + start[r]!;
  const next = start.slice();
  const px = new Int32Array(region.length);
  const entry = new Int32Array(region.length);
  for (let p = 0; p + 1 < row.length; p++) {
    for (let k = row[p]!; k < row[p + 1]!; k++) {
      const at = next[region[k]!]!;
      next[region[k]!] = at + 1;
      px[at] = p;
      entry[at] = k;
    }
  }
  return { start, entry, px };
}

/** Ink farther from paper than so many line widths hides what the key has there. */
const DEEP_WIDTHS = 1;
/** A px whose surroundings are so much deep ink says nothing. */
const MOST_DEEP = 0.08;

/**
 * @param points taken for each px of the key, in each direction.
 * @param before the cover where the key lay less than a px off: what is plain there, and all around, is not looked at.
 * @default a few points of each px, where most are plain
 */
export function coverOf(
  page: GuidedPage,
  guide: GuideRaster,
  place: GuidePlace,
  points: number,
  before?: Entries,
): Cover {
  const isPlain = guide.width * guide.height > PLAIN_FROM * page.regions.count;
  const seen = before ?? (isPlain ? entriesAt(page, guide, place, FEW_POINTS, null).entries : null);
  const { entries, deep } = entriesAt(page, guide, place, points, seen);
  blur(deep, new Float64Array(deep.length), guide.width, guide.height, kernelOf(1));
  const trust = new Float64Array(deep.length);
  for (let p = 0; p < trust.length; p++) trust[p] = max(0, 1 - deep[p]! / MOST_DEEP);
  return { ...entries, trust, byRegion: entriesByRegion(entries, page.regions.count) };
}

/** What lies at some points of each px, and how many of them are deep ink. @param before what is plain there is taken over. */
function entriesAt(
  { width, height, field, regions, lineWidthPx }: GuidedPage,
  guide: GuideRaster,
  place: GuidePlace,
  points: number,
  before: Entries | null,
): { readonly entries: Entries; readonly deep: Float64Array } {
  const plain = before === null ? null : plainPx(before, guide.width, guide.height);
  const columns = pointsAlong(guide.width * points, points, place.scaleX, place.shiftX, width);
  const lines = pointsAlong(guide.height * points, points, place.scaleY, place.shiftY, height);
  const row = new Int32Array(guide.width * guide.height + 1);
  const pixels = guide.width * guide.height;
  const most = points * points;
  let room = 2 * pixels + most;
  let region = new Int32Array(room);
  let share = new Float64Array(room);
  let inked = new Float64Array(room);
  let size = 0;
  const deep = new Float64Array(pixels);
  const reach = (DEEP_WIDTHS * lineWidthPx.median) ** 2;
  const shareOf = sharesOf(most);
  const { ofCell } = regions;
  const inverse = 1 / width;
  // Of the px that is looked at: points of each region in it, and how many of them are ink.
  const found = new Int32Array(most);
  const pointsIn = new Int32Array(most);
  const inkIn = new Int32Array(most);
  for (let p = 0; p < pixels; p++) {
    if (size + most > room) {
      room *= 2;
      region = grown(region, new Int32Array(room));
      share = grown(share, new Float64Array(room));
      inked = grown(inked, new Float64Array(room));
    }
    if (plain?.[p] === 1) {
      region[size] = before!.region[before!.row[p]!]!;
      share[size] = 1;
      row[p + 1] = ++size;
      continue;
    }
    const kx = p % guide.width;
    const ky = (p - kx) / guide.width;
    const right = (kx + 1) * points;
    let regionsHere = 0;
    let deepHere = 0;
    // Most points lie in the cell of the one before: they are counted until another one comes.
    let last = -1;
    let run = 0;
    let inkRun = 0;
    let place = 0;
    for (let j = ky * points; j < (ky + 1) * points; j++) {
      const py = lines[j]!;
      const line = py * width;
      for (let i = kx * points; i < right; i++) {
        const px = columns[i]!;
        let cell = field[line + px]!;
        const isInk = cell < 0;
        if (isInk) {
          const source = ~cell;
          // Millions of points: multiplying is faster than dividing, and the half keeps it exact.
          const sy = ((source + 0.5) * inverse) | 0;
          const dx = px - (source - sy * width);
          const dy = py - sy;
          if (dx * dx + dy * dy > reach) deepHere++;
          cell = field[source] ?? -1;
          if (cell < 0) continue;
        }
        if (cell !== last) {
          if (run > 0) {
            pointsIn[place] = pointsIn[place]! + run;
            inkIn[place] = inkIn[place]! + inkRun;
          }
          last = cell;
          run = 0;
          inkRun = 0;
          const own = ofCell[cell]!;
          place = 0;
          while (place < regionsHere && found[place] !== own) place++;
          if (place === regionsHere) {
            found[regionsHere++] = own;
            pointsIn[place] = 0;
            inkIn[place] = 0;
          }
        }
        run++;
        if (isInk) inkRun++;
      }
    }
    if (run > 0) {
      pointsIn[place] = pointsIn[place]! + run;
      inkIn[place] = inkIn[place]! + inkRun;
    }
    for (let k = 0; k < regionsHere; k++) {
      region[size] = found[k]!;
      share[size] = shareOf[pointsIn[k]!]!;
      inked[size++] = shareOf[inkIn[k]!]!;
    }
    deep[p] = shareOf[deepHere]!;
    row[p + 1] = size;
  }
  const entries = {
    row,
    region: region.slice(0, size),
    share: share.slice(0, size),
    inked: inked.slice(0, size),
  };
  return { entries, deep };
}

/** What so many points of a px make of it, added up one by one. */
function sharesOf(points: number): Float64Array {
  const shares = new Float64Array(points + 1);
  for (let n = 0; n < points; n++) shares[n + 1] = shares[n]! + 1 / points;
  return shares;
}

function grown<T extends Int32Array | Float64Array>(from: T, to: T): T {
  to.set(from);
  return to;
}

/** Where points of the key lie on the page, in one direction; beyond the page's edge the key goes on as it is there. */
function pointsAlong(count: number, points: number, scale: number, shift: number, size: number): Int32Array {
  return Int32Array.from({ length: count }, (_, k) =>
    max(0, min(size - 1, floor((floor(k / points) + ((k % points) + 0.5) / points - shift) / scale))),
  );
}

/** A px is one region's from so much on. */
const WHOLE = 0.999;

/** 1 for px that, like all around them, are one region's paper; those at the rim are none. */
function plainPx({ row, region, share, inked }: Entries, width: number, height: number): Uint8Array {
  const only = new Int32Array(width * height);
  for (let p = 0; p < only.length; p++) {
    only[p] = row[p + 1]! - row[p]! === 1 && inked[row[p]!] === 0 && share[row[p]!]! > WHOLE ? region[row[p]!]! : -1;
  }
  const plain = new Uint8Array(width * height);
  for (let y = 1; y + 1 < height; y++) {
    for (let p = y * width + 1; p < (y + 1) * width - 1; p++) {
      const own = only[p]!;
      if (own < 0 || only[p - 1] !== own || only[p + 1] !== own) continue;
      let same = true;
      for (let q = p - width - 1; q <= p - width + 1; q++)
        if (only[q] !== own || only[q + 2 * width] !== own) same = false;
      if (same) plain[p] = 1;
    }
  }
  return plain;
}

/** Red, green and blue of a picture, as numbers. */
export type Channels = readonly [Float64Array, Float64Array, Float64Array];

/** The key before it was blurred, by the colours of the regions. @param colours RGB of each, `regions * 3`. */
export function laidOut({ row, region, share }: Cover, colours: Float64Array): Channels {
  const pixels = row.length - 1;
  const [red, green, blue] = [new Float64Array(pixels), new Float64Array(pixels), new Float64Array(pixels)];
  for (let p = 0; p < pixels; p++) {
    let [r, g, b] = [0, 0, 0];
    const end = row[p + 1]!;
    for (let k = row[p]!; k < end; k++) {
      const much = share[k]!;
      const at = region[k]! * 3;
      r += much * colours[at]!;
      g += much * colours[at + 1]!;
      b += much * colours[at + 2]!;
    }
    red[p] = r;
    green[p] = g;
    blue[p] = b;
  }
  return [red, green, blue];
}
