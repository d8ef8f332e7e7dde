import type { CheckedPage, CheckInput } from './checkFlats.ts';
import { HALF, type CheckedFlats, type ColourFault } from './FlatsColours.ts';
import { labelBlobs, type Blobs } from './labelBlobs.ts';

/** A place on paper with another colour than its surroundings, or none. */
export interface PaperFault {
  readonly kind: 'empty' | 'missed-corner' | 'show-through' | 'stray' | 'sliver';
  readonly blobs: Blobs;
  readonly blob: number;
  /** As the flats have it: 0 for none. */
  readonly colour: number;
  /** What belongs there, as the flats have it; 0 for none. */
  readonly expected: number;
  /** Its width, in px: twice the area by the length of its edge. */
  readonly thinPx: number;
}

/** Up to so many pixels of another colour are a slip of the pen. */
const STRAY_PX = 4;
/** Thinner than this nothing is painted on purpose, in px. */
const THIN_PX = 2.6;
/** A region with this little colour has none. */
const NO_COLOUR_PX = 4;
/** Colour that came through a line is followed so far under the ink, in pixels. */
const MOST_FOLLOWED_PX = 6000;
const COLOURS = HALF + 1;

/** Finds paper without colour, and small or thin places of another colour than their cell has; a whole cell is none. */
export function findPaperFaults(
  input: CheckInput,
  faults: readonly (ColourFault | undefined)[],
): { readonly found: readonly PaperFault[]; readonly colourOfCell: Int32Array } {
  const { page, flats, regionOfCell, leftEmpty, isPinhole } = input;
  const { width, height, field, inkAlpha, cellCount } = page;
  const { data } = flats;
  const regionCount = regionOfCell.reduce((most, region) => Math.max(most, region), -1) + 1;
  const coloured = new Float64Array(regionCount);
  // Paper is told apart by cell and colour; without colour by region, since a corner may reach over openings.
  const blobs = labelBlobs(
    width,
    height,
    (y, classes) => {
      for (let x = 0, at = y * width; x < width; x++, at++) {
        const cell = field[at]!;
        const value = data[at]!;
        if (cell < 0) classes[x] = 0;
        else if (value !== 0) {
          classes[x] = (cell + 1) * COLOURS + value;
          coloured[regionOfCell[cell]!]!++;
        } else classes[x] = inkAlpha[at] === 0 ? (cellCount + 1 + regionOfCell[cell]!) * COLOURS : 0;
      }
    },
    false,
  );
  const { colourOf, areaPx: cellPx } = mainColours(blobs, cellCount);
  const found: PaperFault[] = [];
  const largest = new Int32Array(regionCount).fill(-1);
  const small = Math.max(STRAY_PX, page.crumbLimitPx2);
  for (let blob = 0; blob < blobs.count; blob++) {
    const cell = Math.floor(blobs.of[blob]! / COLOURS) - 1;
    const value = blobs.of[blob]! % COLOURS;
    const areaPx = blobs.areaPx[blob]!;
    const thinPx = (2 * areaPx) / blobs.edgePx[blob]!;
    const add = (kind: PaperFault['kind'], expected: number): void =>
      void found.push({ kind, blobs, blob, colour: value, expected, thinPx });
    if (value === 0) {
      const region = cell - cellCount;
      if (leftEmpty?.[region] === 1 || isPinhole?.[field[blobs.first[blob]!]!] === 1) continue;
      if (coloured[region]! > NO_COLOUR_PX) add('missed-corner', colourBeside(page, data, blobs, blob));
      else if (largest[region]! < 0 || areaPx > blobs.areaPx[largest[region]!]!) largest[region] = blob;
      continue;
    }
    const main = colourOf[cell]!;
    // Half transparent, or wrong as such: that is said of it already.
    if (value === main || value === HALF || faults[value - 1] !== undefined) continue;
    const isThin = thinPx < Math.max(THIN_PX, page.lineWidthPx.median);
    // What is neither thin nor small was painted on purpose.
    if (!isThin && areaPx >= small) continue;
    // A hole in a stroke takes whatever colour runs there, and over an opening a colour ends where its painter wants.
    if (cellPx[cell]! < small || isOverOpening(page, data, blobs, blob, colourOf)) continue;
    if (isThin && cameThrough(page, flats, blobs, blob, colourOf)) add('show-through', main);
    else if (areaPx <= STRAY_PX) add('stray', main);
    else if (thinPx < THIN_PX || areaPx < small) add('sliver', main);
  }
  // A region with crumbs is empty once.
  for (const blob of largest)
    if (blob >= 0) found.push({ kind: 'empty', blobs, blob, colour: 0, expected: 0, thinPx: 0 });
  return { found, colourOfCell: colourOf };
}

/** The colour that most of each cell has, 0 for none, and how much of it is coloured. */
function mainColours(
  blobs: Blobs,
  cellCount: number,
): { readonly colourOf: Int32Array; readonly areaPx: Float64Array } {
  const areaPx = new Float64Array(cellCount);
  const colourOf = new Int32Array(cellCount);
  const most = new Float64Array(cellCount);
  const areas = new Map<number, number>();
  for (let blob = 0; blob < blobs.count; blob++) {
    const one = blobs.of[blob]!;
    const cell = Math.floor(one / COLOURS) - 1;
    if (cell >= cellCount) continue;
    const area = (areas.get(one) ?? 0) + blobs.areaPx[blob]!;
    areas.set(one, area);
    areaPx[cell] = areaPx[cell]! + blobs.areaPx[blob]!;
    if (area > most[cell]!) [most[cell], colourOf[cell]] = [area, one % COLOURS];
  }
  return { colourOf, areaPx };
}

/** The pixels beside those of a blob, its own among them; some more than once. */
function* besideBlob({ runs, first, box }: Blobs, blob: number, width: number, height: number): Generator<number> {
  // Runs stand in reading order: those of a blob begin with its first pixel.
  let [low, high] = [0, runs.length / 3];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (runs[middle * 3]! < first[blob]!) low = middle + 1;
    else high = middle;
  }
  const end = box[blob * 4 + 3]! * width;
  for (let k = low; k * 3 < runs.length && runs[k * 3]! < end; k++) {
    if (runs[k * 3 + 2] !== blob) continue;
    const [from, to] = [runs[k * 3]!, runs[k * 3]! + runs[k * 3 + 1]!];
    for (let at = from; at < to; at++) yield* neighboursOf(at, width, height);
  }
}

/** Whether a blob goes on, on paper, into another cell that has its colour. */
function isOverOpening(
  { width, height, field }: CheckedPage,
  data: Uint16Array,
  blobs: Blobs,
  blob: number,
  colourOf: Int32Array,
): boolean {
  const value = blobs.of[blob]! % COLOURS;
  const own = Math.floor(blobs.of[blob]! / COLOURS) - 1;
  for (const next of besideBlob(blobs, blob, width, height)) {
    const cell = field[next]!;
    if (cell >= 0 && cell !== own && data[next] === value && colourOf[cell] === value) return true;
  }
  return false;
}

/** A colour on the paper beside a blob without one; 0 for none. */
function colourBeside({ width, height, field }: CheckedPage, data: Uint16Array, blobs: Blobs, blob: number): number {
  for (const next of besideBlob(blobs, blob, width, height)) {
    const value = field[next]! >= 0 ? data[next]! : 0;
    if (value !== 0 && value !== HALF) return value;
  }
  return 0;
}

function neighboursOf(at: number, width: number, height: number): number[] {
  const x = at % width;
  const near: number[] = [];
  if (x > 0) near.push(at - 1);
  if (x + 1 < width) near.push(at + 1);
  if (at >= width) near.push(at - width);
  if (at + width < width * height) near.push(at + width);
  return near;
}

/** Whether a place of another colour begins at a line with that colour under it, and the colour belongs to the other side. */
function cameThrough(
  { width, height, field, lineWidthPx }: CheckedPage,
  { data }: CheckedFlats,
  blobs: Blobs,
  blob: number,
  colourOf: Int32Array,
): boolean {
  const value = blobs.of[blob]! % COLOURS;
  const own = Math.floor(blobs.of[blob]! / COLOURS) - 1;
  const seen = new Set<number>();
  const queue: number[] = [];
  const take = (next: number): void => {
    if (data[next] !== value || seen.has(next)) return;
    if (field[next]! >= 0 && (field[next] === own || colourOf[field[next]!] !== value)) return;
    seen.add(next);
    queue.push(next);
  };
  for (const next of besideBlob(blobs, blob, width, height)) take(next);
  const [x0, y0, x1, y1] = blobs.box.subarray(blob * 4, blob * 4 + 4) as unknown as [number, number, number, number];
  const room = 2 * lineWidthPx.p90 + 4;
  for (let head = 0; head < queue.length && head < MOST_FOLLOWED_PX; head++) {
    const at = queue[head]!;
    if (field[at]! >= 0) return true;
    const [x, y] = [at % width, Math.floor(at / width)];
    if (x >= x0 - room && x <= x1 + room && y >= y0 - room && y <= y1 + room)
      neighboursOf(at, width, height).forEach(take);
  }
  return false;
}
