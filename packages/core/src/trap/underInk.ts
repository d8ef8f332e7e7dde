import { crossingsInRow } from '../layout/crossingsInRow.ts';
import type { Survey } from '../model/Survey.ts';
import type { Pinholes } from './findPinholes.ts';
import { isSolid } from './markSolids.ts';
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
  if (trap.pinholes !== null) coverPinholes(page, trap.pinholes, columns, y, cells);
  const areas = areasInRow(trap, columns, y);
  if (trap.isMiddle && areas === null && reach2 === undefined) nearestOf(page.field, cells);
  else applyRules(page, trap, columns, y, cells, areas, reach2 ?? null);
}

/** An ink pixel of the field as {@link lookUnderInk} takes it. @param size pixels of the page. */
export function asInk(value: number, size: number): number {
  return ~value >= size ? COVERED : FAR - ~value;
}

/** Pixels of a row that colour has to be looked up for: its ink, and its pinholes. */
export interface InkRow {
  /** Column of each. */
  readonly columns: Int32Array;
  /** As {@link lookUnderInk} takes and leaves them. */
  readonly cells: Int32Array;
}

/** Puts the pixels of a row that colour has to be looked up for into `row`. @returns how many there are. */
export function readInkRow(
  { field, width }: UnderInkPage,
  { pinholes }: Pick<TrapTable, 'pinholes'>,
  y: number,
  { columns, cells }: InkRow,
): number {
  const base = y * width;
  const isPinhole = pinholes?.isPinhole ?? null;
  let count = 0;
  for (let x = 0; x < width; x++) {
    const value = field[base + x]!;
    if (value >= 0 && (isPinhole === null || isPinhole[value] === 0)) continue;
    columns[count] = x;
    cells[count++] = value >= 0 ? value : asInk(value, field.length);
  }
  return count;
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
  reach2: Int32Array | null,
): void {
  const { depth2, ruleOfCell, solids, solidDepth2 } = trap;
  reach2?.fill(0);
  if (trap.leastMargin2 !== Infinity)
    crossLines(field, inkAlpha, width, height, trap, columns, y, cells, areas, reach2);
  // Rows of sources by a product: whole divisions take most of the time here.
  const perWidth = 1 / width;
  for (let px = 0; px < cells.length; px++) {
    const value = cells[px]!;
    if (value > FAR) {
      if (reach2 !== null && value < 0) reach2[px] = -1;
      continue;
    }
    const source = FAR - value;
    const sy = ((source + 0.5) * perWidth) | 0;
    const x = columns[px]!;
    const dx = x - (source - sy * width);
    const dy = y - sy;
    const d2 = dx * dx + dy * dy;
    const cell = field[source]!;
    const alpha = inkAlpha[y * width + x]!;
    const area = areas === null ? -1 : areas[px]!;
    let most2 = Infinity;
    if (area < 0 && solids !== null && isSolid(solids, width, height, x, y, dx, dy, d2)) {
      if (alpha === 255) most2 = solidDepth2;
    } else if (alpha >= HALF_ALPHA) most2 = depth2[area < 0 ? ruleOfCell[cell]! : area]!;
    const runs = d2 <= most2;
    cells[px] = runs ? cell : COVERED;
    if (reach2 !== null) reach2[px] = runs ? d2 : -1;
  }
}

/** Fixed point: so many bits behind the point. */
const ONE_BITS = 14;
const ONE = 1 << ONE_BITS;
const HALF = ONE >> 1;

/**
 * Looks across the line from each opaque pixel, away from its nearest paper, for a part in front whose rule lets it come
 * this far: it goes on until the nearest paper is another region's, by steps that pass no paper.
 */
function crossLines(
  field: Int32Array,
  inkAlpha: Uint8Array,
  width: number,
  height: number,
  { acrossPx, rankOfCell, ruleOfCell, margin2, leastMargin2, pinholes, solids }: TrapTable,
  columns: Int32Array,
  y: number,
  cells: Int32Array,
  areas: Int16Array | null,
  reach2: Int32Array | null,
): void {
  const isPinhole = pinholes?.isPinhole ?? null;
  const perWidth = 1 / width;
  for (let px = 0; px < cells.length; px++) {
    if (cells[px]! > FAR) continue;
    const x = columns[px]!;
    if (inkAlpha[y * width + x] !== 255) continue;
    const source = FAR - cells[px]!;
    const own = rankOfCell[field[source]!]!;
    if (own === 0) continue;
    const sy = ((source + 0.5) * perWidth) | 0;
    const dx = x - (source - sy * width);
    const dy = y - sy;
    const d2 = dx * dx + dy * dy;
    // Nothing is nearer than the nearest paper: the other side lies at least as far on.
    if (d2 <= leastMargin2 || 4 * d2 > acrossPx * acrossPx) continue;
    const area = areas === null ? -1 : areas[px]!;
    if (area < 0 && solids !== null && isSolid(solids, width, height, x, y, dx, dy, d2)) continue;
    const longer = dx * dx > dy * dy ? (dx < 0 ? -dx : dx) : dy < 0 ? -dy : dy;
    const ux = ((dx * ONE) / longer) | 0;
    const uy = ((dy * ONE) / longer) | 0;
    const cell = field[source]!;
    for (let k = longer; k <= acrossPx - longer;) {
      const qx = x + ((ux * k + HALF) >> ONE_BITS);
      const qy = y + ((uy * k + HALF) >> ONE_BITS);
      if (qx < 0 || qy < 0 || qx >= width || qy >= height) break;
      const value = field[qy * width + qx]!;
      const paper = value >= 0 ? qy * width + qx : ~value;
      const other = field[paper]!;
      const ty = ((paper + 0.5) * perWidth) | 0;
      const tx = paper - ty * width;
      if (other === cell) {
        if (value >= 0) break;
        // No paper is nearer than this: so far it is safe to go on at once.
        const step = (Math.sqrt((tx - qx) * (tx - qx) + (ty - qy) * (ty - qy)) * longer) / Math.sqrt(d2);
        k += step > 1 ? step | 0 : 1;
        continue;
      }
      // Paper of another region on this side of the line, or a hole in it, is not across.
      const isAcross = (tx - x) * dx + (ty - y) * dy > 0 && (isPinhole === null || isPinhole[other] === 0);
      if (!isAcross) {
        k++;
        continue;
      }
      const margin = margin2[area < 0 ? ruleOfCell[other]! : area]!;
      if (rankOfCell[other]! < own && margin >= 0 && d2 > margin) {
        cells[px] = other;
        if (reach2 !== null) reach2[px] = (tx - x) * (tx - x) + (ty - y) * (ty - y);
      }
      break;
    }
  }
}

/** Pinholes, and the ink around them, belong to the paper outside the stroke. */
export function coverPinholes(
  page: Pick<UnderInkPage, 'width'>,
  { at, source, row }: Pinholes,
  columns: Int32Array,
  y: number,
  cells: Int32Array,
): void {
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
    const crossings = crossingsInRow(points, y);
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
