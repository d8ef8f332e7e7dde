import { PDFDocument, StandardFonts, type PDFFont, type PDFPage } from 'pdf-lib';
import { printable } from './drawText.ts';

/** A column of a table: its heading, and its share of the width. */
export interface PdfColumn {
  readonly field: string;
  readonly share: number;
}

/** A4 in points, lying. */
const [WIDTH, HEIGHT] = [841.89, 595.28];
const MARGIN = 42;
const [TITLE_SIZE, SIZE, ROW] = [15, 9, 15];
/** Between two columns, in points. */
const GAP = 8;

/** A table for the files of an office: its title and headings on every page; what does not fit a column is cut off. */
export async function tableToPdf(
  title: string,
  columns: readonly PdfColumn[],
  rows: readonly Readonly<Record<string, string | number>>[],
): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  pdf.setTitle(title);
  const [font, bold] = [await pdf.embedFont(StandardFonts.Helvetica), await pdf.embedFont(StandardFonts.HelveticaBold)];
  const all = columns.reduce((sum, { share }) => sum + share, 0);
  const widths = columns.map(({ share }) => ((WIDTH - 2 * MARGIN) * share) / all);
  const lefts = widths.map((_, k) => MARGIN + widths.slice(0, k).reduce((sum, one) => sum + one, 0));
  let page: PDFPage;
  let y = 0;
  const write = (text: string, x: number, size: number, face: PDFFont): void =>
    page.drawText(printable(text, face), { x, y, size, font: face });
  const begin = (): void => {
    page = pdf.addPage([WIDTH, HEIGHT]);
    y = HEIGHT - MARGIN;
    write(title, MARGIN, TITLE_SIZE, bold);
    y -= 2 * ROW;
    columns.forEach(({ field }, k) => write(field, lefts[k]!, SIZE, bold));
    y -= ROW;
  };
  begin();
  for (const row of rows) {
    if (y < MARGIN) begin();
    columns.forEach(({ field }, k) => write(fitted(String(row[field] ?? ''), widths[k]! - GAP, font), lefts[k]!, SIZE, font)); // prettier-ignore
    y -= ROW;
  }
  return pdf.save();
}

/** As much of a text as a column has room for. */
function fitted(text: string, width: number, font: PDFFont): string {
  let plain = printable(text.replace(/\s+/g, ' '), font);
  if (font.widthOfTextAtSize(plain, SIZE) <= width) return plain;
  while (plain !== '' && font.widthOfTextAtSize(`${plain}...`, SIZE) > width) plain = plain.slice(0, -1);
  return `${plain}...`;
}
