import {
  partFinder,
  resolvePage,
  rgbaWord,
  type CastSheet,
  type Corrections,
  type PageDocument,
  type ResolvedFills,
} from '@jumble/core';
import { OPEN, type ShownSurvey } from '../engine/messages.ts';
import type { ShowMode } from '../state/benchState.ts';

/** Who has which region, and what is left. */
export interface PageSummary {
  readonly resolved: ResolvedFills;
  /** Regions without a part, the largest first. */
  readonly openRegions: readonly number[];
  /** Regions to look at: not sure, or with two parts in them; the largest first. */
  readonly lookRegions: readonly number[];
  readonly regionsOfPart: ReadonlyMap<string, number>;
  /** RGBA word of each region, {@link OPEN} for one without a part. */
  readonly colours: Uint32Array;
}

/**
 * Works out what fills and painted pixels come to.
 *
 * @param words RGBA word of each part, for each scene the page shows. @param sceneOfRegion which of them a region shows.
 */
export function summarise(
  survey: ShownSurvey,
  page: PageDocument,
  cast: CastSheet,
  words: readonly ReadonlyMap<string, number>[],
  sceneOfRegion: Int32Array,
  corrections: Corrections,
): PageSummary {
  const resolved = resolvePage(survey, page.fills, corrections, partFinder(cast));
  const openRegions: number[] = [];
  const regionsOfPart = new Map<string, number>();
  const colours = new Uint32Array(survey.regions.count);
  resolved.partOfRegion.forEach((part, region) => {
    colours[region] = part === null ? OPEN : words[sceneOfRegion[region]!]!.get(part)!;
    if (part === null) openRegions.push(region);
    else regionsOfPart.set(part, (regionsOfPart.get(part) ?? 0) + 1);
  });
  const { areaPx } = survey.regions;
  const largestFirst = (a: number, b: number): number => areaPx[b]! - areaPx[a]! || a - b;
  openRegions.sort(largestFirst);
  const lookRegions = [...new Set([...resolved.looks.keys(), ...resolved.conflicts])].sort(largestFirst);
  return { resolved, openRegions, lookRegions, regionsOfPart, colours };
}

/** Regions that are not looked at now stand back: nearly white. */
const FADED = rgbaWord(0xf0f0ee);
/** Loud, and unlike any paper: what is missing when nothing else is looked at. */
const LOUD = rgbaWord(0xff2fd0);

/** The colours of regions in a way of showing the page. */
export function shownColours(
  show: ShowMode,
  colours: Uint32Array,
  { partOfRegion }: ResolvedFills,
  partId: string | null,
): Uint32Array {
  if (show !== 'part' && show !== 'missing') return colours;
  return colours.map((colour, region) => shownWord(show, colour, partOfRegion[region]!, partId));
}

/** The word of one region or painted pixel. @param part null for none. */
export function shownWord(show: ShowMode, word: number, part: string | null, partId: string | null): number {
  if (show === 'part') return part === partId ? word : FADED;
  if (show === 'missing') return part === null ? LOUD : FADED;
  return word;
}
