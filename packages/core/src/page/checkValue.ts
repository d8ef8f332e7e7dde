import type { Json } from '../model/records.ts';

/** What no text may hold, or XML files with it are not well-formed: control characters and halves of characters. */
const NO_TEXT =
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;
const LINE_BREAKS = /[\t\n\r]+/g;

/** Whether a text of several lines holds nothing but characters that can be written everywhere. */
export function isPlainText(text: string): boolean {
  return text.search(NO_TEXT) < 0;
}

/** Takes out of a name what may not stand in one; a name from a file is cleaned, one that was typed is refused. */
export function cleanName(text: string): string {
  return text.replace(LINE_BREAKS, ' ').replace(NO_TEXT, '').trim();
}

/** The same for a text of several lines. */
export function cleanText(text: string): string {
  return text.replace(NO_TEXT, '').trim();
}

/** @throws RangeError when it is no name: not blank, at most so many characters, in one line. */
export function checkName(field: string, value: Json | undefined, most: number): void {
  if (typeof value !== 'string' || value.trim() === '' || value.length > most)
    throw new RangeError(`\`${field}\` must have 1 to ${most} characters`);
  if (!isPlainText(value) || value.search(LINE_BREAKS) >= 0)
    throw new RangeError(`\`${field}\` must not hold control characters or line breaks`);
}

/**
 * The fields of an object that came from outside.
 *
 * @throws TypeError when it is none, or has a field that is not among `known`.
 */
export function fieldsOf(name: string, value: unknown, known: readonly string[]): { readonly [key: string]: Json } {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    throw new TypeError(`\`${name}\` must be an object`);
  }
  for (const field of Object.keys(value)) {
    if (!known.includes(field)) {
      throw new TypeError(
        `\`${name}\` must hold nothing but ${known.join(', ')}; it has ${JSON.stringify(field.slice(0, 40))}`,
      );
    }
  }
  return value as { readonly [key: string]: Json };
}
