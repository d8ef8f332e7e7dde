import type { GreyRaster } from '@jumble/core';
import sharp from 'sharp';
import { DEMO_PARTS } from './castOfDemo.ts';
import { Drawing, type DeliberateGap, type Inking } from './Drawing.ts';
import { drawPageOne } from './pages/pageOne.ts';
import { drawPageTwo } from './pages/pageTwo.ts';
import { drawPageThree } from './pages/pageThree.ts';
import { drawPageFour } from './pages/pageFour.ts';
import { drawPageFive } from './pages/pageFive.ts';
import { drawPageSix } from './pages/pageSix.ts';
import { drawStagedPage } from './pages/stagedPage.ts';

/** Page size in px at 300 dpi: 174 x 265 mm. */
export const PAGE_WIDTH = 2060;
export const PAGE_HEIGHT = 3130;

interface DemoPage {
  readonly name: string;
  readonly draw: (drawing: Drawing) => void;
  /** @default a steady pen */
  readonly inking?: Inking;
}

const PAGES: readonly DemoPage[] = [
  { name: 'Page 1', draw: drawPageOne },
  { name: 'Page 2', draw: drawPageTwo },
  { name: 'Page 3', draw: drawPageThree, inking: { nib: 0.55, weight: 0.2, wobble: 0.7, dry: false } },
  { name: 'Page 4', draw: drawPageFour, inking: { nib: 1.55, weight: 1.4, wobble: 1.8, dry: true } },
  { name: 'Page 5', draw: drawPageFive, inking: { nib: 1.25, weight: 0.8, wobble: 1, dry: false } },
  { name: 'Page 6', draw: drawPageSix, inking: { nib: 1.3, weight: 1.2, wobble: 1, dry: false } },
];

export const PAGE_COUNT = PAGES.length;

/** The pages in the steady pen, which figures are measured on. */
export const STEADY_PAGE_COUNT = 2;

/** A drawn page, before it is rendered; `closeGaps` draws the deliberate gaps shut. */
export function drawPage(
  number: number,
  closeGaps = false,
): { name: string; drawing: Drawing; gaps: readonly DeliberateGap[] } {
  const page = PAGES[number - 1];
  if (page === undefined) throw new RangeError(`\`number\` must be 1 to ${PAGES.length}; received ${number}`);
  const drawing = blankPage(closeGaps, page.inking);
  page.draw(drawing);
  return { name: page.name, drawing, gaps: drawing.gaps };
}

function blankPage(closeGaps: boolean, inking?: Inking): Drawing {
  const places = new Map(DEMO_PARTS.map((part, k) => [part.id, k]));
  const numberOf = (part: string): number => {
    const place = places.get(part);
    if (place === undefined) throw new RangeError(`the cast has no part "${part}"`);
    return place;
  };
  return new Drawing(PAGE_WIDTH, PAGE_HEIGHT, numberOf, closeGaps, inking);
}

/** A page composed by chance of the same cast, with the part of every pixel; for measuring on pages that nothing was fitted on. */
export async function renderStagedPage(seed: number): Promise<{ ink: GreyRaster; truth: Uint8Array }> {
  const drawing = blankPage(false);
  drawStagedPage(drawing, seed);
  return { ink: await inkOf(drawing, 1), truth: await truthOf(drawing, 1) };
}

/** The line art of a page as PNG bytes; scale 1 is 300 dpi. */
export async function renderInkPng(number: number, scale = 1): Promise<Uint8Array> {
  const svg = Buffer.from(drawPage(number).drawing.inkSvg(scale));
  return sharp(svg, { unlimited: true, limitInputPixels: false })
    .toColourspace('b-w')
    .png()
    .withMetadata({ density: Math.round(300 * scale) })
    .toBuffer();
}

/** The same of line art that is rendered already. */
export async function encodeInkPng({ data, width, height }: GreyRaster, scale = 1): Promise<Uint8Array> {
  return sharp(data, { raw: { width, height, channels: 1 } })
    .toColourspace('b-w')
    .png()
    .withMetadata({ density: Math.round(300 * scale) })
    .toBuffer();
}

/** The line art of a page as a grey raster. */
export async function renderInk(number: number, scale = 1, closeGaps = false): Promise<GreyRaster> {
  return inkOf(drawPage(number, closeGaps).drawing, scale);
}

async function inkOf(drawing: Drawing, scale: number): Promise<GreyRaster> {
  const svg = Buffer.from(drawing.inkSvg(scale));
  const { data, info } = await sharp(svg, { unlimited: true, limitInputPixels: false })
    .removeAlpha()
    .toColourspace('b-w')
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data) };
}

/** The intended part of every pixel: its number in DEMO_PARTS. */
export async function renderTruth(number: number, scale = 1): Promise<Uint8Array> {
  return truthOf(drawPage(number).drawing, scale);
}

async function truthOf(drawing: Drawing, scale: number): Promise<Uint8Array> {
  const svg = Buffer.from(drawing.flatsSvg(scale, 'blank'));
  const { data, info } = await sharp(svg, { unlimited: true, limitInputPixels: false })
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const truth = new Uint8Array(info.width * info.height);
  for (let i = 0, j = 0; i < truth.length; i++, j += info.channels) truth[i] = data[j]! / 3 - 1;
  return truth;
}
