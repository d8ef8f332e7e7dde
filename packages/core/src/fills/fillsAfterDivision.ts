import { editFill } from '../page/pageEdits.ts';
import type { Fill } from '../model/PageDocument.ts';
import type { RecordEdit } from '../model/records.ts';
import type { Survey } from '../model/Survey.ts';
import { type ResolvedFills, resolveFills } from './resolveFills.ts';

/**
 * The edits that let every piece of a divided region keep the part it had: the fill that showed there
 * gets an anchor in each piece without one.
 *
 * @param before what the fills came to on the regions as they were.
 */
export function fillsAfterDivision(
  before: ResolvedFills,
  after: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>,
  fills: ReadonlyMap<string, Fill>,
  /** Region of the old division at a pixel index of paper, or -1. */
  regionBefore: (at: number) => number,
): RecordEdit[] {
  const now = resolveFills(after, fills, (part) => part);
  const changed = new Map<string, Fill>();
  for (let region = 0; region < after.regions.count; region++) {
    if (now.partOfRegion[region] !== null) continue;
    const at = after.regions.anchor[region]!;
    const old = regionBefore(at);
    const part = old < 0 ? null : before.partOfRegion[old];
    if (part === null || part === undefined) continue;
    const key = before.fillsOfRegion.get(old)?.find((one) => fills.get(one)?.part === part);
    if (key === undefined) continue;
    const fill = changed.get(key) ?? fills.get(key)!;
    const x = at % after.width;
    changed.set(key, { ...fill, anchors: [...fill.anchors, [x, (at - x) / after.width]] });
  }
  return [...changed].map(([key, fill]) => editFill(key, fill));
}

/** The same for closures just drawn: where one side has a part and the other none, both keep it. */
export function fillsAcrossClosures(
  after: Pick<Survey, 'width' | 'height' | 'field' | 'regions' | 'closures'>,
  drawn: ReadonlySet<string>,
  fills: ReadonlyMap<string, Fill>,
): RecordEdit[] {
  const now = resolveFills(after, fills, (part) => part);
  const changed = new Map<string, Fill>();
  for (const closure of after.closures) {
    if (!drawn.has(closure.key) || closure.regions[0] === closure.regions[1]) continue;
    for (const [empty, given] of [closure.regions, [closure.regions[1], closure.regions[0]]] as const) {
      const part = now.partOfRegion[given];
      if (now.partOfRegion[empty] !== null || part === null || part === undefined) continue;
      const key = now.fillsOfRegion.get(given)?.find((one) => fills.get(one)?.part === part);
      if (key === undefined) continue;
      const fill = changed.get(key) ?? fills.get(key)!;
      const at = after.regions.anchor[empty]!;
      const x = at % after.width;
      changed.set(key, { ...fill, anchors: [...fill.anchors, [x, (at - x) / after.width]] });
    }
  }
  return [...changed].map(([key, fill]) => editFill(key, fill));
}
