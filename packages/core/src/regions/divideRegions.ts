import type { Cut } from '../gaps/Cut.ts';
import { pointOfCut } from '../gaps/cutCurve.ts';
import { absorbTexture, closedPairs, type TextureBorders } from '../gaps/absorbTexture.ts';
import type { CellFacts, CellPairs, Ruling } from '../gaps/cellFacts.ts';
import { mergeCells } from '../gaps/mergeCells.ts';
import type { CellBorders } from '../gaps/tallyBorders.ts';
import { adoptCrumbs } from './adoptCrumbs.ts';
import { buildRegions, type Regions } from './buildRegions.ts';
import type { Cells } from './labelRuns.ts';

/** What a page is divided by, from its ink alone: cells at all cuts and what stands between them. */
export interface CellGraph {
  readonly cells: Cells;
  readonly facts: CellFacts;
  /** Index of the pixel of each cell that is farthest from ink, -1 where that was not measured. */
  readonly deepest: Int32Array;
  /** Pixel index deep inside each cell. */
  readonly anchor: Int32Array;
  readonly cuts: readonly Cut[];
  /** All inked borders between cells. */
  readonly borders: CellBorders;
  readonly pairs: CellPairs;
  readonly textureBorders: TextureBorders;
  /** 0..1 for each cut: how much of it lies in hatching. */
  readonly texture: Float64Array;
}

/** A cut with what came of it. */
export interface Closure extends Cut {
  /** `x,y-x,y`: what a ruling on it is kept under. */
  readonly key: string;
  /** 0..1: how likely it parts two shapes. */
  readonly confidence: number;
  readonly ruling: Ruling | null;
  /** Whether it bounds regions now. */
  readonly accepted: boolean;
  /** Area of the cells on both sides, joined as they are, in px; the same region twice where it parts nothing. */
  readonly separatesPx: readonly [number, number];
  /** Regions on both sides, the lower first. */
  readonly regions: readonly [number, number];
}

export interface Division {
  readonly regions: Regions;
  /** Every cut that could part something, widest stake first is up to the reader. */
  readonly closures: readonly Closure[];
}

export interface DivideOptions {
  readonly lineWidthPx: number;
  /** Wider cuts are open. */
  readonly maxGapPx: number;
  readonly crumbLimitPx2: number;
  /** By closure key. */
  readonly rulings: ReadonlyMap<string, Ruling>;
}

export function keyOfCut({ from, to }: Pick<Cut, 'from' | 'to'>): string {
  return `${from[0]},${from[1]}-${to[0]},${to[1]}`;
}

/** Joins cells into regions by the rulings. Cost: by cells and cuts, not by pixels. */
export function divideRegions(
  graph: CellGraph,
  field: Int32Array,
  width: number,
  height: number,
  options: DivideOptions,
): Division {
  const { cells, cuts, pairs } = graph;
  const keys = cuts.map(keyOfCut);
  const { groupOfCell, confidence, bounds } = mergeCells(
    graph.facts,
    pairs,
    cuts,
    graph.texture,
    options.lineWidthPx,
    options.maxGapPx,
    (k) => options.rulings.get(keys[k]!),
  );
  const parted = new Uint8Array(cells.count);
  cuts.forEach((cut, k) => {
    const pair = pairs.ofCut[k]!;
    if (pair < 0 || (cut.kind !== 'hand' && options.rulings.get(keys[k]!) !== 'closed')) return;
    parted[pairs.a[pair]!] = 1;
    parted[pairs.b[pair]!] = 1;
  });
  const closed = closedPairs(pairs, cuts, bounds);
  absorbTexture(graph.facts, graph.textureBorders, closed, cells.first, groupOfCell, parted, options.lineWidthPx);
  const groupArea = new Float64Array(cells.count);
  for (let c = 0; c < cells.count; c++) groupArea[groupOfCell[c]!] = groupArea[groupOfCell[c]!]! + cells.areaPx[c]!;
  const areaOfCell = Float64Array.from(groupOfCell, (group) => groupArea[group]!);
  const adopter = adoptCrumbs(field, areaOfCell, graph.anchor, cells.first, width, height, options.crumbLimitPx2);
  const isCrumb = new Uint8Array(cells.count);
  const owner = groupOfCell.slice();
  for (let c = 0; c < cells.count; c++) {
    if (adopter[c] === c) continue;
    isCrumb[c] = 1;
    owner[c] = groupOfCell[adopter[c]!]!;
  }
  const regions = buildRegions(cells, owner, isCrumb, graph.anchor, width, height);
  const closures: Closure[] = [];
  cuts.forEach((cut, k) => {
    const pair = pairs.ofCut[k]!;
    const hand = cut.kind === 'hand';
    // What was drawn by hand is listed even where it parts nothing; found cuts are not.
    if ((pair < 0 || cut.widthPx > options.maxGapPx) && !hand) return;
    const cellsBeside = pair < 0 ? cellAtMiddle(cut, field, width) : ([pairs.a[pair]!, pairs.b[pair]!] as const);
    const sideOf = (cell: number): Side => [regions.ofCell[cell] ?? -1, areaOfCell[cell] ?? 0];
    const [one, two] = cellsBeside.map(sideOf).sort(([a], [b]) => a - b) as [Side, Side];
    // Field by field: copying a cut whole takes several times as long.
    const { from, to, curve, widthPx, kind, signs } = cut;
    closures.push({
      from,
      to,
      curve,
      widthPx,
      kind,
      signs,
      key: keys[k]!,
      confidence: confidence[k]!,
      ruling: options.rulings.get(keys[k]!) ?? null,
      accepted: bounds[k] === 1 && one[0] !== two[0],
      separatesPx: [one[1], two[1]],
      regions: [one[0], two[0]],
    });
  });
  return { regions, closures };
}

type Side = readonly [region: number, areaPx: number];

/** The cell a cut lies in, on both of its sides. */
function cellAtMiddle(cut: Cut, field: Int32Array, width: number): readonly [number, number] {
  const [x, y] = pointOfCut(cut, 0.5);
  const cell = field[Math.round(y) * width + Math.round(x)] ?? -1;
  const own = cell >= 0 ? cell : (field[~cell] ?? -1);
  return [own, own];
}
