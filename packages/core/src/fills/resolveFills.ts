import type { Fill, FillLook } from '../model/PageDocument.ts';
import type { Survey } from '../model/Survey.ts';

/** What the fills come to on the regions of a survey. */
export interface ResolvedFills {
  /** The part of each region, null for none. */
  readonly partOfRegion: readonly (string | null)[];
  /** Keys of the fills that stand in each region, by region; only regions with any. */
  readonly fillsOfRegion: ReadonlyMap<number, readonly string[]>;
  /** Keys of fills none of whose anchors lies on paper now. */
  readonly asleep: readonly string[];
  /** Regions in which fills with different parts meet. */
  readonly conflicts: readonly number[];
  /** Regions whose part was not sure when it was given, and why. */
  readonly looks: ReadonlyMap<number, FillLook>;
  /** Regions with a part, or with "leave empty". */
  readonly filledCount: number;
}

/**
 * Finds the region of each anchor. An anchor that falls on ink or outside the page sleeps; where
 * several fills meet in a region the latest shows and the conflict is listed. A fill whose part
 * `partOf` does not know counts as none.
 */
export function resolveFills(
  survey: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>,
  fills: ReadonlyMap<string, Fill>,
  partOf: (part: string) => string | null,
): ResolvedFills {
  const { width, height, field, regions } = survey;
  const partOfRegion: (string | null)[] = new Array<string | null>(regions.count).fill(null);
  const stampOfRegion = new Float64Array(regions.count).fill(-1);
  const fillsOfRegion = new Map<number, string[]>();
  const conflicts = new Set<number>();
  const asleep: string[] = [];
  const looks = new Map<number, FillLook>();
  let filledCount = 0;
  for (const [key, fill] of fills) {
    const part = partOf(fill.part);
    let awake = false;
    for (const [x, y] of fill.anchors) {
      if (x >= width || y >= height) continue;
      const cell = field[y * width + x]!;
      if (cell < 0) continue;
      awake = true;
      const region = regions.ofCell[cell]!;
      const held = fillsOfRegion.get(region);
      if (held === undefined) fillsOfRegion.set(region, [key]);
      else if (held.at(-1) !== key) held.push(key);
      if (part === null) continue;
      const before = partOfRegion[region]!;
      if (before === null) filledCount++;
      else if (before !== part) conflicts.add(region);
      if (fill.stamp >= stampOfRegion[region]!) {
        stampOfRegion[region] = fill.stamp;
        partOfRegion[region] = part;
        if (fill.look === undefined) looks.delete(region);
        else looks.set(region, fill.look);
      }
    }
    if (!awake) asleep.push(key);
  }
  return { partOfRegion, fillsOfRegion, asleep, conflicts: [...conflicts].sort((a, b) => a - b), looks, filledCount };
}
