import type { Survey } from '../model/Survey.ts';
import type { Point } from '../model/Point.ts';
import { NO_RANK, type RegionTrap } from './RegionTrap.ts';
import { length, widthBetween } from './acrossLine.ts';
import { FaultPlaces } from './FaultPlaces.ts';
import { compileTrap, type TrapInk, type TrapTable } from './TrapTable.ts';
import { isSolid, type SolidInk } from './markSolids.ts';
import { areasInRow, COVERED, coverPinholes, FAR, HALF_ALPHA, lookUnderInk, readInkRow } from './underInk.ts';

/** Soft ink that colour does not reach, or a line too thin for the depth from both sides. */
export type TrapFaultKind = 'halo' | 'short';

/** A place where a fixed depth does not do what it says. */
export interface TrapFault {
  readonly kind: TrapFaultKind;
  /** Its worst pixel. */
  readonly at: Point;
  /** `[x0, y0, x1, y1]`, the last two exclusive. */
  readonly box: readonly [number, number, number, number];
  /** Ink pixels it takes up. */
  readonly areaPx: number;
  /** How far the soft edge reaches, or how wide the line is, in px. */
  readonly foundPx: number;
  /** The depth of the rule, in px. */
  readonly depthPx: number;
  /** Parts on its sides, by the caller's numbers, the lower first; -1 for none. */
  readonly parts: readonly [number, number];
  /** An outline around all of it, for an area with a rule of its own. */
  readonly outline: readonly Point[];
}

/** Places end at squares of so many line widths. */
const TILE_WIDTHS = 40;
const LEAST_TILE_PX = 96;
/** A line this much thinner than twice the depth is cut short: less is the rounding of pixels. */
const SLACK_PX = 0.5;
/**
 * Lists where fixed depths leave a halo or are cut short, the worst first. The middle of the line, and as deep as the line
 * allows, leave none.
 *
 * @param partOfRegion part number of each region, -1 for none or "leave empty". Cost: about two reads of the ink.
 */
export function findTrapFaults(
  survey: Pick<Survey, 'width' | 'height' | 'field' | 'inkAlpha' | 'regions' | 'cellCount' | 'lineWidthPx'>,
  partOfRegion: Int32Array,
  trap: RegionTrap,
  ink: TrapInk,
): TrapFault[] {
  if (trap.rules.every(({ depthPx }) => depthPx === Infinity)) return [];
  const { width, height, inkAlpha, field } = survey;
  const table = compileTrap(survey, trap, ink);
  const partOfCell = new Int32Array(survey.cellCount);
  for (let cell = 0; cell < survey.cellCount; cell++) {
    const region = survey.regions.ofCell[cell]!;
    partOfCell[cell] = trap.rankOfRegion[region] === NO_RANK ? -1 : partOfRegion[region]!;
  }
  const places = new FaultPlaces(
    width,
    height,
    Math.max(LEAST_TILE_PX, Math.round(TILE_WIDTHS * survey.lineWidthPx.median)),
  );
  // Sources of this row and the one above: the index of each pixel's nearest paper, itself on paper, -1 for none.
  let above = new Int32Array(width).fill(-1);
  let here = new Int32Array(width);
  const row = { columns: new Int32Array(width), cells: new Int32Array(width) };
  let inkAbove = new Int32Array(0);
  const cells = new Int32Array(width);
  const depth = new RowDepths(table, width, height, field);
  for (let y = 0; y < height; y++) {
    const count = readInkRow(survey, table, y, row);
    const columns = row.columns.subarray(0, count);
    const sources = row.cells.subarray(0, count);
    if (table.pinholes !== null) coverPinholes(survey, table.pinholes, columns, y, sources);
    const found = cells.subarray(0, count);
    found.set(sources);
    lookUnderInk(survey, table, columns, y, found);
    depth.read(y);
    const base = y * width;
    for (let x = 0; x < width; x++) here[x] = base + x;
    for (let k = 0; k < count; k++) here[columns[k]!] = sources[k]! > FAR ? -1 : FAR - sources[k]!;
    for (let k = 0; k < count; k++) {
      const x = columns[k]!;
      const at = base + x;
      const source = here[x]!;
      if (source < 0) continue;
      if (found[k] === COVERED && inkAlpha[at]! >= HALF_ALPHA && inkAlpha[at]! < 255) addHalo(x, y, source);
      if (x > 0) meet(x - 1, y, here[x - 1]!, x, y, source);
      if (y > 0) meet(x, y - 1, above[x]!, x, y, source);
      if (x + 1 < width && here[x + 1] === at + 1) meet(x, y, source, x + 1, y, at + 1);
    }
    for (const x of inkAbove) if (here[x] === base + x) meet(x, y - 1, above[x]!, x, y, base + x);
    depth.keep();
    inkAbove = columns.slice();
    [above, here] = [here, above];
  }
  return places.list();

  function addHalo(x: number, y: number, source: number): void {
    const cell = field[source]!;
    const part = partOfCell[cell]!;
    if (part < 0) return;
    const sx = source % width;
    const reach = length(x - sx, y - (source - sx) / width);
    const deep = depth.at(x, y, cell);
    // Under a solid black it may be left so.
    if (deep < reach) places.add('halo', x, y, reach, deep, reach - deep, part, part);
  }

  /** Two neighbours whose colours come from opposite sides of a line: how wide is it, and how deep may they go? */
  function meet(px: number, py: number, from: number, qx: number, qy: number, to: number): void {
    if (from < 0 || from === to) return;
    const [one, two] = [field[from]!, field[to]!];
    if (one === two) return;
    const [partOne, partTwo] = [partOfCell[one]!, partOfCell[two]!];
    const [isPaperOne, isPaperTwo] = [from === py * width + px, to === qy * width + qx];
    if (partOne === partTwo || (isPaperOne && isPaperTwo)) return;
    const deepOne = partOne < 0 || isPaperOne ? -1 : depth.at(px, py, one);
    const deepTwo = partTwo < 0 || isPaperTwo ? -1 : depth.at(qx, qy, two);
    const deepest = Math.max(deepOne === Infinity ? -1 : deepOne, deepTwo === Infinity ? -1 : deepTwo);
    if (deepest < 0) return;
    const wide = widthBetween(from, py * width + px, qy * width + qx, to, width);
    if (wide <= 0 || wide >= 2 * deepest - SLACK_PX) return;
    const [low, high] = partOne < partTwo ? [partOne, partTwo] : [partTwo, partOne];
    if (!isPaperOne) places.add('short', px, py, wide, deepest, 2 * deepest - wide, low, high);
    if (!isPaperTwo) places.add('short', qx, qy, wide, deepest, 2 * deepest - wide, low, high);
  }
}

/** How deep rules let colour run at pixels of a row and of the one before, in px; Infinity where no depth is fixed. */
class RowDepths {
  private readonly all: Int32Array;
  private here: Int16Array | null = null;
  private above: Int16Array | null = null;
  private y = 0;

  constructor(
    private readonly table: TrapTable,
    private readonly width: number,
    private readonly height: number,
    private readonly field: Int32Array,
  ) {
    this.all = Int32Array.from({ length: width }, (_, x) => x);
  }

  read(y: number): void {
    this.y = y;
    this.here = areasInRow(this.table, this.all, y);
  }

  keep(): void {
    this.above = this.here;
  }

  at(x: number, y: number, cell: number): number {
    const { depth2, ruleOfCell, solids } = this.table;
    const area = (y < this.y ? this.above : this.here)?.[x] ?? -1;
    if (area >= 0) return Math.sqrt(depth2[area]!);
    if (solids !== null && this.isInSolid(solids, x, y)) return Infinity;
    return Math.sqrt(depth2[ruleOfCell[cell]!]!);
  }

  private isInSolid(solids: SolidInk, x: number, y: number): boolean {
    const { width, height, field } = this;
    const source = ~field[y * width + x]!;
    if (source < 0 || source >= field.length) return false;
    const sx = source % width;
    const [dx, dy] = [x - sx, y - (source - sx) / width];
    return isSolid(solids, width, height, x, y, dx, dy, dx * dx + dy * dy);
  }
}
