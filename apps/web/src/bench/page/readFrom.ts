import type { PageView } from '@jumble/contracts';
import { MAIN_INK, ownSolids, readingCacheKey, type PageDocument } from '@jumble/core';
import type { ReadFrom } from '../engine/messages.ts';

/** What the ink of a page is read from, by its files and its document; two that are equal give the same ink. */
export function readFrom(page: PageView, { prep, inks, solids }: PageDocument): ReadFrom {
  const url = (hash: string): string => `/api/pages/${page.id}/grey/${hash}`;
  return {
    url: url(page.greyHash),
    width: page.width,
    height: page.height,
    // The largest gap divides; it is no matter of reading.
    prep: { ...prep, maxGapPx: 'auto' },
    ownBounds: inks.get(MAIN_INK)?.bounds ?? true,
    others: page.inks.map((ink) => ({ url: url(ink.greyHash), bounds: inks.get(ink.id)?.bounds ?? true })),
    solids: ownSolids({ solids }),
  };
}

/** Where the gaps are that were found before in the page as it is read now; null where there are none. */
export function knownCuts(page: PageView, document: PageDocument): string | null {
  if (page.cuts === null || page.cuts.cacheKey !== readingCacheKey(page, document)) return null;
  return `/api/pages/${page.id}/cuts/${page.cuts.hash}`;
}
