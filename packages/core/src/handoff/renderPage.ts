import { paintTiles, type Corrections, type TileRaster } from '../corrections/Corrections.ts';
import type { Survey } from '../model/Survey.ts';
import { renderParts, type PartRaster } from '../trap/renderParts.ts';
import type { RegionTrap } from '../trap/RegionTrap.ts';
import type { TrapInk } from '../trap/TrapTable.ts';
import type { PlannedGroup } from './planLayers.ts';

/** What the flats of a page are made of. */
export interface RenderedFrom {
  readonly survey: Survey;
  /** Part of each region, null for none. */
  readonly partOfRegion: readonly (string | null)[];
  /** Place of each region's scene among those the parts have colours for. @default all in the first */
  readonly sceneOfRegion?: Int32Array;
  readonly groups: readonly { readonly parts: readonly Pick<PlannedGroup['parts'][number], 'id' | 'rgb' | 'furtherRgb' | 'empty'>[] }[]; // prettier-ignore
  /** What was painted over the regions. @default nothing */
  readonly corrections?: Corrections;
  readonly trap: RegionTrap;
  readonly trapInk: TrapInk;
}

/**
 * The part raster of a page and who is in it. A part has a number in every scene: that of the first scene plus `partCount`
 * for each further one.
 */
export interface RenderedPage {
  readonly partCount: number;
  readonly parts: PartRaster;
  readonly rgbOfPart: readonly number[];
  readonly partNumbers: Int32Array;
  /** As `renderParts` reads them. */
  readonly corrections: TileRaster | undefined;
}

/** Numbers of painted pixels: without colour, and the first part's. */
export const EMPTY_PIXEL = 1;
export const PAINTED_PIXEL = 2;

/** Renders the flats of a page as numbers. @param allocate makes the memory of the raster, all zero. */
export function renderPage(input: RenderedFrom, allocate?: (bytes: number) => ArrayBufferLike): RenderedPage {
  const flat = input.groups.flatMap((group) => group.parts);
  const number = new Map(flat.map((part, k) => [part.id, part.empty ? -1 : k]));
  const partCount = flat.length;
  const partNumbers = Int32Array.from(input.partOfRegion, (id, region) => {
    const first = id === null ? -1 : (number.get(id) ?? -1);
    return first < 0 ? -1 : first + partCount * (input.sceneOfRegion?.[region] ?? 0);
  });
  const rgbOfPart = flat.map((part) => part.rgb);
  const scenes = flat.reduce((most, part) => Math.max(most, part.furtherRgb?.length ?? 0), 0);
  for (let k = 0; k < scenes; k++) rgbOfPart.push(...flat.map((part) => part.furtherRgb?.[k] ?? part.rgb));
  const corrections =
    input.corrections === undefined
      ? undefined
      : paintTiles(input.survey, input.corrections, (id, region) => {
          const first = number.get(id) ?? -1;
          return first < 0 ? EMPTY_PIXEL : PAINTED_PIXEL + first + partCount * (input.sceneOfRegion?.[region] ?? 0);
        });
  const { survey, trap, trapInk } = input;
  const parts = renderParts(survey, partNumbers, rgbOfPart.length, trap, trapInk, corrections, allocate);
  return { partCount, parts, rgbOfPart, partNumbers, corrections };
}
