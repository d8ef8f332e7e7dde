import type { GreyRaster } from '@jumble/core';
import sharp from 'sharp';
import { DEMO_PARTS } from './castOfDemo.ts';
import { Drawing, type DeliberateGap } from './Drawing.ts';
import { drawPageOne } from './pages/pageOne.ts';
import { drawPageTwo } from './pages/pageTwo.ts';

/** Page size in px at 300 dpi: 174 x 265 mm. */
export const PAGE_WIDTH = 2060;
export const PAGE_HEIGHT = 3130;

const PAGES = [
  { name: 'Page 1', draw: drawPageOne },
  { name: 'Page 2', draw: drawPageTwo },
] as const;

export const PAGE_COUNT = PAGES.length;

/** A drawn page, before it is rendered; `closeGaps` draws the deliberate gaps shut. */
export function drawPage(
  number: number,
  closeGaps = false,
): { name: string; drawing: Drawing; gaps: readonly DeliberateGap[] } {
  const page = PAGES[number - 1];
  if (page === undefined) throw new RangeError(`\`number\` must be 1 to ${PAGES.length}; received ${number}`);
  const places = new Map(DEMO_PARTS.map((part, k) => [part.id, k]));
  const drawing = new Drawing(
    PAGE_WIDTH,
    PAGE_HEIGHT,
    (part) => {
      const place = places.get(part);
      if (place === undefined) throw new RangeError(`the cast has no part "${part}"`);
      return place;
    },
    closeGaps,
  );
  page.draw(drawing);
  return { name: page.name, drawing, gaps: drawing.gaps };
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

/** The line art of a page as a grey raster. */
export async function renderInk(number: number, scale = 1, closeGaps = false): Promise<GreyRaster> {
  const svg = Buffer.from(drawPage(number, closeGaps).drawing.inkSvg(scale));
  const { data, info } = await sharp(svg, { unlimited: true, limitInputPixels: false })
    .removeAlpha()
    .toColourspace('b-w')
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data) };
}

/** The intended part of every pixel: its number in DEMO_PARTS. */
export async function renderTruth(number: number, scale = 1): Promise<Uint8Array> {
  const svg = Buffer.from(drawPage(number).drawing.flatsSvg(scale, 'blank'));
  const { data, info } = await sharp(svg, { unlimited: true, limitInputPixels: false })
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const truth = new Uint8Array(info.width * info.height);
  for (let i = 0, j = 0; i < truth.length; i++, j += info.channels) truth[i] = data[j]! / 3 - 1;
  return truth;
}
