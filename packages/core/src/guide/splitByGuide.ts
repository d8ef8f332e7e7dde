import { keyOfCut } from '../gaps/proposals/handCut.ts';
import type { Survey } from '../model/Survey.ts';
import { type GuidePart, shownParts } from './proposeFromGuide.ts';
import type { GuidePlace, GuideRaster } from './register/registerGuide.ts';

/** A region that the key shows in two colours or more: it leaks. */
export interface GuideSplit {
  readonly region: number;
  /** Keys of the cuts that part the colours. */
  readonly closures: readonly string[];
  /** A point in each piece that is plain, with its part. */
  readonly pieces: readonly { readonly part: string; readonly at: number }[];
}

/**
 * Regions whose cells the key plainly shows in different parts, with the cuts between these: the key says
 * where to close what the gaps left open.
 */
export function splitByGuide(
  survey: Pick<Survey, 'width' | 'height' | 'field' | 'regions' | 'graph' | 'lineWidthPx'>,
  guide: GuideRaster,
  place: GuidePlace,
  parts: readonly GuidePart[],
): GuideSplit[] {
  const { graph, regions } = survey;
  const { cells, anchor, cuts, pairs } = graph;
  const byCell = {
    ...survey,
    regions: { ...regions, count: cells.count, ofCell: Int32Array.from({ length: cells.count }, (_, c) => c), anchor },
  };
  // Cuts that are open: what they part is one region.
  const open = cuts.flatMap((cut, k) => {
    const pair = pairs.ofCut[k]!;
    if (pair < 0 || cut.kind === 'hand') return [];
    const [a, b] = [pairs.a[pair]!, pairs.b[pair]!];
    return regions.ofCell[a] === regions.ofCell[b] ? [{ cut, a, b }] : [];
  });
  const wanted = new Uint8Array(cells.count);
  for (const { a, b } of open) wanted[a] = wanted[b] = 1;
  const partOfCell = shownParts(byCell, guide, place, parts, wanted);
  const closures = new Map<number, string[]>();
  for (const { cut, a, b } of open) {
    const region = regions.ofCell[a]!;
    if (partOfCell[a]! < 0 || partOfCell[b]! < 0 || partOfCell[a] === partOfCell[b]) continue;
    closures.set(region, [...(closures.get(region) ?? []), keyOfCut(cut)]);
  }
  const pieces = new Map<number, { part: string; at: number }[]>();
  for (let c = 0; c < cells.count; c++) {
    const region = regions.ofCell[c]!;
    if (partOfCell[c]! < 0 || !closures.has(region)) continue;
    pieces.set(region, [...(pieces.get(region) ?? []), { part: parts[partOfCell[c]!]!.id, at: anchor[c]! }]);
  }
  return [...closures]
    .map(([region, keys]) => ({ region, closures: keys, pieces: pieces.get(region)! }))
    .sort((a, b) => a.region - b.region);
}
