import { formatColour } from '@jumble/core';
import { PDFDocument, PDFName, PDFRawStream, StandardFonts, type PDFPage } from 'pdf-lib';
import { drawSwatch, printable } from '../pdf/drawText.ts';
import type { Deflate } from '../tiff/TiffWriter.ts';
import type { HandoffPage } from './preparePage.ts';
import { PageSamples, type CmykColours } from './PageSamples.ts';

/** What stands on a proof beside the page. */
export interface ProofFacts {
  readonly title: string;
  /** Findings that were waived, notes, which state of the page it is: a line each. */
  readonly lines: readonly string[];
}

export interface ProofPorts {
  readonly deflate: Deflate;
  /** @default RGB */
  readonly cmyk?: CmykColours;
  /** Sees the samples of the page as they are written. */
  readonly onSamples?: (page: number, samples: Uint8Array) => void;
}

/** A4 in points. */
const [SHEET_WIDTH, SHEET_HEIGHT] = [595.28, 841.89];
const MARGIN = 42;
const ROW = 20;
const ROW_CHARACTERS = 110;
const POINTS_AN_INCH = 72;
/** For pages that state no resolution. */
const UNTOLD_DPI = 300;

/** A proof as PDF: the page at its size, every pixel of it, and the parts it shows with their numbers. */
export async function buildProof(handed: HandoffPage, facts: ProofFacts, ports: ProofPorts): Promise<Uint8Array> {
  const samples = await PageSamples.of(handed, ports.cmyk);
  const { width, height } = samples;
  const pdf = await PDFDocument.create();
  pdf.setTitle(facts.title);
  const scale = POINTS_AN_INCH / (handed.dpi ?? UNTOLD_DPI);
  const page = pdf.addPage([width * scale, height * scale]);
  await drawPage(pdf, page, samples, ports);
  await listParts(pdf, handed, facts, ports.cmyk);
  return pdf.save();
}

/** Puts the samples into the file as they are. */
async function drawPage(pdf: PDFDocument, page: PDFPage, samples: PageSamples, ports: ProofPorts): Promise<void> {
  const { width, height, colour } = samples;
  const bytes = new Uint8Array(width * height * (colour === 'cmyk' ? 4 : 3));
  samples.merged()(0, height, bytes);
  ports.onSamples?.(0, bytes);
  const packed = await ports.deflate(bytes);
  const dict = pdf.context.obj({
    Type: 'XObject',
    Subtype: 'Image',
    Width: width,
    Height: height,
    ColorSpace: colour === 'cmyk' ? 'DeviceCMYK' : 'DeviceRGB',
    BitsPerComponent: 8,
    Filter: 'FlateDecode',
    Length: packed.length,
  });
  const ref = pdf.context.register(PDFRawStream.of(dict, packed));
  page.node.setXObject(PDFName.of('Page'), ref);
  const { width: w, height: h } = page.getSize();
  const content = pdf.context.stream(`q ${w} 0 0 ${h} 0 0 cm /Page Do Q`);
  page.node.addContentStream(pdf.context.register(content));
}

async function listParts(
  pdf: PDFDocument,
  { input: { groups }, flats }: HandoffPage,
  { title, lines }: ProofFacts,
  cmyk: CmykColours | undefined,
): Promise<void> {
  const [font, bold] = [await pdf.embedFont(StandardFonts.Helvetica), await pdf.embedFont(StandardFonts.HelveticaBold)];
  let page = pdf.addPage([SHEET_WIDTH, SHEET_HEIGHT]);
  let y = SHEET_HEIGHT - MARGIN;
  const write = (text: string, x: number, size: number, face = font): void =>
    page.drawText(printable(text, face), { x, y, size, font: face });
  const next = (height: number): void => {
    y -= height;
    if (y > MARGIN) return;
    page = pdf.addPage([SHEET_WIDTH, SHEET_HEIGHT]);
    y = SHEET_HEIGHT - MARGIN;
  };
  write(title, MARGIN, 16, bold);
  next(28);
  for (const line of lines.flatMap((one) => inRows(one))) {
    write(line, MARGIN, 9);
    next(14);
  }
  const { partCount } = flats;
  const { areaPx } = flats.parts;
  const all = groups.flatMap((group) => group.parts);
  const inks = cmyk === undefined ? null : await cmyk.convert(all.map(({ rgb }) => rgb));
  let number = 0;
  for (const group of groups) {
    let isNamed = false;
    for (const { name, rgb } of group.parts) {
      const own = number++;
      let area = 0;
      for (let n = own; n < areaPx.length; n += partCount) area += areaPx[n]!;
      if (area === 0) continue;
      if (!isNamed) {
        next(8);
        write(group.name, MARGIN, 11, bold);
        next(ROW);
        isNamed = true;
      }
      drawSwatch(page, MARGIN, y, formatColour(rgb));
      write(name, MARGIN + 48, 10);
      write(inks === null ? rgbText(rgb) : inkText(inks.subarray(own * 4, own * 4 + 4)), 280, 9);
      write(`${area.toLocaleString('en-GB')} px`, 480, 9);
      next(ROW);
    }
  }
}

/** Breaks a text between words. */
function inRows(text: string): string[] {
  const rows = [''];
  for (const word of text.split(/\s+/)) {
    const longer = `${rows.at(-1)!} ${word}`.trim().slice(0, ROW_CHARACTERS);
    if (longer.length < ROW_CHARACTERS) rows[rows.length - 1] = longer;
    else rows.push(word.slice(0, ROW_CHARACTERS));
  }
  return rows;
}

const rgbText = (rgb: number): string => `${formatColour(rgb)}   ${rgb >> 16} ${(rgb >> 8) & 255} ${rgb & 255}`;

/** "C 80 M 20 Y 10 K 5, 115 % ink". */
function inkText(inks: Uint8Array): string {
  const percent = [...inks].map((ink) => Math.round((ink * 100) / 255));
  const sum = Math.round(([...inks].reduce((all, ink) => all + ink, 0) * 100) / 255);
  return `C ${percent[0]} M ${percent[1]} Y ${percent[2]} K ${percent[3]}, ${sum} % ink`;
}
