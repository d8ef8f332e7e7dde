import { keyOfCut } from '../gaps/proposals/handCut.ts';
import type { Closure, Regions } from '../model/Regions.ts';
import type { CellGraph } from '../model/CellGraph.ts';
import type { Cut } from '../model/Cut.ts';
import { pointOfCut } from '../gaps/proposals/cutCurve.ts';
import { absorbTexture, closedPairs } from '../gaps/spaces/absorbTexture.ts';
import type { Ruling } from '../model/Ruling.ts';
import { mergeCells } from '../gaps/cells/mergeCells.ts';
import { isBeyond } from '../gaps/cells/mergeComponent.ts';
import { adoptCrumbs } from './adoptCrumbs.ts';
import { buildRegions } from './buildRegions.ts';
import type { Cells } from '../raster/labelRuns.ts';

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
  const rulings = keys.map((key, k) => options.rulings.get(key) ?? options.rulings.get(cuts[k]!.partOf ?? key));
  const { groupOfCell, confidence, bounds } = mergeCells(
    graph.facts,
    pairs,
    cuts,
    graph.texture,
    options.lineWidthPx,
    options.maxGapPx,
    rulings,
  );
  const parted = new Uint8Array(cells.count);
  for (let k = 0; k < cuts.length; k++) {
    const pair = pairs.ofCut[k]!;
    if (pair < 0 || (cuts[k]!.kind !== 'hand' && rulings[k] !== 'closed')) continue;
    parted[pairs.a[pair]!] = 1;
    parted[pairs.b[pair]!] = 1;
  }
  const closed = closedPairs(pairs, cuts, bounds);
  absorbTexture(graph.facts, graph.textureBorders, closed, cells.first, groupOfCell, parted, options.lineWidthPx);
  const areaOfCell = areasOfGroups(cells, groupOfCell);
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
  for (let k = 0; k < cuts.length; k++) {
    const cut = cuts[k]!;
    const pair = pairs.ofCut[k]!;
    // What was drawn by hand is listed even where it parts nothing; found cuts are not.
    if ((pair < 0 || isBeyond(cut, options.maxGapPx)) && cut.kind !== 'hand') continue;
    const one = pair < 0 ? cellAtMiddle(cut, field, width) : pairs.a[pair]!;
    const two = pair < 0 ? one : pairs.b[pair]!;
    closures.push(
      closureOf(cut, keys[k]!, rulings[k] ?? null, one, two, regions, areaOfCell, confidence[k]!, bounds[k] === 1),
    );
  }
  return { regions, closures };
}

function areasOfGroups({ count, areaPx }: Cells, groupOfCell: Int32Array): Float64Array {
  const groupArea = new Float64Array(count);
  for (let c = 0; c < count; c++) groupArea[groupOfCell[c]!] = groupArea[groupOfCell[c]!]! + areaPx[c]!;
  const areaOfCell = new Float64Array(count);
  for (let c = 0; c < count; c++) areaOfCell[c] = groupArea[groupOfCell[c]!]!;
  return areaOfCell;
}

/** @param a @param b the cells on both sides. @param areaOfCell of what each cell was joined to. */
function closureOf(
  { from, to, curve, widthPx, kind }: Cut,
  key: string,
  ruling: Ruling | null,
  a: number,
  b: number,
  { ofCell }: Regions,
  areaOfCell: Float64Array,
  confidence: number,
  isBound: boolean,
): Closure {
  const inOrder = (ofCell[a] ?? -1) <= (ofCell[b] ?? -1);
  const low = inOrder ? a : b;
  const high = inOrder ? b : a;
  const regions = [ofCell[low] ?? -1, ofCell[high] ?? -1] as const;
  // Field by field: copying a cut whole takes several times as long.
  return {
    from,
    to,
    curve,
    widthPx,
    kind,
    key,
    confidence,
    ruling,
    accepted: isBound && regions[0] !== regions[1],
    separatesPx: [areaOfCell[low] ?? 0, areaOfCell[high] ?? 0],
    regions,
  };
}

/** The cell a cut lies in. */
function cellAtMiddle(cut: Cut, field: Int32Array, width: number): number {
  const [x, y] = pointOfCut(cut, 0.5);
  const cell = field[Math.round(y) * width + Math.round(x)] ?? -1;
  return cell >= 0 ? cell : (field[~cell] ?? -1);
}
