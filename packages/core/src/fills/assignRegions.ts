import { editFill } from '../page/pageEdits.ts';
import type { Fill } from '../model/PageDocument.ts';
import type { RecordEdit } from '../model/records.ts';
import type { Survey } from '../model/Survey.ts';
import type { ResolvedFills } from './resolveFills.ts';

/**
 * The edits that give regions a part, or take it away (null): whatever stood in a region makes way;
 * a fill with anchors elsewhere keeps those.
 */
export function assignRegions(
  survey: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>,
  fills: ReadonlyMap<string, Fill>,
  resolved: ResolvedFills,
  regionsToSet: Iterable<number>,
  part: string | null,
  stamp: number,
): RecordEdit[] {
  const { width, regions } = survey;
  const target = new Set(regionsToSet);
  const edits = new Map<string, Fill | null>();
  for (const region of target) {
    for (const key of resolved.fillsOfRegion.get(region) ?? []) {
      const fill = fills.get(key);
      if (fill === undefined) continue;
      const rest = fill.anchors.filter(([x, y]) => {
        const there = regionAt(survey, x, y);
        return there === null || !target.has(there);
      });
      if (rest.length === 0) edits.set(key, null);
      else if (rest.length < fill.anchors.length) {
        edits.set(key, null);
        edits.set(`${rest[0]![0]},${rest[0]![1]}`, { ...fill, anchors: rest });
      }
    }
  }
  if (part !== null) {
    for (const region of target) {
      const at = regions.anchor[region]!;
      const x = at % width;
      const y = (at - x) / width;
      edits.set(`${x},${y}`, { part, anchors: [[x, y]], stamp });
    }
  }
  return [...edits].map(([key, fill]) => editFill(key, fill));
}

/** The region at a pixel of paper; null on ink and outside the page. */
export function regionAt(
  survey: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>,
  x: number,
  y: number,
): number | null {
  if (x < 0 || y < 0 || x >= survey.width || y >= survey.height) return null;
  const cell = survey.field[Math.floor(y) * survey.width + Math.floor(x)]!;
  // A field that others write may be ahead of its tables for a moment.
  return cell < 0 ? null : (survey.regions.ofCell[cell] ?? null);
}
