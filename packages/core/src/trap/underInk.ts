import type { Survey } from '../model/Survey.ts';
import type { TrapTable } from './TrapTable.ts';

/** In place of a cell: beside the page, and ink under which no colour runs or is looked at. */
export const OUTSIDE = -1;
export const COVERED = -2;
/** Further down: `FAR - index` of the nearest paper pixel of an ink pixel. */
export const FAR = -3;

/** Ink with less alpha than this is more paper than ink, and shows its colour however deep it lies. */
export const HALF_ALPHA = 128;

export type UnderInkPage = Pick<Survey, 'width' | 'height' | 'field' | 'inkAlpha'>;

/**
 * Finds for a row of ink pixels the cell whose colour runs there: that of the nearest paper up to the rule's depth, or
 * under a rule with a margin that of the part in front, if it lies across the line and its margin is kept.
 *
 * Soft ink takes its nearest region alone, so that nothing shows through. This is the one place that says where colour
 * lies under the ink: the screen, the files and the checks all ask it.
 *
 * @param columns column of each of `cells` in the page, -1 outside of it.
 * @param cells in: a cell on paper, `FAR - index` of the nearest paper on ink, {@link OUTSIDE} or {@link COVERED}. Out: the
 * cell, or {@link COVERED} where no colour runs.
 * @param reach2 out: square of the distance from the paper the colour comes from, 0 on paper, -1 where none runs.
 * @default not asked for
 */
export function lookUnderInk(
  page: UnderInkPage,
  trap: TrapTable,
  columns: Int32Array,
  y: number,
  cells: Int32Array,
  reach2?: Int32Array,
): void {
  if (trap.pinholes !== null) coverPinholes(page, trap, columns, y, cells);
  const areas = areasInRow(trap, columns, y);
  if (trap.isMiddle && areas === null && reach2 === undefined) nearestOf(page.field, cells);
  else applyRules(page, trap, columns, y, cells, areas, reach2);
}

/** Puts the pixels of a whole row as {@link lookUnderInk} takes them. */
export function readRow({ field, width }: UnderInkPage, y: number, cells: Int32Array): void {
  const base = y * width;
  for (let x = 0; x < width; x++) {
    const value = field[base + x]!;
    cells[x] = value >= 0 ? value : ~value >= field.length ? COVERED : FAR - ~value;
  }
}

function nearestOf(field: Int32Array, cells: Int32Array): void {
  for (let px = 0; px < cells.length; px++) if (cells[px]! <= FAR) cells[px] = field[FAR - cells[px]!]!;
}

function applyRules(
  { width, height, field, inkAlpha }: UnderInkPage,
  trap: TrapTable,
  columns: Int32Array,
  y: number,
  cells: Int32Array,
  areas: Int16Array | null,
  reach2: Int32Array | undefined,
): void {
  const { depth2, ruleOfCell, leastMargin2, solids, solidDepth2 } = trap;
  const found: Found = { cell: -1, reach2: 0 };
  for (let px = 0; px < cells.length; px++) {
    const value = cells[px]!;
    if (value > FAR) {
      if (reach2 !== undefined) reach2[px] = value >= 0 ? 0 : -1;
      continue;
    }
    const source = FAR - value;
    const x = columns[px]!;
    const at = y * width + x;
    const cell = field[source]!;
    const sx = source % width;
    const dx = x - sx;
    const dy = y - (source - sx) / width;
    const d2 = dx * dx + dy * dy;
    const alpha = inkAlpha[at]!;
    const area = areas === null ? -1 : areas[px]!;
    let most2: number;
    if (area < 0 && solids !== null && ((solids[at >> 3]! >> (at & 7)) & 1) === 1) {
      most2 = alpha < 255 ? Infinity : solidDepth2;
    } else {
      if (
        alpha === 255 &&
        d2 > leastMargin2 &&
        findAcross(field, width, height, x, y, dx, dy, d2, cell, area, trap, found)
      ) {
        cells[px] = found.cell;
        if (reach2 !== undefined) reach2[px] = found.reach2;
        continue;
      }
      most2 = alpha < HALF_ALPHA ? Infinity : depth2[area < 0 ? ruleOfCell[cell]! : area]!;
    }
    const runs = d2 <= most2;
    cells[px] = runs ? cell : COVERED;
    if (reach2 !== undefined) reach2[px] = runs ? d2 : -1;
  }
}

interface Found {
  cell: number;
  reach2: number;
}

/**
 * Looks straight across the line, away from the nearest paper, for a part in front whose rule lets it come this far.
 *
 * @param dx, dy from the nearest paper to the pixel; `d2` is their square. @param area rule of the area the pixel lies in, -1 for none.
 */
function findAcross(
  field: Int32Array,
  width: number,
  height: number,
  x: number,
  y: number,
  dx: number,
  dy: number,
  d2: number,
  cell: number,
  area: number,
  { acrossPx, rankOfCell, ruleOfCell, margin2, pinholes }: TrapTable,
  found: Found,
): boolean {
  const own = rankOfCell[cell]!;
  const longer = Math.max(Math.abs(dx), Math.abs(dy));
  const ux = dx / longer;
  const uy = dy / longer;
  for (let k = 1; k <= acrossPx; k++) {
    const qx = Math.round(x + ux * k);
    const qy = Math.round(y + uy * k);
    if (qx < 0 || qy < 0 || qx >= width || qy >= height) return false;
    const other = field[qy * width + qx]!;
    if (other < 0 || (pinholes !== null && pinholes.isPinhole[other] === 1)) continue;
    const margin = margin2[area < 0 ? ruleOfCell[other]! : area]!;
    if (rankOfCell[other]! >= own || margin < 0 || d2 <= margin) return false;
    found.cell = other;
    found.reach2 = (qx - x) * (qx - x) + (qy - y) * (qy - y);
    return true;
  }
  return false;
}

/** Pinholes, and the ink around them, belong to the paper outside the stroke. */
function coverPinholes(page: UnderInkPage, trap: TrapTable, columns: Int32Array, y: number, cells: Int32Array): void {
  const { at, source, row } = trap.pinholes!;
  const [from, to] = [row[y]!, row[y + 1]!];
  if (from === to) return;
  const base = y * page.width;
  const first = at[from]! - base;
  const sources = new Int32Array(at[to - 1]! - base - first + 1);
  for (let k = from; k < to; k++) sources[at[k]! - base - first] = FAR - source[k]!;
  for (let px = 0; px < cells.length; px++) {
    const place = columns[px]! - first;
    if (place < 0 || place >= sources.length || columns[px]! < 0 || sources[place] === 0) continue;
    if (cells[px] !== COVERED) cells[px] = sources[place]!;
  }
}

/** Rule of the area each of a row's pixels lies in, -1 for none; null where no area reaches into the row. */
export function areasInRow({ areas }: TrapTable, columns: Int32Array, y: number): Int16Array | null {
  let rules: Int16Array | null = null;
  for (const { points, rule, top, bottom } of areas) {
    if (y < top || y >= bottom) continue;
    const crossings: number[] = [];
    // Corners lie between pixels: the row's middle never meets one.
    const middle = y + 0.5;
    for (let k = 0; k < points.length; k++) {
      const [x0, y0] = points[k]!;
      const [x1, y1] = points[(k + 1) % points.length]!;
      if (y0 > middle === y1 > middle) continue;
      crossings.push(x0 + ((middle - y0) / (y1 - y0)) * (x1 - x0));
    }
    crossings.sort((a, b) => a - b);
    rules ??= new Int16Array(columns.length).fill(-1);
    for (let px = 0; px < columns.length; px++) {
      const centre = columns[px]! + 0.5;
      let inside = false;
      for (const crossing of crossings) if (crossing < centre) inside = !inside;
      if (inside && columns[px]! >= 0) rules[px] = rule;
    }
  }
  return rules;
}
