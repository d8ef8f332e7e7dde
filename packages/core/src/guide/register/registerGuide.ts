import type { Survey } from '../../model/Survey.ts';

/** Taken out: looked up a million times. */
const { abs, ceil, floor, max, sqrt } = Math;

/** A colour guide: `width * height * 3` bytes, RGB, row-major. */
export interface GuideRaster {
  readonly width: number;
  readonly height: number;
  readonly rgb: Uint8Array;
}

/** Where the key lies on the page: a page point is at `x * scaleX + shiftX`, and so on, in px of the key. */
export interface GuidePlace {
  readonly scaleX: number;
  readonly scaleY: number;
  readonly shiftX: number;
  readonly shiftY: number;
}

export interface GuideMatch {
  readonly place: GuidePlace;
  /** 0..1: how much of the key's colour the page's regions explain there. */
  readonly explained: number;
  /** The same where the key lies elsewhere, at its best: what a key of another page comes to. */
  readonly elsewhere: number;
}

/** The key is laid over the page at most this far off, as a share of its size, and so much larger or smaller. */
const MOST_SHIFT = 0.035;
const SCALES = [0.97, 0.98, 0.99, 1, 1.01, 1.02, 1.03];
/** Pixels of the page that the match is looked at with: everywhere, at the best places, and about the best of these. */
const ROUGH = 700;
const COARSE = 3_000;
const FINE = 20_000;
/** Places that are looked at again: the best ones lie beside each other. */
const MOST_TRIED = 80;
/** Closer than so many px of the key nothing is tried: what it shows tells the rest later. */
const LEAST_STEP = 0.06;

/**
 * Lays the colourist's key over a page: of all places and sizes about the page's own the one whose colours
 * the regions of the page explain best (least variance within regions). The key may have any size and be
 * blurred.
 *
 * Cost: by samples, whatever the sizes.
 */
export function registerGuide(
  survey: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>,
  guide: GuideRaster,
): GuideMatch {
  const own: GuidePlace = {
    scaleX: guide.width / survey.width,
    scaleY: guide.height / survey.height,
    shiftX: 0,
    shiftY: 0,
  };
  const reach = MOST_SHIFT * max(guide.width, guide.height);
  const step = max(0.5, reach / 7);
  const places: GuidePlace[] = [];
  for (const scale of SCALES) {
    for (let dy = -reach; dy <= reach + 1e-9; dy += step)
      for (let dx = -reach; dx <= reach + 1e-9; dx += step) places.push(scaledBy(own, scale, dx, dy, guide));
  }
  const lightness = lightnessOf(guide);
  const byLightness = (many: number): ((place: GuidePlace) => number) => {
    const samples = samplesOf(survey, many);
    const sums = new Sums(samples.regions);
    return (place) => explainLightness(samples, guide, lightness, place, sums);
  };
  let [best] = bestOf(bestOf(places, byLightness(ROUGH)).slice(0, MOST_TRIED), byLightness(COARSE)) as [GuidePlace];
  // Closer and closer, with more of the page.
  const fine = samplesOf(survey, FINE);
  const sums = new Sums(fine.regions);
  let value = explain(fine, guide, best, sums);
  for (let size = step / 2; size >= LEAST_STEP; size /= 2) {
    for (let moved = true; moved;) {
      moved = false;
      for (const next of neighboursOf(best, size, guide)) {
        const there = explain(fine, guide, next, sums);
        if (there <= value + 1e-9) continue;
        value = there;
        best = next;
        moved = true;
      }
    }
  }
  // Turned over, the key is as good as one of another page.
  const upside = { ...guide, rgb: turnedOver(guide) };
  const elsewhere = max(
    ...SCALES.slice(2, 5).map((scale) => explain(fine, upside, scaledBy(own, scale, 0, 0, guide), sums)),
  );
  return { place: best, explained: value, elsewhere };
}

/** Places in order of their value, the best first; of equals the one that came first. */
function bestOf(places: readonly GuidePlace[], valueOf: (place: GuidePlace) => number): GuidePlace[] {
  const values = Float64Array.from(places, valueOf);
  return [...values.keys()].sort((a, b) => values[b]! - values[a]! || a - b).map((k) => places[k]!);
}

function scaledBy(own: GuidePlace, scale: number, dx: number, dy: number, guide: GuideRaster): GuidePlace {
  return {
    scaleX: own.scaleX * scale,
    scaleY: own.scaleY * scale,
    shiftX: (guide.width * (1 - scale)) / 2 + dx,
    shiftY: (guide.height * (1 - scale)) / 2 + dy,
  };
}

function neighboursOf(place: GuidePlace, size: number, guide: GuideRaster): GuidePlace[] {
  const { scaleX, scaleY, shiftX, shiftY } = place;
  const grow = (1 * size) / max(guide.width, guide.height);
  const resized = (factor: number): GuidePlace => ({
    scaleX: scaleX * factor,
    scaleY: scaleY * factor,
    shiftX: shiftX + ((1 - factor) * guide.width) / 2,
    shiftY: shiftY + ((1 - factor) * guide.height) / 2,
  });
  return [
    { ...place, shiftX: shiftX - size },
    { ...place, shiftX: shiftX + size },
    { ...place, shiftY: shiftY - size },
    { ...place, shiftY: shiftY + size },
    resized(1 + 2 * grow),
    resized(1 - 2 * grow),
  ];
}

interface Samples {
  /** Where the columns and the lines of the grid lie on the page. */
  readonly columns: Int32Array;
  readonly lines: Int32Array;
  /** Numbers of the column and of the line that each lies in. */
  readonly column: Int32Array;
  readonly line: Int32Array;
  /** Number of the region each lies in: those that any lies in are numbered from 0, in their order. */
  readonly region: Int32Array;
  readonly regions: number;
}

/** Paper points on an even grid, with their regions. */
function samplesOf(
  { width, height, field, regions }: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>,
  many: number,
): Samples {
  const step = max(1, floor(sqrt((width * height) / many)));
  const columns = gridAlong(width, step);
  const lines = gridAlong(height, step);
  const [column, line, of]: [number[], number[], number[]] = [[], [], []];
  for (let j = 0; j < lines.length; j++) {
    for (let i = 0; i < columns.length; i++) {
      const cell = field[lines[j]! * width + columns[i]!]!;
      if (cell < 0) continue;
      column.push(i);
      line.push(j);
      of.push(regions.ofCell[cell]!);
    }
  }
  const numbers = new Int32Array(regions.count);
  for (const region of of) numbers[region] = 1;
  let count = 0;
  for (let region = 0; region < numbers.length; region++) if (numbers[region] === 1) numbers[region] = count++;
  return {
    columns,
    lines,
    column: Int32Array.from(column),
    line: Int32Array.from(line),
    region: Int32Array.from(of, (one) => numbers[one]!),
    regions: count,
  };
}

function gridAlong(size: number, step: number): Int32Array {
  const first = step >> 1;
  return Int32Array.from({ length: max(0, ceil((size - first) / step)) }, (_, k) => first + k * step);
}

/** Which px of the key columns or lines of the page lie in, -1 for none. */
function pxAlong(places: Int32Array, scale: number, shift: number, size: number): Int32Array {
  const px = new Int32Array(places.length);
  for (let k = 0; k < px.length; k++) {
    const at = floor((places[k]! + 0.5) * scale + shift);
    px[k] = at < 0 || at >= size ? -1 : at;
  }
  return px;
}

/** Between which px of the key columns or lines of the page lie: the first of them, -1 for none, and how near the second is, 0..1. */
function betweenPx(
  places: Int32Array,
  scale: number,
  shift: number,
  size: number,
): { readonly px: Int32Array; readonly share: Float64Array } {
  const px = new Int32Array(places.length);
  const share = new Float64Array(places.length);
  for (let k = 0; k < px.length; k++) {
    const at = (places[k]! + 0.5) * scale + shift - 0.5;
    const first = floor(at);
    px[k] = first < 0 || first + 1 >= size ? -1 : first;
    share[k] = at - first;
  }
  return { px, share };
}

/** Room for sums by region, used again and again. */
class Sums {
  readonly count: Int32Array;
  readonly red: Float64Array;
  readonly green: Float64Array;
  readonly blue: Float64Array;

  constructor(regions: number) {
    this.count = new Int32Array(regions);
    this.red = new Float64Array(regions);
    this.green = new Float64Array(regions);
    this.blue = new Float64Array(regions);
  }

  clear(): void {
    this.count.fill(0);
    this.red.fill(0);
    this.green.fill(0);
    this.blue.fill(0);
  }
}

/** One number a px of the key, which shows most of where things lie: 0..255. */
function lightnessOf({ width, height, rgb }: GuideRaster): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let k = 0; k < out.length; k++) out[k] = (2 * rgb[3 * k]! + 5 * rgb[3 * k + 1]! + rgb[3 * k + 2]!) >> 3;
  return out;
}

/** Share of the variance of a key's lightness that lies between regions, 0..1; px are read whole. */
function explainLightness(
  { columns, lines, column, line, region }: Samples,
  { width, height }: GuideRaster,
  lightness: Uint8Array,
  { scaleX, scaleY, shiftX, shiftY }: GuidePlace,
  sums: Sums,
): number {
  sums.clear();
  const { count, red: sum } = sums;
  const across = pxAlong(columns, scaleX, shiftX, width);
  const down = pxAlong(lines, scaleY, shiftY, height);
  let squares = 0;
  let all = 0;
  let n = 0;
  for (let k = 0; k < region.length; k++) {
    const kx = across[column[k]!]!;
    const ky = down[line[k]!]!;
    if ((kx | ky) < 0) continue;
    const v = lightness[ky * width + kx]!;
    const r = region[k]!;
    count[r] = count[r]! + 1;
    sum[r] = sum[r]! + v;
    squares += v * v;
    all += v;
    n++;
  }
  let between = 0;
  let used = 0;
  for (let r = 0; r < count.length; r++) {
    if (count[r] === 0) continue;
    used++;
    between += (sum[r]! * sum[r]!) / count[r]!;
  }
  return shareOf(between, squares, n === 0 ? 0 : (all * all) / n, n, used);
}

/** Share of the variance of a key's colours that lies between regions, 0..1; read between px, so that parts of a px count. */
function explain(
  { columns, lines, column, line, region }: Samples,
  guide: GuideRaster,
  place: GuidePlace,
  sums: Sums,
): number {
  const { width, height, rgb } = guide;
  const { scaleX, scaleY, shiftX, shiftY } = place;
  sums.clear();
  const { count, red, green, blue } = sums;
  let squares = 0;
  let n = 0;
  let allRed = 0;
  let allGreen = 0;
  let allBlue = 0;
  const next = width * 3;
  const across = betweenPx(columns, scaleX, shiftX, width);
  const down = betweenPx(lines, scaleY, shiftY, height);
  for (let k = 0; k < region.length; k++) {
    const kx = across.px[column[k]!]!;
    const ky = down.px[line[k]!]!;
    if ((kx | ky) < 0) continue;
    const at = (ky * width + kx) * 3;
    const tx = across.share[column[k]!]!;
    const ty = down.share[line[k]!]!;
    const a = (1 - tx) * (1 - ty);
    const b = tx * (1 - ty);
    const c = (1 - tx) * ty;
    const d = tx * ty;
    const vr = a * rgb[at]! + b * rgb[at + 3]! + c * rgb[at + next]! + d * rgb[at + next + 3]!;
    const vg = a * rgb[at + 1]! + b * rgb[at + 4]! + c * rgb[at + next + 1]! + d * rgb[at + next + 4]!;
    const vb = a * rgb[at + 2]! + b * rgb[at + 5]! + c * rgb[at + next + 2]! + d * rgb[at + next + 5]!;
    const r = region[k]!;
    count[r] = count[r]! + 1;
    red[r] = red[r]! + vr;
    green[r] = green[r]! + vg;
    blue[r] = blue[r]! + vb;
    allRed += vr;
    allGreen += vg;
    allBlue += vb;
    squares += vr * vr + vg * vg + vb * vb;
    n++;
  }
  let between = 0;
  let used = 0;
  for (let r = 0; r < count.length; r++) {
    if (count[r] === 0) continue;
    used++;
    between += (red[r]! * red[r]! + green[r]! * green[r]! + blue[r]! * blue[r]!) / count[r]!;
  }
  const mean = n === 0 ? 0 : (allRed * allRed + allGreen * allGreen + allBlue * allBlue) / n;
  return shareOf(between, squares, mean, n, used);
}

/** Regions with few points explain them for nothing: that share is taken off. */
function shareOf(between: number, squares: number, mean: number, n: number, used: number): number {
  const total = squares - mean;
  if (n === 0 || abs(total) < 1e-9 || total < 0) return 0;
  const raw = (between - mean) / total;
  return max(0, 1 - ((1 - raw) * (n - 1)) / max(1, n - used));
}

function turnedOver({ width, height, rgb }: GuideRaster): Uint8Array {
  const out = new Uint8Array(rgb.length);
  const count = width * height;
  for (let k = 0; k < count; k++) {
    const to = (count - 1 - k) * 3;
    out[to] = rgb[k * 3]!;
    out[to + 1] = rgb[k * 3 + 1]!;
    out[to + 2] = rgb[k * 3 + 2]!;
  }
  return out;
}
