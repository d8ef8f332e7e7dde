import type { Fill } from '../model/PageDocument.ts';
import type { RecordEdit } from '../model/records.ts';

/** Fills as edits leave them; edits of anything else do not count. */
export function fillsWith(fills: ReadonlyMap<string, Fill>, edits: readonly RecordEdit[]): Map<string, Fill> {
  const next = new Map(fills);
  for (const { key, value } of edits) {
    if (!key.startsWith('fill/')) continue;
    if (value === null) next.delete(key.slice('fill/'.length));
    else next.set(key.slice('fill/'.length), value as unknown as Fill);
  }
  return next;
}
