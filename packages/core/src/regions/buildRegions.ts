import type { Regions } from '../model/Regions.ts';
import type { Cells } from '../raster/labelRuns.ts';

/**
 * Numbers regions densely from 0 in reading order of their first pixel and adds up their cells.
 *
 * @param owner of each cell: the cell that stands for its region.
 * @param isCrumb 1 for cells that were adopted.
 */
export function buildRegions(
  cells: Cells,
  owner: Int32Array,
  isCrumb: Uint8Array,
  cellAnchor: Int32Array,
  width: number,
  height: number,
): Regions {
  const ofCell = new Int32Array(cells.count).fill(-1);
  let count = 0;
  const inOrder = readingOrder(cells);
  // A crumb that comes first gives its region the number.
  for (const cell of inOrder) {
    const lead = owner[cell]!;
    if (ofCell[lead]! < 0) ofCell[lead] = count++;
    ofCell[cell] = ofCell[lead]!;
  }
  const areaPx = new Uint32Array(count);
  const anchor = new Int32Array(count);
  const touchesEdge = new Uint8Array(count);
  const box = new Int32Array(count * 4);
  for (let r = 0; r < count; r++) box.set([width, height, 0, 0], r * 4);
  const largest = new Uint32Array(count);
  let crumbs = 0;
  let crumbArea = 0;
  for (const cell of inOrder) {
    const region = ofCell[cell]!;
    areaPx[region] = areaPx[region]! + cells.areaPx[cell]!;
    if (isCrumb[cell] === 0) {
      // Of joined cells the largest one has the anchor.
      if (cells.areaPx[cell]! > largest[region]!) {
        largest[region] = cells.areaPx[cell]!;
        anchor[region] = cellAnchor[cell]!;
      }
    } else {
      crumbs++;
      crumbArea += cells.areaPx[cell]!;
    }
    const c = cell * 4;
    const r = region * 4;
    box[r] = Math.min(box[r]!, cells.box[c]!);
    box[r + 1] = Math.min(box[r + 1]!, cells.box[c + 1]!);
    box[r + 2] = Math.max(box[r + 2]!, cells.box[c + 2]!);
    box[r + 3] = Math.max(box[r + 3]!, cells.box[c + 3]!);
  }
  for (let r = 0; r < count; r++) {
    const b = r * 4;
    if (box[b] === 0 || box[b + 1] === 0 || box[b + 2] === width || box[b + 3] === height) {
      touchesEdge[r] = 1;
    }
  }
  return { count, areaPx, box, anchor, touchesEdge, ofCell, crumbs: { count: crumbs, areaPx: crumbArea } };
}

/** Cells by their first pixel: those parted by a closure drawn later have numbers out of order. */
function readingOrder({ count, first }: Cells): Int32Array {
  const order = Int32Array.from({ length: count }, (_, cell) => cell);
  for (let cell = 1; cell < count; cell++) {
    if (first[cell]! < first[cell - 1]!) return order.sort((a, b) => first[a]! - first[b]!);
  }
  return order;
}
