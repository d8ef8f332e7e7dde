import {
  holdsInOrder,
  MAIN_INK,
  ownSolids,
  partFinder,
  planParts,
  readCastSheet,
  readPageDocument,
  scenesShown,
  readingCacheKey,
  type DeliveryRule,
  type PageDocument,
  withPartsOf,
  type Records,
} from '@jumble/core';
import type { PageEntity } from '../database/entities.ts';
import type { FileStore } from '../storage/FileStore.ts';
import { inksOf } from './pageView.ts';
import type { PageInput } from '../workers/tasks.ts';

/** What a hand-off may have otherwise than the page says. */
export type DeliveredAs = Pick<DeliveryRule, 'scene' | 'trap' | 'underlapPx'>;

/** What a worker needs to know of a page as it stands, or as it is delivered. */
export function pageInput(
  page: PageEntity,
  pageRecords: Records,
  castRecords: Records,
  files: FileStore,
  as: DeliveredAs = { scene: null, trap: null, underlapPx: null },
): PageInput {
  const own = readPageDocument(pageRecords);
  const sheet = readCastSheet(castRecords);
  const document = as.scene === null ? own : inScene(own, as.scene);
  const partOf = partFinder(sheet);
  return {
    greyPath: files.pathOf('grey', page.greyHash),
    width: page.width,
    height: page.height,
    prep: document.prep,
    rulings: [...document.rulings],
    drawn: document.drawn,
    others: inksOf(page).map((ink) => ({
      greyPath: files.pathOf('grey', ink.greyHash),
      fullGreyPath: ink.fullGreyHash === null ? null : files.pathOf('grey', ink.fullGreyHash),
      bounds: document.inks.get(ink.id)?.bounds ?? true,
    })),
    full:
      page.fullGreyHash === null
        ? null
        : { greyPath: files.pathOf('grey', page.fullGreyHash), width: page.fullWidth!, height: page.fullHeight! },
    ownBounds: document.inks.get(MAIN_INK)?.bounds ?? true,
    solids: ownSolids(document),
    cutsPath:
      page.cutsHash !== null && page.cutsCacheKey === pageCacheKey(page, document)
        ? files.pathOf('cuts', page.cutsHash)
        : null,
    panels: document.panels,
    scene: document.scene,
    trap: as.trap ?? document.trap,
    areas: [...document.areas],
    jobTrap: { ...sheet.trap, underlapPx: as.underlapPx ?? sheet.trap.underlapPx },
    holds: holdsInOrder(document).map((rule) => withPartsOf(rule, partOf)),
    holdLimits: sheet.holds,
    lineEdits: document.lineEdits,
    lineStrokes: [...document.lineStrokes.values()],
    dpi: page.dpi,
    // Parts that were merged go by the part they became.
    fills: [...document.fills].map(([key, fill]) => [key, { ...fill, part: partOf(fill.part) ?? fill.part }]),
    tiles: [...document.tiles].map(([square, tile]) => [
      square,
      { ...tile, parts: tile.parts.map((part) => partOf(part) ?? part) },
    ]),
    groups: planParts(sheet, scenesShown(document)),
  };
}

/** The page and all its panels in one scene. */
function inScene(document: PageDocument, scene: string): PageDocument {
  return { ...document, scene, panels: document.panels?.map((panel) => ({ ...panel, scene: null })) ?? null };
}

/** Names how a page is read now: its cuts belong to that. */
export function pageCacheKey(page: PageEntity, document: PageDocument): string {
  return readingCacheKey({ greyHash: page.greyHash, inks: inksOf(page) }, document);
}
