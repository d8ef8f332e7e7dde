/** Plain JSON, as documents are stored and sent. */
export type Json = null | boolean | number | string | readonly Json[] | { readonly [key: string]: Json };

/** A document: values under keys. Absent and null mean the same and are never both stored. */
export type Records = ReadonlyMap<string, Json>;

/** Puts a value under a key, or takes the key away (null). */
export interface RecordEdit {
  readonly key: string;
  readonly value: Json;
}
