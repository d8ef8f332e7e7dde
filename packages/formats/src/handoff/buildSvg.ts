import { formatColour, renderParts } from '@jumble/core';
import { XMLBuilder } from 'fast-xml-parser';
import { tracePaths } from '../svg/tracePaths.ts';
import { renderFlats, type HandoffInput } from './flatsLayers.ts';

/** A raster has no more numbers: pages with more regions have a path for each part. */
const MOST_REGIONS = 65_000;

/**
 * The flats as SVG in page px: one path for each region on the edges of its pixels, in groups by character and part. What it
 * draws without smoothing is the flats, pixel for pixel.
 *
 * Pages with painted pixels, more regions than a raster has numbers, or half their size have one path for each part.
 */
export function buildSvg(input: HandoffInput): string {
  const flats = renderFlats(input);
  const { parts, partNumbers, rgbOfPart, partCount } = flats;
  const { width, height } = parts;
  const { regions } = input.survey;
  const isByRegion = flats.corrections === undefined && input.full === undefined && regions.count <= MOST_REGIONS;
  const numbers = Int32Array.from(partNumbers, (part, region) => (part < 0 ? -1 : region));
  const data = isByRegion
    ? renderParts(input.survey, numbers, regions.count, input.trap, input.trapInk).data
    : parts.data;
  const count = isByRegion ? regions.count : rgbOfPart.length;
  const { paths } = tracePaths(data, width, height, count);
  const numbersOf = new Map<number, number[]>();
  paths.forEach((path, k) => {
    if (path === '') return;
    const part = isByRegion ? partNumbers[k]! : k;
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
        'shape-rendering': 'crispEdges',
        'fill-rule': 'evenodd',
      },
    },
  ]) as string;
  return `<?xml version="1.0" encoding="UTF-8"?>\n${svg}\n`;
}
