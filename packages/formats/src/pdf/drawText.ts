import { parseColour } from '@jumble/core';
import { rgb, type PDFFont, type PDFPage } from 'pdf-lib';

/** In points. */
export const SWATCH_WIDTH = 34;
const SWATCH_HEIGHT = 18;

/** A swatch in a row of a list; white for none. @param colour `#rrggbb`. */
export function drawSwatch(page: PDFPage, x: number, y: number, colour: string | null): void {
  const word = colour === null ? 0xffffff : parseColour(colour);
  page.drawRectangle({
    x,
    y: y - 5,
    width: SWATCH_WIDTH,
    height: SWATCH_HEIGHT,
    color: rgb((word >> 16) / 255, ((word >> 8) & 255) / 255, (word & 255) / 255),
    borderColor: rgb(0.25, 0.25, 0.25),
    borderWidth: 0.5,
  });
}

/** The characters of each face: a set is made once, not for each text. */
const charactersOf = new WeakMap<PDFFont, ReadonlySet<number>>();

/** What the standard faces cannot write becomes a question mark. */
export function printable(text: string, face: PDFFont): string {
  let known = charactersOf.get(face);
  if (known === undefined) charactersOf.set(face, (known = new Set(face.getCharacterSet())));
  return [...text].map((sign) => (known.has(sign.codePointAt(0)!) ? sign : '?')).join('');
}
