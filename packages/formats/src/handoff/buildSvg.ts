import { EMPTY_PIXEL, formatColour, PAINTED_PIXEL, renderParts, type TileRaster } from '@jumble/core';
import { XMLBuilder } from 'fast-xml-parser';
import { tracePaths } from '../svg/tracePaths.ts';
import type { HandoffPage } from './preparePage.ts';

/** A raster has no more numbers: pages with more regions have a path for each part. */
const MOST_NUMBERS = 65_000;

/**
 * The flats as SVG in page px: one path for each region on the edges of its pixels, and one for what was painted with a part,
 * in groups by character and part. What it draws without smoothing is the flats, pixel for pixel.
 *
 * Pages with more regions than a raster has numbers have one path for each part.
 *
 * @param smooth whether steps become slopes: borders run through the middles of the pixels' edges then, on both sides alike.
 */
export function buildSvg(page: HandoffPage, smooth = false): string {
  const { input, flats, width, height } = page;
  const { parts, partNumbers, rgbOfPart, partCount } = flats;
  const { regions } = input.survey;
  const isByRegion = regions.count + rgbOfPart.length <= MOST_NUMBERS;
  const numbers = Int32Array.from(partNumbers, (part, region) => (part < 0 ? -1 : region));
  const count = isByRegion ? regions.count + rgbOfPart.length : rgbOfPart.length;
  const data = isByRegion
    ? page.toSize(
        renderParts(input.survey, numbers, count, input.trap, input.trapInk, afterRegions(flats.corrections, regions.count)), // prettier-ignore
      ).data
    : parts.data;
  const { paths } = tracePaths(data, width, height, count, smooth);
  const partOf = (k: number): number => (!isByRegion ? k : k < regions.count ? partNumbers[k]! : k - regions.count);
  const numbersOf = new Map<number, number[]>();
  paths.forEach((path, k) => {
    if (path === '') return;
    const part = partOf(k);
    numbersOf.set(part, [...(numbersOf.get(part) ?? []), k]);
  });
  let first = 0;
  const groups = input.groups.map(({ name, parts: members }) => {
    const from = first;
    first += members.length;
    const inGroup = members.flatMap((member, k) => {
      const paths_ = rgbOfPart.flatMap((rgb, n) =>
        n % partCount === from + k
          ? (numbersOf.get(n) ?? []).map((path) => ({ path: [], ':@': { d: paths[path]!, fill: formatColour(rgb) } }))
          : [],
      );
      return paths_.length === 0 ? [] : [{ g: [{ title: [{ '#text': member.name }] }, ...paths_] }];
    });
    return inGroup.length === 0 ? [] : [{ g: [{ title: [{ '#text': name }] }, ...inGroup] }];
  });
  const builder = new XMLBuilder({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: '',
    suppressEmptyNode: true,
  });
  const svg = builder.build([
    {
      svg: groups.flat(),
      ':@': {
        xmlns: 'http://www.w3.org/2000/svg',
        width,
        height,
        viewBox: `0 0 ${width} ${height}`,
        ...(smooth ? {} : { 'shape-rendering': 'crispEdges' }),
        'fill-rule': 'evenodd',
      },
    },
  ]) as string;
  return `<?xml version="1.0" encoding="UTF-8"?>\n${svg}\n`;
}

/** Painted pixels count after the regions, by their parts. */
function afterRegions(painted: TileRaster | undefined, regionCount: number): TileRaster | undefined {
  if (painted === undefined) return undefined;
  const numberOf = (value: number): number =>
    value < PAINTED_PIXEL || value === EMPTY_PIXEL ? value : value + regionCount;
  return { ...painted, tiles: new Map([...painted.tiles].map(([tile, values]) => [tile, values.map(numberOf)])) };
}
