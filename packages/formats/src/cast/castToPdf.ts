import { parseColour, UNSET_COLOUR, type CastSheet } from '@jumble/core';
import { PDFDocument, StandardFonts, type PDFFont } from 'pdf-lib';
import { drawSwatch, printable, SWATCH_WIDTH } from '../pdf/drawText.ts';

/** A4 in points. */
const [WIDTH, HEIGHT] = [595.28, 841.89];
const MARGIN = 42;
const ROW = 24;

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
        drawSwatch(page, MARGIN, y, part.empty ? null : colour);
        write(part.slot ?? '', MARGIN + SWATCH_WIDTH + 8, 9, bold);
        write(part.name, MARGIN + SWATCH_WIDTH + 24, 10, font);
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

/** "#3f6f6b  63 111 107". */
function numbersOf(colour: string): string {
  const word = parseColour(colour);
  return `${colour}   ${word >> 16} ${(word >> 8) & 255} ${word & 255}`;
}
