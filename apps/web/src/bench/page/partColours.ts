import { colourOfPart, parseColour, regionAt, rgbaWord, type CastPart } from '@jumble/core';
import type { BenchState } from '../state/benchState.ts';

/** The region at a page point, or null on ink and outside. */
export function regionAtPoint({ survey }: Pick<BenchState, 'survey'>, x: number, y: number): number | null {
  return survey === null ? null : regionAt(survey, x, y);
}

/** Scene a region shows: its panel's, or the page's. */
function sceneOf({ document: page, panelOfRegion }: BenchState, region: number): string | null {
  return page?.panels?.[panelOfRegion?.[region] ?? -1]?.scene ?? page?.scene ?? null;
}

/** RGBA word of a part in a scene; 0 for one that is left empty. */
function wordOf({ cast }: BenchState, part: CastPart, scene: string | null): number {
  return part.empty ? 0 : rgbaWord(parseColour(colourOfPart(cast!, part.id, scene)));
}

/** RGBA word of every part, as it is shown in a scene. */
export function wordsOfParts(state: BenchState, scene: string | null): Map<string, number> {
  return new Map((state.cast?.parts ?? []).map((part) => [part.id, wordOf(state, part, scene)]));
}

/** How a part looks in each region, by its scene. */
export function wordsIn(state: BenchState, part: CastPart): (region: number) => number {
  const known = new Map<string | null, number>();
  return (region) => {
    const scene = sceneOf(state, region);
    let word = known.get(scene);
    if (word === undefined) known.set(scene, (word = wordOf(state, part, scene)));
    return word;
  };
}

/** RGBA word of what a click would make of a region; null where it would make nothing. */
export function wordIfClicked(state: BenchState, region: number): number | null {
  const { stage, flats, cast, partId } = state;
  const part = cast?.parts.find((one) => one.id === partId);
  const assigns = stage === 'flats' && flats.way !== 'pen' && flats.way !== 'marks';
  return assigns && part !== undefined && !part.empty ? wordOf(state, part, sceneOf(state, region)) : null;
}
