import type { Survey } from '../survey/surveyPage.ts';

/** Taken out: looked up a million times. */
const { floor, max, sqrt } = Math;

/** A colour guide: `width * height * 3` bytes, RGB, row-major. */
export interface KeyRaster {
  readonly width: number;
  readonly height: number;
  readonly rgb: Uint8Array;
}

/** Where the key lies on the page: a page point is at `x * scaleX + shiftX`, and so on, in px of the key. */
export interface KeyPlace {
  readonly scaleX: number;
  readonly scaleY: number;
  readonly shiftX: number;
  readonly shiftY: number;
}

export interface KeyMatch {
  readonly place: KeyPlace;
  /** 0..1: how much of the key's colour the page's regions explain there. */
  readonly explained: number;
  /** The same where the key lies elsewhere, at its best: what a key of another page comes to. */
  readonly elsewhere: number;
}

/** The key is laid over the page at most this far off, as a share of its size, and so much larger or smaller. */
const MOST_SHIFT = 0.035;
const SCALES = [0.97, 0.98, 0.99, 1, 1.01, 1.02, 1.03];
/** Pixels of the page that the match is looked at with. */
const COARSE = 16_000;
const FINE = 120_000;

/**
 * Lays the colourist's key over a page: of all places and sizes about the page's own the one whose colours
 * the regions of the page explain best (least variance within regions). The key may have any size and be
 * blurred.
 *
 * Cost: by samples, whatever the sizes.
 */
export function registerKey(survey: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>, key: KeyRaster): KeyMatch {
  const own: KeyPlace = { scaleX: key.width / survey.width, scaleY: key.height / survey.height, shiftX: 0, shiftY: 0 };
  const coarse = samplesOf(survey, COARSE);
  const reach = MOST_SHIFT * max(key.width, key.height);
  const step = max(0.5, reach / 7);
  let best = own;
  let most = -1;
  const explainedAt = (place: KeyPlace): number => explain(coarse, survey.regions.count, key, place, false);
  for (const scale of SCALES) {
    for (let dy = -reach; dy <= reach + 1e-9; dy += step) {
      for (let dx = -reach; dx <= reach + 1e-9; dx += step) {
        const place = scaledBy(own, scale, dx, dy, key);
        const value = explainedAt(place);
        if (value <= most) continue;
        most = value;
        best = place;
      }
    }
  }
  // Closer and closer, with more of the page.
  const fine = samplesOf(survey, FINE);
  let value = explain(fine, survey.regions.count, key, best, true);
  for (let size = step / 2; size >= 0.03; size /= 2) {
    for (let moved = true; moved;) {
      moved = false;
      for (const next of neighboursOf(best, size, key)) {
        const there = explain(fine, survey.regions.count, key, next, true);
        if (there <= value + 1e-9) continue;
        value = there;
        best = next;
        moved = true;
      }
    }
  }
  // Turned over, the key is as good as one of another page.
  const upside = { ...key, rgb: turnedOver(key) };
  const elsewhere = max(
    ...SCALES.slice(2, 5).map((scale) =>
      explain(fine, survey.regions.count, upside, scaledBy(own, scale, 0, 0, key), true),
    ),
  );
  return { place: best, explained: value, elsewhere };
}

function scaledBy(own: KeyPlace, scale: number, dx: number, dy: number, key: KeyRaster): KeyPlace {
  return {
    scaleX: own.scaleX * scale,
    scaleY: own.scaleY * scale,
    shiftX: (key.width * (1 - scale)) / 2 + dx,
    shiftY: (key.height * (1 - scale)) / 2 + dy,
  };
}

function neighboursOf(place: KeyPlace, size: number, key: KeyRaster): KeyPlace[] {
  const { scaleX, scaleY, shiftX, shiftY } = place;
  const grow = (1 * size) / max(key.width, key.height);
  const resized = (factor: number): KeyPlace => ({
    scaleX: scaleX * factor,
    scaleY: scaleY * factor,
    shiftX: shiftX + ((1 - factor) * key.width) / 2,
    shiftY: shiftY + ((1 - factor) * key.height) / 2,
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
  readonly x: Int32Array;
  readonly y: Int32Array;
  readonly region: Int32Array;
}

/** Paper points on an even grid, with their regions. */
function samplesOf(
  { width, height, field, regions }: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>,
  count: number,
): Samples {
  const step = max(1, floor(sqrt((width * height) / count)));
  const [xs, ys, of]: [number[], number[], number[]] = [[], [], []];
  for (let y = step >> 1; y < height; y += step) {
    for (let x = step >> 1; x < width; x += step) {
      const cell = field[y * width + x]!;
      if (cell < 0) continue;
      xs.push(x);
      ys.push(y);
      of.push(regions.ofCell[cell]!);
    }
  }
  return { x: Int32Array.from(xs), y: Int32Array.from(ys), region: Int32Array.from(of) };
}

/**
 * Share of the key's variance that lies between regions, 0..1.
 *
 * @param smooth reads the key between its px, so that parts of a px count.
 */
function explain({ x, y, region }: Samples, regions: number, key: KeyRaster, place: KeyPlace, smooth: boolean): number {
  const { width, height, rgb } = key;
  const count = new Int32Array(regions);
  const sum = new Float64Array(regions * 3);
  let squares = 0;
  let n = 0;
  const all = [0, 0, 0];
  for (let k = 0; k < x.length; k++) {
    const fx = (x[k]! + 0.5) * place.scaleX + place.shiftX;
    const fy = (y[k]! + 0.5) * place.scaleY + place.shiftY;
    const kx = floor(smooth ? fx - 0.5 : fx);
    const ky = floor(smooth ? fy - 0.5 : fy);
    if (kx < 0 || ky < 0 || kx + 1 >= width || ky + 1 >= height) continue;
    const at = (ky * width + kx) * 3;
    const r = region[k]!;
    count[r] = count[r]! + 1;
    n++;
    const [tx, ty] = smooth ? [fx - 0.5 - kx, fy - 0.5 - ky] : [0, 0];
    for (let c = 0; c < 3; c++) {
      let v = rgb[at + c]!;
      if (smooth) {
        const below = at + width * 3 + c;
        v = (v * (1 - tx) + rgb[at + 3 + c]! * tx) * (1 - ty) + (rgb[below]! * (1 - tx) + rgb[below + 3]! * tx) * ty;
      }
      sum[r * 3 + c] = sum[r * 3 + c]! + v;
      all[c] = all[c]! + v;
      squares += v * v;
    }
  }
  if (n === 0) return 0;
  let between = 0;
  let used = 0;
  for (let r = 0; r < regions; r++) {
    if (count[r] === 0) continue;
    used++;
    for (let c = 0; c < 3; c++) between += (sum[r * 3 + c]! * sum[r * 3 + c]!) / count[r]!;
  }
  const mean = (all[0]! * all[0]! + all[1]! * all[1]! + all[2]! * all[2]!) / n;
  const total = squares - mean;
  if (total <= 0) return 0;
  // Regions with few points explain them for nothing: that share is taken off.
  const raw = (between - mean) / total;
  return max(0, 1 - ((1 - raw) * (n - 1)) / max(1, n - used));
}

function turnedOver({ width, height, rgb }: KeyRaster): Uint8Array {
  const out = new Uint8Array(rgb.length);
  const count = width * height;
  for (let k = 0; k < count; k++) out.set(rgb.subarray(k * 3, k * 3 + 3), (count - 1 - k) * 3);
  return out;
}
