import {
  colourOfPart,
  correctionAt,
  paintTiles,
  PAPER_WORD,
  parseColour,
  partFinder,
  readCorrections,
  rgbaWord,
  scenesOfPage,
  type CastSheet,
  type Corrections,
  type CorrectionTile,
  type PageDocument,
  type TileRaster,
} from '@jumble/core';
import type { ShownSurvey } from '../engine/messages.ts';
import type { Bench } from '../state/Bench.ts';
import type { BenchState } from '../state/benchState.ts';
import { shownWord } from './summarise.ts';

/** What was read of a bench's painted pixels, and what of it is shown, each with what it depends on. */
interface Painted {
  readFrom: readonly unknown[];
  corrections: Corrections | null;
  shown: readonly unknown[];
}

const painted = new WeakMap<Bench, Painted>();

function paintedOf(bench: Bench): Painted {
  let known = painted.get(bench);
  if (known === undefined) painted.set(bench, (known = { readFrom: [], corrections: null, shown: [] }));
  return known;
}

/** What is painted on the page; read anew only where a square changed. */
export function correctionsOn(bench: Bench): Corrections {
  const { document: page, cast, page: view } = bench.state;
  const known = paintedOf(bench);
  const from = [view!.width, cast, ...[...(page?.tiles ?? [])].flat()];
  if (known.corrections === null || !sameItems(known.readFrom, from)) {
    const tiles: ReadonlyMap<string, CorrectionTile> = page?.tiles ?? new Map<string, CorrectionTile>();
    known.corrections = readCorrections(view!.width, tiles, partFinder(cast!));
    known.readFrom = from;
  }
  return known.corrections;
}

/** Shows what is painted, in the colours and the way of showing of now. @param anew even where nothing changed. */
export function showPainted(bench: Bench, anew = false): void {
  const { survey, document: page, cast, show, partId } = bench.state;
  if (survey === null || page === null || cast === null) return;
  const known = paintedOf(bench);
  const corrections = correctionsOn(bench);
  const by = [corrections, survey, cast, page.scene, page.panels, show, show === 'part' ? partId : null];
  if (!anew && sameItems(by, known.shown)) return;
  known.shown = by;
  bench.engine.corrections(corrections.tiles.size === 0 ? null : paintedTiles(bench.state, corrections));
}

/** Squares of painted pixels as they are shown. */
export function paintedTiles(state: BenchState, corrections: Corrections): TileRaster {
  const { survey, document: page, cast } = state;
  return paintTiles(survey!, corrections, painterOf(state, survey!, page!, cast!));
}

/** The part that is painted over the regions at a page point. */
export function paintedAt(bench: Bench, [x, y]: readonly [number, number]): string | null {
  const { survey } = bench.state;
  const isInside = survey !== null && x >= 0 && y >= 0 && x < survey.width && y < survey.height;
  return isInside ? correctionAt(correctionsOn(bench), Math.floor(x), Math.floor(y)) : null;
}

function painterOf(
  { show, partId }: BenchState,
  survey: ShownSurvey,
  page: PageDocument,
  cast: CastSheet,
): (part: string, region: number) => number {
  const { scenes, ofRegion } = scenesOfPage(survey, page);
  const words = new Map<string, number>();
  return (part, region) => {
    const scene = scenes[region < 0 ? 0 : ofRegion[region]!]!;
    const name = `${scene ?? ''}/${part}`;
    let word = words.get(name);
    if (word === undefined) {
      const empty = cast.parts.find((one) => one.id === part)?.empty === true;
      const own = empty ? PAPER_WORD : rgbaWord(parseColour(colourOfPart(cast, part, scene)));
      words.set(name, (word = shownWord(show, own, part, partId)));
    }
    return word;
  };
}

function sameItems(a: readonly unknown[], b: readonly unknown[]): boolean {
  return a.length === b.length && a.every((one, k) => one === b[k]);
}
