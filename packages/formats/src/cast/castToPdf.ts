import { parseColour, UNSET_COLOUR, type CastSheet } from '@jumble/core';
import { PDFDocument, rgb, StandardFonts, type PDFFont, type PDFPage } from 'pdf-lib';

/** A4 in points. */
const [WIDTH, HEIGHT] = [595.28, 841.89];
const MARGIN = 42;
const ROW = 24;
const SWATCH = 34;

/** The cast sheet for the wall: swatches with their numbers, one scene after the other. */
export async function castToPdf(sheet: CastSheet, title: string): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  pdf.setTitle(`${title}: cast sheet`);
  const [font, bold] = [await pdf.embedFont(StandardFonts.Helvetica), await pdf.embedFont(StandardFonts.HelveticaBold)];
  for (const scene of sheet.scenes) {
    let page = pdf.addPage([WIDTH, HEIGHT]);
    let y = HEIGHT - MARGIN;
    const write = (text: string, x: number, size: number, face: PDFFont): void =>
      page.drawText(printable(text, face), { x, y, size, font: face });
    const room = (needed: number): void => {
      if (y - needed > MARGIN) return;
      page = pdf.addPage([WIDTH, HEIGHT]);
      y = HEIGHT - MARGIN;
    };
    write(`${title} - ${scene.name}`, MARGIN, 16, bold);
    y -= 30;
    for (const group of sheet.groups) {
      const parts = sheet.parts.filter((part) => part.groupId === group.id);
      if (parts.length === 0) continue;
      room(ROW * 2);
      write(group.name, MARGIN, 11, bold);
      y -= ROW;
      for (const part of parts) {
        room(ROW);
        const colour = sheet.colours.get(scene.id)?.get(part.id) ?? UNSET_COLOUR;
        drawSwatch(page, y, part.empty ? null : colour);
        write(part.slot ?? '', MARGIN + SWATCH + 8, 9, bold);
        write(part.name, MARGIN + SWATCH + 24, 10, font);
        write(part.empty ? 'left empty' : numbersOf(colour), 260, 9, font);
        if (part.notes !== undefined) write(part.notes.replace(/\s+/g, ' ').slice(0, 60), 440, 8, font);
        y -= ROW;
      }
      y -= 6;
    }
  }
  if (sheet.scenes.length === 0) pdf.addPage([WIDTH, HEIGHT]);
  return pdf.save();
}

function drawSwatch(page: PDFPage, y: number, colour: string | null): void {
  const word = colour === null ? 0xffffff : parseColour(colour);
  page.drawRectangle({
    x: MARGIN,
    y: y - 5,
    width: SWATCH,
    height: ROW - 6,
    color: rgb((word >> 16) / 255, ((word >> 8) & 255) / 255, (word & 255) / 255),
    borderColor: rgb(0.25, 0.25, 0.25),
    borderWidth: 0.5,
  });
}

/** "#3f6f6b  63 111 107". */
function numbersOf(colour: string): string {
  const word = parseColour(colour);
  return `${colour}   ${word >> 16} ${(word >> 8) & 255} ${word & 255}`;
}

/** The characters of each face: a set is made once, not for each text. */
const charactersOf = new WeakMap<PDFFont, ReadonlySet<number>>();

/** What the standard faces cannot write becomes a question mark. */
function printable(text: string, face: PDFFont): string {
  let known = charactersOf.get(face);
  if (known === undefined) charactersOf.set(face, (known = new Set(face.getCharacterSet())));
  return [...text].map((sign) => (known.has(sign.codePointAt(0)!) ? sign : '?')).join('');
}
