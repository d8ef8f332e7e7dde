import type { PageDocument, RecordEdit, Ruling } from '@jumble/core';
import type { DivideBy } from '../engine/messages.ts';

/** What divides a page, as text: two pages divided alike give the same text. */
export function textOfDivision({ maxGapPx, rulings, drawn }: DivideBy): string {
  return JSON.stringify([maxGapPx, [...rulings].sort(), drawn]);
}

/** What divides a page once these edits are made. */
export function byAfter(by: DivideBy, edits: readonly RecordEdit[]): DivideBy {
  const rulings = new Map(by.rulings);
  const drawn = new Set(by.drawn);
  let { maxGapPx } = by;
  for (const { key, value } of edits) {
    if (key === 'prep') maxGapPx = (value as unknown as PageDocument['prep']).maxGapPx;
    else if (key.startsWith('gap/')) {
      if (value === null) rulings.delete(key.slice(4));
      else rulings.set(key.slice(4), value as Ruling);
    } else if (key.startsWith('closure/')) {
      if (value === null) drawn.delete(key.slice(8));
      else drawn.add(key.slice(8));
    }
  }
  return { maxGapPx, rulings, drawn: [...drawn].sort() };
}
