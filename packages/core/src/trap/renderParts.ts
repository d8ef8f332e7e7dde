import { TILE_PX } from '../model/CorrectionTile.ts';
import type { TileRaster } from '../corrections/Corrections.ts';
import type { Survey } from '../model/Survey.ts';
import type { RegionTrap } from './RegionTrap.ts';
import { compileTrap, NO_TRAP_INK, type TrapInk } from './TrapTable.ts';
import { asInk, COVERED, lookUnderInk } from './underInk.ts';

/** The flats of a page as numbers: no pixel belongs to two parts. */
export interface PartRaster {
  readonly width: number;
  readonly height: number;
  /** 0 = no colour, else 1 + the part's number, `width * height`. */
  readonly data: Uint16Array;
  /** Bounding boxes `[x0, y0, x1, y1]` by part number, the last two exclusive; empty parts have x1 = 0. */
  readonly box: Int32Array;
  /** Pixels by part number. */
  readonly areaPx: Uint32Array;
}

/**
 * Runs the parts' colour under the ink, as far as the rules of trap say. The result is hard-edged.
 *
 * @param partOfRegion part number of each region, -1 for none.
 * @param partCount how many part numbers there are, at most 65,534.
 * @param ink as `findTrapInk` has it. @default lines alone
 * @param allocate makes the memory of the result, all zero. @default a plain array buffer
 * @param corrections 1 where no colour was painted, 2 + the part's number where one was. @default none
 */
export function renderParts(
  survey: Pick<Survey, 'width' | 'height' | 'field' | 'inkAlpha' | 'regions' | 'cellCount' | 'lineWidthPx'>,
  partOfRegion: Int32Array,
  partCount: number,
  trap: RegionTrap,
  ink: TrapInk = NO_TRAP_INK,
  corrections?: TileRaster,
  allocate: (bytes: number) => ArrayBufferLike = (bytes) => new ArrayBuffer(bytes),
): PartRaster {
  if (partCount > 65_534) throw new RangeError(`\`partCount\` must be at most 65534; received ${partCount}`);
  const { width, height, regions, cellCount } = survey;
  const partOfCell = new Uint16Array(cellCount);
  for (let c = 0; c < cellCount; c++) partOfCell[c] = partOfRegion[regions.ofCell[c]!]! + 1;
  const data = new Uint16Array(allocate(2 * width * height));
  const box = new Int32Array(partCount * 4);
  for (let p = 0; p < partCount; p++) box.set([width, height, 0, 0], p * 4);
  const areaPx = new Uint32Array(partCount);
  const table = compileTrap(survey, trap, ink);
  const row = { columns: new Int32Array(width), cells: new Int32Array(width) };
  const isPinhole = table.pinholes?.isPinhole ?? null;
  for (let y = 0; y < height; y++) {
    const base = y * width;
    const count = fillPaper(survey.field, partOfCell, isPinhole, data, base, width, row.columns, row.cells);
    const [columns, cells] = [row.columns.subarray(0, count), row.cells.subarray(0, count)];
    lookUnderInk(survey, table, columns, y, cells);
    fillInk(columns, cells, partOfCell, data, base);
    if (corrections !== undefined) correctRow(corrections, data, width, y);
    measureRow(data, width, y, box, areaPx);
  }
  return { width, height, data, box, areaPx };
}

/** Runs from this length on are filled by one call. */
const LONG_RUN = 300;

/** Fills paper by runs of the same cell, of which a row has few, and lists the ink. @returns how many pixels are ink. */
function fillPaper(
  field: Int32Array,
  partOfCell: Uint16Array,
  isPinhole: Uint8Array | null,
  data: Uint16Array,
  base: number,
  width: number,
  columns: Int32Array,
  cells: Int32Array,
): number {
  let count = 0;
  for (let x = 0; x < width;) {
    const value = field[base + x]!;
    if (value < 0) {
      columns[count] = x++;
      cells[count++] = asInk(value, field.length);
      continue;
    }
    const from = x++;
    while (x < width && field[base + x] === value) x++;
    if (isPinhole !== null && isPinhole[value] === 1) {
      for (let k = from; k < x; k++) {
        columns[count] = k;
        cells[count++] = value;
      }
    } else {
      const part = partOfCell[value]!;
      // Most runs are short, and the call costs more than writing them.
      if (x - from > LONG_RUN) data.fill(part, base + from, base + x);
      else for (let at = base + from; at < base + x; at++) data[at] = part;
    }
  }
  return count;
}

function fillInk(
  columns: Int32Array,
  cells: Int32Array,
  partOfCell: Uint16Array,
  data: Uint16Array,
  base: number,
): void {
  for (let k = 0; k < cells.length; k++) data[base + columns[k]!] = cells[k] === COVERED ? 0 : partOfCell[cells[k]!]!;
}

function correctRow({ tilesPerRow, tiles }: TileRaster, data: Uint16Array, width: number, y: number): void {
  const row = Math.floor(y / TILE_PX) * tilesPerRow;
  for (let tx = 0; tx < tilesPerRow; tx++) {
    const tile = tiles.get(row + tx);
    if (tile === undefined) continue;
    const from = (y % TILE_PX) * TILE_PX;
    const base = y * width + tx * TILE_PX;
    const count = Math.min(TILE_PX, width - tx * TILE_PX);
    for (let x = 0; x < count; x++) {
      const value = tile[from + x]!;
      if (value > 0) data[base + x] = value - 1;
    }
  }
}

function measureRow(data: Uint16Array, width: number, y: number, box: Int32Array, areaPx: Uint32Array): void {
  const base = y * width;
  let x = 0;
  while (x < width) {
    const value = data[base + x]!;
    const from = x++;
    while (x < width && data[base + x] === value) x++;
    if (value === 0) continue;
    const b = (value - 1) * 4;
    areaPx[value - 1] = areaPx[value - 1]! + (x - from);
    if (from < box[b]!) box[b] = from;
    if (y < box[b + 1]!) box[b + 1] = y;
    if (x > box[b + 2]!) box[b + 2] = x;
    if (y + 1 > box[b + 3]!) box[b + 3] = y + 1;
  }
}
