import type { Survey } from '../model/Survey.ts';
import type { Point } from '../model/Point.ts';
import { NO_RANK, type RegionTrap } from './RegionTrap.ts';
import { FaultPlaces } from './FaultPlaces.ts';
import { compileTrap, type TrapInk, type TrapTable } from './TrapTable.ts';
import { areasInRow, COVERED, FAR, HALF_ALPHA, lookUnderInk, readRow } from './underInk.ts';

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
/** How straight two sides lie across from each other: the share of the way between them that is not a corner. */
const ACROSS_SHARE = 0.9;

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
  const columns = Int32Array.from({ length: width }, (_, x) => x);
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
  const raw = new Int32Array(width);
  const cells = new Int32Array(width);
  const depth = new RowDepths(table, width);
  for (let y = 0; y < height; y++) {
    readRow(survey, y, raw);
    cells.set(raw);
    lookUnderInk(survey, table, columns, y, cells);
    depth.read(columns, y);
    const base = y * width;
    for (let x = 0; x < width; x++) here[x] = raw[x]! >= 0 ? base + x : raw[x] === COVERED ? -1 : FAR - raw[x]!;
    for (let x = 0; x < width; x++) {
      const at = base + x;
      const source = here[x]!;
      if (source < 0) continue;
      const cell = field[source]!;
      if (
        source !== at &&
        cells[x] === COVERED &&
        inkAlpha[at]! >= HALF_ALPHA &&
        inkAlpha[at]! < 255 &&
        partOfCell[cell]! >= 0
      ) {
        const sx = source % width;
        const found = length(x - sx, y - (source - sx) / width);
        places.add(
          'halo',
          x,
          y,
          found,
          depth.at(x, cell),
          found - depth.at(x, cell),
          partOfCell[cell]!,
          partOfCell[cell]!,
        );
      }
      if (x > 0) meet(x - 1, y, here[x - 1]!, x, y, source);
      if (y > 0) meet(x, y - 1, above[x]!, x, y, source);
    }
    depth.keep();
    [above, here] = [here, above];
  }
  return places.list();

  /** Two neighbours whose colours come from opposite sides of a line: how wide is it, and how deep may they go? */
  function meet(px: number, py: number, from: number, qx: number, qy: number, to: number): void {
    if (from < 0 || from === to) return;
    const [one, two] = [field[from]!, field[to]!];
    if (one === two) return;
    const [partOne, partTwo] = [partOfCell[one]!, partOfCell[two]!];
    const [isPaperOne, isPaperTwo] = [from === py * width + px, to === qy * width + qx];
    if (partOne === partTwo || (isPaperOne && isPaperTwo)) return;
    const deepOne = partOne < 0 || isPaperOne ? -1 : depth.at(px, one, py < qy);
    const deepTwo = partTwo < 0 || isPaperTwo ? -1 : depth.at(qx, two);
    const deepest = Math.max(deepOne === Infinity ? -1 : deepOne, deepTwo === Infinity ? -1 : deepTwo);
    if (deepest < 0) return;
    const [fx, fy, tx, ty] = [from % width, Math.floor(from / width), to % width, Math.floor(to / width)];
    const [ex, ey] = [tx - fx, ty - fy];
    const across = length(ex, ey);
    const wide = across - 1;
    if (wide <= 0 || wide >= 2 * deepest - SLACK_PX) return;
    if ((px - fx) * ex + (py - fy) * ey < 0 || (qx - tx) * ex + (qy - ty) * ey > 0) return;
    const way = length(px - fx, py - fy) + length(qx - tx, qy - ty) + 1;
    if (across < ACROSS_SHARE * way) return;
    const [low, high] = partOne < partTwo ? [partOne, partTwo] : [partTwo, partOne];
    if (!isPaperOne) places.add('short', px, py, wide, deepest, 2 * deepest - wide, low, high);
    if (!isPaperTwo) places.add('short', qx, qy, wide, deepest, 2 * deepest - wide, low, high);
  }
}

// Not the hypotenuse of the platform: its last bit differs from one engine to another.
function length(dx: number, dy: number): number {
  return Math.sqrt(dx * dx + dy * dy);
}

/** How deep rules let colour run at pixels of a row and of the one before, in px; Infinity where no depth is fixed. */
class RowDepths {
  private here: Int16Array | null = null;
  private above: Int16Array | null = null;
  private y = 0;

  constructor(
    private readonly table: TrapTable,
    private readonly width: number,
  ) {}

  read(columns: Int32Array, y: number): void {
    this.y = y;
    this.here = areasInRow(this.table, columns, y);
  }

  keep(): void {
    this.above = this.here;
  }

  at(x: number, cell: number, isAbove = false): number {
    const { depth2, ruleOfCell, solids } = this.table;
    const area = (isAbove ? this.above : this.here)?.[x] ?? -1;
    if (area >= 0) return Math.sqrt(depth2[area]!);
    const at = (isAbove ? this.y - 1 : this.y) * this.width + x;
    if (solids !== null && ((solids[at >> 3]! >> (at & 7)) & 1) === 1) return Infinity;
    return Math.sqrt(depth2[ruleOfCell[cell]!]!);
  }
}
