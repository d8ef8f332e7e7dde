import { asInk, lookUnderInk, type UnderInkPage } from './underInk.ts';
import type { TrapTable } from './TrapTable.ts';

/** What runs under a pixel of ink: the cell, and how far it is from that cell's paper, in px; null where nothing runs. */
export function reachAt(
  page: UnderInkPage,
  trap: TrapTable,
  x: number,
  y: number,
): { readonly cell: number; readonly reachPx: number } | null {
  const value = page.field[y * page.width + x]!;
  const cells = Int32Array.of(value >= 0 ? value : asInk(value, page.field.length));
  const reach2 = new Int32Array(1);
  lookUnderInk(page, trap, Int32Array.of(x), y, cells, reach2);
  return cells[0]! < 0 ? null : { cell: cells[0]!, reachPx: Math.sqrt(reach2[0]!) };
}
