import { type Corrections, coveredRegions } from '../corrections/Corrections.ts';
import type { Fill } from '../model/PageDocument.ts';
import type { Survey } from '../model/Survey.ts';
import { type ResolvedFills, resolveFills } from './resolveFills.ts';

/**
 * Works out what fills and corrections come to. A region that was painted all over and has no part takes the
 * one most of it was painted with, so that it is done and its colour runs under the ink around it.
 *
 * @param partOf the part an id means now, null for none.
 */
export function resolvePage(
  survey: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>,
  fills: ReadonlyMap<string, Fill>,
  corrections: Corrections,
  partOf: (part: string) => string | null,
): ResolvedFills {
  const resolved = resolveFills(survey, fills, partOf);
  if (corrections.tiles.size === 0) return resolved;
  const partOfRegion = [...resolved.partOfRegion];
  let { filledCount } = resolved;
  for (const [region, part] of coveredRegions(survey, corrections)) {
    if (partOfRegion[region] !== null) continue;
    partOfRegion[region] = part;
    filledCount++;
  }
  return { ...resolved, partOfRegion, filledCount };
}
