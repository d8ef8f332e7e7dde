import type { PageDocument } from '../model/PageDocument.ts';

/** A stamp later than that of every fill. */
export function stampAfter({ fills }: Pick<PageDocument, 'fills'>): number {
  let stamp = 0;
  for (const fill of fills.values()) stamp = Math.max(stamp, fill.stamp + 1);
  return stamp;
}
