import {
  compileTrap,
  CURRENT,
  HOVERED,
  joinBoxes,
  MISSING,
  NO_TRAP_INK,
  sameTrap,
  TILE_PX,
  type CellPaint,
  type HoldPaint,
  type PixelBox,
  type RegionTrap,
  type TileRaster,
  type TrapInk,
  type TrapTable,
} from '@jumble/core';
import { OPEN, type DrawnSurvey, type DrawRequest, type ShownCells } from './messages.ts';
import type { Rect } from './Picture.ts';

/** Is told what of the picture has to be composed anew, in page px. */
export interface Touched {
  readonly rect: (rect: Rect) => void;
  readonly whole: () => void;
}

/** Cells that may appear before their tables do: they show as paper. */
const CELLS_AHEAD = 4096;
/** When more regions than this look other than before, the whole picture is drawn anew. */
const MOST_REPAINTED = 200;

/** What every region, cell and painted pixel of the page looks like now, in tables for the compositor. */
export class RegionPaint {
  private survey: DrawnSurvey | null = null;
  private paint: CellPaint | null = null;
  /** What is in the picture while the colours of another division are on their way. */
  private paintBefore: CellPaint | null = null;
  private trap: RegionTrap | null = null;
  private trapBefore: RegionTrap | null = null;
  private trapInk: TrapInk = NO_TRAP_INK;
  private holds: HoldPaint | null = null;
  private corrections: { readonly tilesPerRow: number; readonly tiles: Map<number, Uint32Array> } | null = null;
  /** Cells that show another colour than their region, and the box they lie in. */
  private shownCells: { readonly words: ReadonlyMap<number, number>; readonly box: PixelBox } | null = null;
  private regionColours = new Uint32Array(0);
  /** Cells of each region: `cellsOf[cellStart[r] .. cellStart[r + 1] - 1]`. */
  private cellStart = new Int32Array(1);
  private cellsOf = new Int32Array(0);
  private hovered = -1;
  private preview: number | null = null;
  private current = -1;

  constructor(private readonly touched: Touched) {}

  /** Tables for the compositor; null until the regions have colours. */
  get now(): CellPaint | null {
    if (this.paint === null) return null;
    return {
      ...this.paint,
      ...(this.holds === null ? {} : { holds: this.holds }),
      ...(this.corrections === null ? {} : { corrections: this.corrections }),
    };
  }

  /** Another page: everything is drawn anew once its colours are there. */
  takePage(survey: DrawnSurvey): void {
    this.trapInk = NO_TRAP_INK;
    this.holds = null;
    this.takeRegions(survey);
    this.touched.whole();
  }

  /** @param changed the paper that has other cells now: the rest of the picture stays, but for what takes other colours. */
  takeDivision(survey: DrawnSurvey, changed: PixelBox | null): void {
    if (this.paint !== null) [this.paintBefore, this.trapBefore] = [this.paint, this.trap];
    this.takeRegions(survey);
    if (changed !== null) this.touchBox(changed);
  }

  private takeRegions(survey: DrawnSurvey): void {
    this.survey = survey;
    const { ofCell, count } = survey.regions;
    this.cellStart = new Int32Array(count + 1);
    for (const region of ofCell) this.cellStart[region + 1]!++;
    for (let r = 0; r < count; r++) this.cellStart[r + 1]! += this.cellStart[r]!;
    const next = this.cellStart.slice();
    this.cellsOf = new Int32Array(ofCell.length);
    ofCell.forEach((region, cell) => (this.cellsOf[next[region]!++] = cell));
    this.paint = null;
    this.shownCells = null;
    this.hovered = this.current = -1;
  }

  /** Every region in its colour: RGBA words, {@link OPEN} for one without a part. */
  takeColours(colours: Uint32Array, trap: RegionTrap): void {
    if (this.survey === null) return;
    this.regionColours = new Uint32Array(colours);
    // The computing worker writes the cells of a new closure into the shared field a moment before their tables come.
    const room = this.survey.cellCount + CELLS_AHEAD;
    this.trap = trap;
    const table = compileTrap(this.survey, trap, this.trapInk);
    this.paint = { colour: new Uint32Array(room), marks: new Uint8Array(room), trap: table };
    for (let r = 0; r < this.regionColours.length; r++) this.paintRegion(r);
    if (this.paintBefore !== null && this.trapBefore !== null && sameDepths(this.trapBefore, trap))
      this.touchRepainted(this.paintBefore, this.paint);
    else this.touched.whole();
    this.paintBefore = null;
  }

  /** What trap needs to know of the ink. */
  takeTrapInk(ink: TrapInk): void {
    this.trapInk = ink;
    if (this.paint !== null) this.paint = { ...this.paint, trap: this.compared(this.trap!)! };
    this.touched.whole();
  }

  /** The colours of lines; null for black. */
  takeHolds(holds: HoldPaint | null): void {
    this.holds = holds;
    this.touched.whole();
  }

  /** Squares of lines that are being painted on. */
  patchHolds({ tilesPerRow, tiles }: TileRaster): void {
    if (this.holds === null) return;
    const merged = new Map(this.holds.varying?.tiles);
    for (const [number, words] of tiles) {
      merged.set(number, words);
      this.touchTile(number, tilesPerRow);
    }
    this.holds = { ...this.holds, varying: { tilesPerRow, tiles: merged } };
  }

  private touchTile(number: number, tilesPerRow: number): void {
    const x = (number % tilesPerRow) * TILE_PX;
    const y = Math.floor(number / tilesPerRow) * TILE_PX;
    this.touched.rect({ x, y, width: TILE_PX, height: TILE_PX });
  }

  /** The page's colours under another trap; null while there are none. */
  under(trap: RegionTrap): CellPaint | null {
    const [now, table] = [this.now, this.compared(trap)];
    return now === null || table === null ? null : { ...now, trap: table };
  }

  /** Null where the page was divided otherwise since the trap was worked out. */
  private compared(trap: RegionTrap): TrapTable | null {
    const { survey } = this;
    if (survey === null || trap.ruleOfRegion.length !== survey.regions.count) return null;
    return compileTrap(survey, trap, this.trapInk);
  }

  /** Marks regions with cells that look other than before as to be drawn anew. */
  private touchRepainted(before: CellPaint, after: CellPaint): void {
    const { cellCount, regions } = this.survey!;
    const repainted = new Set<number>();
    for (let cell = 0; cell < cellCount && repainted.size <= MOST_REPAINTED; cell++) {
      if (before.colour[cell] !== after.colour[cell] || before.marks[cell] !== after.marks[cell])
        repainted.add(regions.ofCell[cell]!);
    }
    if (repainted.size > MOST_REPAINTED) this.touched.whole();
    else for (const region of repainted) this.touch(region);
  }

  /** Other colours of single regions. */
  patch(regions: Int32Array, colours: Uint32Array): void {
    regions.forEach((region, k) => {
      this.regionColours[region] = colours[k]!;
      this.paintRegion(region);
      this.touch(region);
    });
  }

  /** The region under the pointer, with the colour a click would give it, and the one the worklist stands at. */
  point({
    hovered,
    preview,
    current,
  }: Pick<Extract<DrawRequest, { kind: 'point' }>, 'hovered' | 'preview' | 'current'>): void {
    if (hovered === this.hovered && preview === this.preview && current === this.current) return;
    const before = [this.hovered, this.current];
    this.hovered = hovered;
    this.preview = preview;
    this.current = current;
    for (const region of [...before, hovered, current]) {
      if (region < 0) continue;
      this.paintRegion(region);
      this.touch(region);
    }
  }

  /** All that is painted over the regions, or nothing. */
  takeCorrections(raster: TileRaster | null): void {
    if (raster !== null || this.corrections !== null) this.touched.whole();
    this.corrections = raster === null ? null : { ...raster, tiles: new Map(raster.tiles) };
  }

  /** Squares of painted pixels that changed. */
  patchCorrections({ tilesPerRow, tiles }: TileRaster): void {
    this.corrections ??= { tilesPerRow, tiles: new Map() };
    for (const [number, words] of tiles) {
      this.corrections.tiles.set(number, words);
      this.touchTile(number, tilesPerRow);
    }
  }

  /** Cells in other colours than their regions', in place of those before; null for none. */
  takeCells(next: ShownCells | null): void {
    if (this.survey === null) return;
    const before = this.shownCells;
    const words = new Map<number, number>();
    next?.cells.forEach((cell, k) => words.set(cell, next.colours[k]!));
    this.shownCells = next === null ? null : { words, box: next.box };
    const regions = new Set<number>();
    for (const cell of [...(before?.words.keys() ?? []), ...words.keys()]) {
      if (before?.words.get(cell) !== words.get(cell)) regions.add(this.survey.regions.ofCell[cell]!);
    }
    const lies = joinBoxes(before?.box ?? null, next?.box ?? null);
    for (const region of regions) {
      this.paintRegion(region);
      const [left, top, right, bottom] = this.boxOf(region);
      if (lies === null) continue;
      const [x0, y0] = [Math.max(left, lies[0]), Math.max(top, lies[1])];
      this.touchBox([x0, y0, Math.min(right, lies[2]), Math.min(bottom, lies[3])]);
    }
  }

  /** Tables in which one region is the one that is meant, whatever the pointer is at; null while there are none. */
  meaning(region: number): CellPaint | null {
    const now = this.now;
    if (now === null || this.survey === null || region >= this.survey.regions.count) return null;
    const marks = now.marks.map((mark) => mark & MISSING);
    for (let k = this.cellStart[region]!; k < this.cellStart[region + 1]!; k++) marks[this.cellsOf[k]!]! |= CURRENT;
    return { ...now, marks };
  }

  /** Box of a region, in page px. */
  boxOf(region: number): PixelBox {
    return this.survey!.regions.box.subarray(region * 4, region * 4 + 4) as unknown as PixelBox;
  }

  /** What a region looks like now, into the tables. */
  private paintRegion(region: number): void {
    const { paint } = this;
    if (paint === null || region + 1 >= this.cellStart.length) return;
    const own = this.regionColours[region]!;
    const shown = region === this.hovered && this.preview !== null ? this.preview : own;
    const marks =
      (shown === OPEN ? MISSING : 0) |
      (region === this.hovered ? HOVERED : 0) |
      (region === this.current ? CURRENT : 0);
    for (let k = this.cellStart[region]!; k < this.cellStart[region + 1]!; k++) {
      const cell = this.cellsOf[k]!;
      const over = this.shownCells?.words.get(cell);
      paint.colour[cell] = over ?? (shown === OPEN ? 0 : shown);
      paint.marks[cell] = over === undefined ? marks : marks & ~MISSING;
    }
  }

  /** Marks a region's place as to be drawn anew. */
  private touch(region: number): void {
    if (this.survey !== null && region >= 0) this.touchBox(this.boxOf(region));
  }

  private touchBox([left, top, right, bottom]: PixelBox): void {
    // Colour runs under the ink around a region: take the lines' own width along.
    const reach = this.survey!.lineWidthPx.p90 * 3 + 4;
    const [x, y] = [left - reach, top - reach];
    this.touched.rect({ x, y, width: right + reach - x, height: bottom + reach - y });
  }
}

/** Whether two divisions of a page have the same rule all over it: the regions of one may be those of the other. */
function sameDepths(a: RegionTrap, b: RegionTrap): boolean {
  const isUniform = ({ rules, areas, ruleOfRegion }: RegionTrap): boolean =>
    rules.length === 1 && rules[0]!.marginPx === null && areas.length === 0 && ruleOfRegion.length > 0;
  return sameTrap(a, b) || (isUniform(a) && isUniform(b) && a.rules[0]!.depthPx === b.rules[0]!.depthPx);
}
