import type { Cut } from '../model/Cut.ts';
import type { CutRuns } from '../gaps/cells/cutRuns.ts';
import { placePoints } from '../gaps/borders/findBorderPoints.ts';
import { measureRadii } from '../skeleton/measureRadii.ts';
import { pixelsOfCut } from '../gaps/proposals/placeCut.ts';
import { retallyBorders } from '../gaps/borders/tallyBorders.ts';
import { Int32Stack } from '../raster/growable.ts';
import { keyOfCut } from '../gaps/proposals/handCut.ts';
import type { CellGraph } from '../model/CellGraph.ts';
import { findAnchors } from '../regions/findAnchors.ts';
import type { Cells } from '../raster/labelRuns.ts';
import { relabelRuns } from '../raster/relabelRuns.ts';
import type { PaperRuns } from '../raster/scanRuns.ts';
import { cutsWith, graphOf, splitRuns } from './cutPage.ts';
import type { CellRuns, InkBase } from './OpenSurvey.ts';

/** `[x0, y0, x1, y1]` in px, the last two exclusive. */
export type PixelBox = readonly [number, number, number, number];

export interface Recut {
  readonly graph: CellGraph;
  /** Paper that has other cells now. */
  readonly changed: PixelBox | null;
}

/** Cells this near to a cut that comes or goes are divided again, in px. */
const NEAR_PX = 3;

/**
 * Changes the cuts of a page that is cut: only cells the change touches are divided again, and all others
 * keep their numbers. New cells come last, so cells are no longer numbered in reading order.
 *
 * @param base the paper of its field is written over where cells change.
 * @returns null where the page has to be cut as a whole.
 */
export function recutPage(base: InkBase, graph: CellGraph, drawn: readonly string[]): Recut | null {
  const { width, height, field, found } = base;
  const cuts = cutsWith(base, drawn);
  const { touched, box: near } = touchedCells(base, graph, cuts);
  const around = boxOf(graph.cells, (cell) => touched[cell] === 1);
  if (around === null) return { graph, changed: null };
  const rows = [Math.max(0, around[1] - NEAR_PX), Math.min(height, around[3] + NEAR_PX)] as const;
  const all = resplit(base, graph, cuts, near);
  const split = rowsOf(all.split, rows);
  const cellOf = all.cellOf.subarray(all.split.row[rows[0]]!, all.split.row[rows[1]]!);
  const pieces = relabelRuns(split, split.onCut, height, cellOf, touched);
  if (pieces === null) return null;

  const numbers = numberPieces(split, pieces.ofRun, pieces.count, cellOf, touched);
  const cellOfRun = pieces.ofRun;
  for (let r = 0; r < split.count; r++) {
    const piece = pieces.ofRun[r]!;
    cellOfRun[r] = piece >= 0 ? numbers.ofPiece[piece]! : cellOf[r]!;
  }
  const changed = joinBoxes(
    repaintPieces(split, cellOfRun, cellOf, near, rows, width, field),
    renumberMoved(graph.cells, numbers.ofCell, width, field),
  );

  // Tables: what was not touched is carried over, the rest is measured.
  const count = numbers.count;
  const isNew = new Uint8Array(count);
  for (const cell of numbers.ofPiece) isNew[cell] = 1;
  const cells: Cells = {
    count,
    areaPx: new Uint32Array(count),
    box: new Int32Array(count * 4),
    first: new Int32Array(count).fill(-1),
  };
  const anchorBefore = new Int32Array(count).fill(-1);
  const radiusPx = new Float64Array(count);
  const deepest = new Int32Array(count).fill(-1);
  for (let c = 0; c < graph.cells.count; c++) {
    if (touched[c] === 1) continue;
    const to = numbers.ofCell[c]!;
    cells.areaPx[to] = graph.cells.areaPx[c]!;
    cells.first[to] = graph.cells.first[c]!;
    for (let k = 0; k < 4; k++) cells.box[to * 4 + k] = graph.cells.box[c * 4 + k]!;
    anchorBefore[to] = graph.anchor[c]!;
    radiusPx[to] = graph.facts.radiusPx[c]!;
    deepest[to] = graph.deepest[c]!;
  }
  addRuns(split, cellOfRun, isNew, width, rows, cells);
  const anchor = findAnchors(field, base.blocks, split, cellOfRun, count, width, height, anchorBefore, around);
  if (found !== null) {
    keepDeepest(graph, numbers, field, radiusPx, deepest);
    const box = boxOf(cells, (cell) => isNew[cell] === 1 && deepest[cell] === -1);
    if (box !== null) {
      measureRadii(split, cellOfRun, width, height, found.paper, found.paperFactor, { radiusPx, deepest }, box);
    }
  }
  const isMoved = numbers.ofCell.some((to, cell) => to !== cell);
  const pixels = isMoved ? ([0, width * height] as const) : ([rows[0] * width, rows[1] * width] as const);
  const change = { touched, ofCell: numbers.ofCell, pixels };
  placePoints(base.borderPoints, field, change);
  const borders = retallyBorders(graph.borders, change, isNew, base.borderPoints);
  const next = graphOf(base, cuts, borders, cells, anchor, radiusPx, deepest);
  cellOf.set(cellOfRun);
  if (isMoved) renumberRuns(all, graph.cells.count, numbers.ofCell);
  Object.assign(base.latest, { graph: next, runs: all });
  return { graph: next, changed };
}

/** The page's runs parted at other cuts, with their cells of before: only rows with cuts that come or go are parted anew. */
function resplit(base: InkBase, graph: CellGraph, cuts: readonly Cut[], near: PixelBox): CellRuns {
  const { width, height, field, latest } = base;
  const [top, bottom] = latest.graph === graph ? [near[1], near[3]] : [0, height];
  const parted = splitRuns(base, cuts, [top, bottom]);
  const cellOfParted = new Int32Array(parted.count);
  for (let y = top; y < bottom; y++) {
    for (let r = parted.row[y]!; r < parted.row[y + 1]!; r++) cellOfParted[r] = field[y * width + parted.start[r]!]!;
  }
  if (latest.graph !== graph || latest.runs === undefined) return { split: parted, cellOf: cellOfParted };
  return spliced(latest.runs, { split: parted, cellOf: cellOfParted }, top, bottom);
}

/** Room for so many more runs is made at once. */
const SPARE = 1 << 14;

/**
 * Puts other runs into some rows; those behind them move up. The tables are written over: nobody else reads them.
 *
 * @param middle has runs in the rows `top .. bottom - 1` alone.
 */
function spliced(runs: CellRuns, middle: CellRuns, top: number, bottom: number): CellRuns {
  const { split } = runs;
  const { row } = split;
  const [from, to] = [row[top]!, row[bottom]!];
  const fresh = middle.split.count;
  const grown = fresh - (to - from);
  const count = split.count + grown;
  const into = <T extends Int32Array | Uint8Array>(table: T, make: (size: number) => T, part: T): T => {
    let kept = table;
    if (table.length < count) {
      kept = make(count + SPARE);
      kept.set(table);
    }
    if (grown !== 0) kept.copyWithin(to + grown, to, split.count);
    kept.set(part.subarray(0, fresh), from);
    return kept;
  };
  const int32 = (size: number): Int32Array => new Int32Array(size);
  const start = into(split.start, int32, middle.split.start);
  const end = into(split.end, int32, middle.split.end);
  const onCut = into(split.onCut, (size) => new Uint8Array(size), middle.split.onCut);
  const cellOf = into(runs.cellOf, int32, middle.cellOf);
  for (let y = top; y < bottom; y++) row[y] = from + middle.split.row[y]!;
  if (grown !== 0) for (let y = bottom; y < row.length; y++) row[y] = row[y]! + grown;
  return { split: { count, start, end, onCut, row }, cellOf };
}

/** The runs of some rows, those of others left out. */
function rowsOf({ start, end, onCut, row }: CutRuns, [top, bottom]: readonly [number, number]): CutRuns {
  const [from, to] = [row[top]!, row[bottom]!];
  return {
    count: to - from,
    start: start.subarray(from, to),
    end: end.subarray(from, to),
    onCut: onCut.subarray(from, to),
    row: row.map((at) => Math.max(0, Math.min(to - from, at - from))),
  };
}

/** Cells that took another's number: their runs do so too. @param count cells before. */
function renumberRuns({ split, cellOf }: CellRuns, count: number, ofCell: Int32Array): void {
  for (let r = 0; r < split.count; r++) if (cellOf[r]! < count) cellOf[r] = ofCell[cellOf[r]!]!;
}

/** Cells beside cuts that come or go, and the box of these. */
function touchedCells(
  { width, height, inkMask, field }: InkBase,
  graph: CellGraph,
  cuts: readonly Cut[],
): { touched: Uint8Array; box: PixelBox } {
  const touched = new Uint8Array(graph.cells.count);
  const onCut = new Int32Stack();
  for (const cut of [...cutsWithout(graph.cuts, cuts), ...cutsWithout(cuts, graph.cuts)]) {
    pixelsOfCut(cut, inkMask, width, (at) => onCut.push(at));
  }
  const box: [number, number, number, number] = [width, height, 0, 0];
  let before = -1;
  for (let k = 0; k < onCut.length; k++) {
    const at = onCut.data[k]!;
    const x = at % width;
    const y = (at - x) / width;
    box[0] = Math.min(box[0], x);
    box[1] = Math.min(box[1], y);
    box[2] = Math.max(box[2], x + 1);
    box[3] = Math.max(box[3], y + 1);
    touchAround(field, width, height, x, y, before, touched);
    before = at;
  }
  return { touched, box };
}

/** Marks the cells around a pixel. @param before another one whose surroundings were looked at already, -1 for none. */
function touchAround(
  field: Int32Array,
  width: number,
  height: number,
  x: number,
  y: number,
  before: number,
  touched: Uint8Array,
): void {
  const beforeX = before < 0 ? -width : before % width;
  const beforeY = Math.floor(before / width);
  const bottom = Math.min(height - 1, y + NEAR_PX);
  const right = Math.min(width - 1, x + NEAR_PX);
  for (let py = Math.max(0, y - NEAR_PX); py <= bottom; py++) {
    const wasSeen = Math.abs(py - beforeY) <= NEAR_PX;
    for (let px = Math.max(0, x - NEAR_PX); px <= right; px++) {
      // A line goes on by a px: what lies around it is mostly what lay around the one before.
      if (wasSeen && px >= beforeX - NEAR_PX && px <= beforeX + NEAR_PX) px = beforeX + NEAR_PX + 1;
      if (px > right) break;
      const cell = field[py * width + px]!;
      if (cell >= 0) touched[cell] = 1;
    }
  }
}

/** Those cuts that are not among others. What was found whole is the same object each time; the others have the same key. */
function cutsWithout(cuts: readonly Cut[], others: readonly Cut[]): Cut[] {
  const found = new Set(others);
  const isMade = ({ kind, partOf }: Cut): boolean => kind === 'hand' || partOf !== undefined;
  const made = new Set(others.filter(isMade).map(keyOfCut));
  return cuts.filter((cut) => (isMade(cut) ? !made.has(keyOfCut(cut)) : !found.has(cut)));
}

interface Numbers {
  readonly count: number;
  readonly ofPiece: Int32Array;
  /** The cells each piece lay in. */
  readonly sources: readonly (readonly number[])[];
  /** New number of each cell that was not touched. */
  readonly ofCell: Int32Array;
}

/**
 * The largest piece of a cell keeps its number; further pieces take numbers that have become free, then new
 * ones; where cells have become fewer the last ones fill the holes.
 */
function numberPieces(
  runs: PaperRuns,
  pieceOfRun: Int32Array,
  pieceCount: number,
  cellOf: Int32Array,
  touched: Uint8Array,
): Numbers {
  const shares = new Map<number, number>();
  // Runs of one cell and piece mostly follow each other: the map is asked where that changes.
  let [last, sum] = [-1, 0];
  for (let r = 0; r < runs.count; r++) {
    const piece = pieceOfRun[r]!;
    if (piece < 0) continue;
    const key = cellOf[r]! * pieceCount + piece;
    if (key !== last) {
      if (last >= 0) shares.set(last, (shares.get(last) ?? 0) + sum);
      [last, sum] = [key, 0];
    }
    sum += runs.end[r]! - runs.start[r]!;
  }
  if (last >= 0) shares.set(last, (shares.get(last) ?? 0) + sum);
  const ofPiece = new Int32Array(pieceCount).fill(-1);
  const isTaken = new Uint8Array(touched.length);
  const largestFirst = [...shares].sort(([keyA, a], [keyB, b]) => b - a || keyA - keyB);
  const sources = Array.from({ length: pieceCount }, (): number[] => []);
  for (const [key] of largestFirst) {
    const [cell, piece] = [Math.floor(key / pieceCount), key % pieceCount];
    sources[piece]!.push(cell);
    if (ofPiece[piece]! >= 0 || isTaken[cell] === 1) continue;
    ofPiece[piece] = cell;
    isTaken[cell] = 1;
  }
  const free: number[] = [];
  for (let c = 0; c < touched.length; c++) if (touched[c] === 1 && isTaken[c] === 0) free.push(c);
  let next = touched.length;
  for (let p = 0; p < pieceCount; p++) if (ofPiece[p] === -1) ofPiece[p] = free.shift() ?? next++;
  const ofCell = Int32Array.from(touched, (_, cell) => cell);
  if (free.length > 0) {
    const count = touched.length - free.length;
    const isFree = new Set(free);
    const holes = free.filter((cell) => cell < count);
    for (let c = count; c < touched.length; c++) {
      if (isFree.has(c)) continue;
      const hole = holes.shift()!;
      ofCell[c] = hole;
      const piece = ofPiece.indexOf(c);
      if (piece >= 0) ofPiece[piece] = hole;
    }
    next = count;
  }
  return { count: next, ofPiece, sources, ofCell };
}

/**
 * Writes other cells into the field.
 *
 * @param near box in which runs can have been of several cells. @returns the box of what changed.
 */
function repaintPieces(
  runs: PaperRuns,
  cellOfRun: Int32Array,
  cellOf: Int32Array,
  near: PixelBox,
  rows: readonly [number, number],
  width: number,
  field: Int32Array,
): PixelBox | null {
  let [left, top, right, bottom] = [width, rows[1], 0, 0];
  for (let y = rows[0]; y < rows[1]; y++) {
    const base = y * width;
    const isNear = y >= near[1] && y < near[3];
    for (let r = runs.row[y]!; r < runs.row[y + 1]!; r++) {
      const cell = cellOfRun[r]!;
      if (cell === cellOf[r] && !isNear) continue;
      const from = runs.start[r]!;
      const to = runs.end[r]!;
      if (cell === cellOf[r] && (to <= near[0] || from >= near[2] || isAll(field, base + from, base + to, cell)))
        continue;
      field.fill(cell, base + from, base + to);
      left = Math.min(left, from);
      right = Math.max(right, to);
      top = Math.min(top, y);
      bottom = y + 1;
    }
  }
  return bottom === 0 ? null : [left, top, right, bottom];
}

function isAll(field: Int32Array, from: number, to: number, cell: number): boolean {
  for (let at = from; at < to; at++) if (field[at] !== cell) return false;
  return true;
}

/** Cells that took another's number: their paper is written over. @returns the box of it. */
function renumberMoved({ box }: Cells, ofCell: Int32Array, width: number, field: Int32Array): PixelBox | null {
  let moved: PixelBox | null = null;
  ofCell.forEach((to, cell) => {
    if (to === cell) return;
    const [left, top, right, bottom] = [0, 1, 2, 3].map((k) => box[cell * 4 + k]!) as [number, number, number, number];
    for (let y = top; y < bottom; y++) {
      for (let at = y * width + left; at < y * width + right; at++) if (field[at] === cell) field[at] = to;
    }
    moved = joinBoxes(moved, [left, top, right, bottom]);
  });
  return moved;
}

/** The box around two boxes; null is none. */
export function joinBoxes(a: PixelBox | null, b: PixelBox | null): PixelBox | null {
  if (a === null || b === null) return a ?? b;
  return [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.max(a[2], b[2]), Math.max(a[3], b[3])];
}

/** Adds up the runs of new cells. */
function addRuns(
  runs: PaperRuns,
  cellOfRun: Int32Array,
  isNew: Uint8Array,
  width: number,
  rows: readonly [number, number],
  { areaPx, box, first }: Cells,
): void {
  for (let y = rows[0]; y < rows[1]; y++) {
    for (let r = runs.row[y]!; r < runs.row[y + 1]!; r++) {
      const cell = cellOfRun[r]!;
      if (isNew[cell] === 0) continue;
      const from = runs.start[r]!;
      const to = runs.end[r]!;
      const b = cell * 4;
      if (first[cell]! < 0) {
        first[cell] = y * width + from;
        box[b] = from;
        box[b + 1] = y;
      }
      if (from < box[b]!) box[b] = from;
      if (to > box[b + 2]!) box[b + 2] = to;
      box[b + 3] = y + 1;
      areaPx[cell] = areaPx[cell]! + (to - from);
    }
  }
}

/** A piece that holds the deepest point of all the cells it comes from is as deep as they were. */
function keepDeepest(
  graph: CellGraph,
  { ofPiece, sources }: Numbers,
  field: Int32Array,
  radiusPx: Float64Array,
  deepest: Int32Array,
): void {
  const before = graph.facts.radiusPx;
  ofPiece.forEach((cell, piece) => {
    const from = sources[piece]!.reduce((most, one) => (before[one]! > before[most]! ? one : most));
    const at = graph.deepest[from]!;
    if (at < 0 || field[at] !== cell) return;
    radiusPx[cell] = before[from]!;
    deepest[cell] = at;
  });
}

function boxOf({ count, box }: Cells, isWanted: (cell: number) => boolean): PixelBox | null {
  let [left, top, right, bottom] = [Infinity, Infinity, 0, 0];
  for (let c = 0; c < count; c++) {
    if (!isWanted(c)) continue;
    left = Math.min(left, box[c * 4]!);
    top = Math.min(top, box[c * 4 + 1]!);
    right = Math.max(right, box[c * 4 + 2]!);
    bottom = Math.max(bottom, box[c * 4 + 3]!);
  }
  return right === 0 ? null : [left, top, right, bottom];
}
