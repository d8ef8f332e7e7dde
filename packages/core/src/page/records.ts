import type { Json, RecordEdit, Records } from '../model/records.ts';

/**
 * Applies edits in order and says how to take them back. Neither argument is changed.
 *
 * @returns the new document, and the inverse: applied to it, it gives the old one, byte for byte.
 */
export function applyEdits(
  records: Records,
  edits: readonly RecordEdit[],
): { records: Records; inverse: RecordEdit[] } {
  const next = new Map(records);
  const inverse: RecordEdit[] = [];
  for (const { key, value } of edits) {
    inverse.push({ key, value: next.get(key) ?? null });
    if (value === null) next.delete(key);
    else next.set(key, value);
  }
  inverse.reverse();
  return { records: next, inverse };
}

/** The keys that both lists of edits touch: where they do not agree on the value, someone must choose. */
export function clashingKeys(ours: readonly RecordEdit[], theirs: readonly RecordEdit[]): string[] {
  const last = new Map<string, string>();
  for (const { key, value } of theirs) last.set(key, JSON.stringify(value));
  const clashes = new Set<string>();
  for (const { key, value } of ours) {
    const other = last.get(key);
    if (other !== undefined && other !== JSON.stringify(value)) clashes.add(key);
  }
  return [...clashes];
}

/** One text for one document, whatever order it was made in. */
export function serialiseRecords(records: Records): string {
  const keys = [...records.keys()].sort();
  return JSON.stringify(keys.map((key) => [key, records.get(key)!]));
}

/** @throws SyntaxError when the text is not what {@link serialiseRecords} writes. */
export function parseRecords(text: string): Records {
  return new Map(JSON.parse(text) as [string, Json][]);
}
