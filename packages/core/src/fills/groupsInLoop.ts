import type { Survey } from '../model/Survey.ts';
import type { Point } from '../model/Point.ts';

/** Cells taken together: regions, or other groups of them. */
export interface CellGroups {
  readonly count: number;
  readonly ofCell: Int32Array;
  /** Area of each group, in px. */
  readonly areaPx: ArrayLike<number>;
  /** `[x0, y0, x1, y1]` of each group, the last two exclusive. */
  readonly box: Int32Array;
}

/** Groups with at most so many px are counted pixel by pixel, larger ones by samples. */
const COUNTED_PX = 4096;
/** Samples a loop is looked at with. */
const SAMPLES = 250_000;

/**
 * The regions, or other groups of cells, that a rough loop encloses: those with at least `share` of their paper
 * inside it. What is open to the outside stays out by that, and a shape comes out by its ink, not by the loop.
 *
 * @param loop corners in px of the page; it closes by itself, and where it crosses itself the even-odd rule holds.
 * @param share 0..1; 1 takes what lies wholly inside.
 * @returns numbers of the groups, rising. Cost: by samples, whatever the page's size.
 */
export function groupsInLoop(page: Page, groups: CellGroups, loop: readonly Point[], share: number): number[] {
  const frame = loopFrame(page, loop);
  return frame === null ? [] : enclosedGroups(page, frame, groups, pxInLoop(page, frame, groups.ofCell.length), share);
}

type Page = Pick<Survey, 'width' | 'height' | 'field'>;

/** Where a loop lies on the page. */
export interface LoopFrame {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
  /** Where its rows from `y0` on run inside it. */
  readonly rows: RowSpans;
  /** Samples lie so far apart, in px. */
  readonly stride: number;
}

/** @returns null for a loop without an inside on the page. */
export function loopFrame({ width, height }: Page, loop: readonly Point[]): LoopFrame | null {
  if (loop.length < 3) return null;
  const clamp = (v: number, most: number): number => Math.max(0, Math.min(most, v));
  const x0 = clamp(Math.floor(Math.min(...loop.map(([x]) => x))), width);
  const x1 = clamp(Math.ceil(Math.max(...loop.map(([x]) => x))) + 1, width);
  const y0 = clamp(Math.floor(Math.min(...loop.map(([, y]) => y))), height);
  const y1 = clamp(Math.ceil(Math.max(...loop.map(([, y]) => y))) + 1, height);
  if (x1 <= x0 || y1 <= y0) return null;
  const stride = Math.max(1, Math.ceil(Math.sqrt(((x1 - x0) * (y1 - y0)) / SAMPLES)));
  return { x0, y0, x1, y1, rows: spansOfRows(loop, x0, x1, y0, y1), stride };
}

/** About how many px of each cell lie inside a loop, by samples. */
export function pxInLoop({ width, field }: Page, { y0, y1, rows, stride }: LoopFrame, cellCount: number): Float64Array {
  const inside = new Float64Array(cellCount);
  const { spans, start } = rows;
  const px = stride * stride;
  for (let y = y0; y < y1; y += stride) {
    for (let k = start[y - y0]!; k < start[y - y0 + 1]!; k++) {
      const end = y * width + spans[2 * k + 1]!;
      for (let at = y * width + spans[2 * k]!; at < end; at += stride) {
        const cell = field[at]!;
        if (cell >= 0) inside[cell] = inside[cell]! + px;
      }
    }
  }
  return inside;
}

/**
 * Groups with at least `share` of their px inside a loop, rising.
 *
 * @param inCells of {@link pxInLoop}. @param isAsked whether a group is looked at at all.
 */
export function enclosedGroups(
  { width, field }: Page,
  { x0, y0, x1, y1, rows, stride }: LoopFrame,
  { ofCell, areaPx, box, count }: CellGroups,
  inCells: Float64Array,
  share: number,
  isAsked: (group: number) => boolean = () => true,
): number[] {
  const inside = new Float64Array(count);
  inCells.forEach((px, cell) => (inside[ofCell[cell]!] = inside[ofCell[cell]!]! + px));
  const { spans, start } = rows;
  /** Whether a box lies inside in all of its rows. */
  const isWithin = (left: number, top: number, right: number, bottom: number): boolean => {
    if (top < y0 || bottom > y1) return false;
    for (let row = top - y0; row < bottom - y0; row++) {
      let k = start[row]!;
      while (k < start[row + 1]! && (spans[2 * k]! > left || spans[2 * k + 1]! < right)) k++;
      if (k === start[row + 1]!) return false;
    }
    return true;
  };
  const exact = (group: number): number => {
    const b = group * 4;
    const [left, top, right, bottom] = [box[b]!, box[b + 1]!, box[b + 2]!, box[b + 3]!];
    if (isWithin(left, top, right, bottom)) return areaPx[group]!;
    let n = 0;
    for (let y = Math.max(y0, top); y < Math.min(y1, bottom); y++) {
      for (let k = start[y - y0]!; k < start[y - y0 + 1]!; k++) {
        for (let x = Math.max(spans[2 * k]!, left); x < Math.min(spans[2 * k + 1]!, right); x++) {
          const cell = field[y * width + x]!;
          if (cell >= 0 && ofCell[cell] === group) n++;
        }
      }
    }
    return n;
  };
  const found: number[] = [];
  for (let group = 0; group < count; group++) {
    const b = group * 4;
    if (box[b]! >= x1 || box[b + 2]! <= x0 || box[b + 1]! >= y1 || box[b + 3]! <= y0 || !isAsked(group)) continue;
    const small = areaPx[group]! <= COUNTED_PX;
    if (!small && inside[group] === 0) continue;
    // By samples a group that lies wholly inside comes to about its area, give or take its rim.
    const n = small ? exact(group) : inside[group]!;
    const slack = small || stride === 1 ? 0 : Math.min(0.04, (2 * stride) / Math.sqrt(areaPx[group]!));
    if (n >= (share - slack) * areaPx[group]!) found.push(group);
  }
  return found;
}

/** Where rows run inside a loop: row k by `spans[2 * start[k]]` up to `spans[2 * start[k + 1]]`, `[from, to)` each. */
interface RowSpans {
  readonly spans: Int32Array;
  readonly start: Int32Array;
}

/** Rows in whole px, by even-odd crossings of each row's middle. */
function spansOfRows(loop: readonly Point[], x0: number, x1: number, y0: number, y1: number): RowSpans {
  const crossings: number[][] = Array.from({ length: y1 - y0 }, () => []);
  loop.forEach(([ax, ay], k) => {
    const [bx, by] = loop[(k + 1) % loop.length]!;
    const first = Math.max(y0, Math.ceil(Math.min(ay, by) - 0.5));
    const end = Math.min(y1, Math.ceil(Math.max(ay, by) - 0.5));
    for (let y = first; y < end; y++) crossings[y - y0]!.push(ax + ((y + 0.5 - ay) * (bx - ax)) / (by - ay));
  });
  const start = new Int32Array(y1 - y0 + 1);
  const spans: number[] = [];
  crossings.forEach((row, y) => {
    row.sort((a, b) => a - b);
    for (let k = 0; k + 1 < row.length; k += 2) {
      const from = Math.max(x0, Math.ceil(row[k]! - 0.5));
      const to = Math.min(x1, Math.ceil(row[k + 1]! - 0.5));
      if (to > from) spans.push(from, to);
    }
    start[y + 1] = spans.length / 2;
  });
  return { spans: Int32Array.from(spans), start };
}
