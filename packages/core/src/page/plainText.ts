import * as v from 'valibot';

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

/** A name: not blank, at most so many characters, in one line. */
export function nameUpTo(most: number): v.BaseSchema<unknown, string, v.BaseIssue<unknown>> {
  const rule = `must have 1 to ${most} characters`;
  return v.pipe(
    v.string(rule),
    v.check((value) => value.trim() !== '' && value.length <= most, rule),
    v.check(
      (value) => isPlainText(value) && value.search(LINE_BREAKS) < 0,
      'must not hold control characters or line breaks',
    ),
  );
}
