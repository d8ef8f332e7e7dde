import { colourOfPart, type CastSheet } from '../cast/CastSheet.ts';
import { parseColour } from '../colour/hex.ts';

/** One layer for each part, or one for all flats. */
export type LayerSplit = 'part' | 'single';

export interface PlannedPart {
  readonly id: string;
  readonly name: string;
  /** 0xRRGGBB */
  readonly rgb: number;
  /** 0xRRGGBB in each of the further scenes the page shows. @default none */
  readonly furtherRgb?: readonly number[];
  /** "Leave empty": takes regions, prints nothing. */
  readonly empty: boolean;
}

export interface PlannedGroup {
  readonly name: string;
  /** Topmost first. */
  readonly parts: readonly PlannedPart[];
}

/**
 * The parts of a sheet as the hand-off stacks them: groups and parts topmost first, with the colours in force.
 *
 * @param scenes the page's own scene, then those its panels have instead.
 */
export function planParts(sheet: CastSheet, [sceneId = null, ...further]: readonly (string | null)[]): PlannedGroup[] {
  return sheet.groups.map((group) => ({
    name: group.name,
    parts: sheet.parts
      .filter((part) => part.groupId === group.id)
      .map((part) => ({
        id: part.id,
        name: part.name,
        rgb: parseColour(colourOfPart(sheet, part.id, sceneId)),
        furtherRgb: further.map((scene) => parseColour(colourOfPart(sheet, part.id, scene))),
        empty: part.empty,
      })),
  }));
}
