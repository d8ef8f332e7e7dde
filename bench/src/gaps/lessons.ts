import { surveyPage, DEFAULT_PREP, NO_GAPS_PREP, type GreyRaster, type Survey } from '@jumble/core';
import { renderInk, renderTruth } from '@jumble/demo';
import { generateDrawing, STYLES, type DrawingOptions, type Style } from './generateDrawing.ts';
import { TruthOfCells } from './truthOfCells.ts';

/** A drawing to learn from, without its pixels. */
export interface Lesson {
  readonly survey: Pick<Survey, 'graph' | 'lineWidthPx' | 'maxGapPx'>;
  /** By the regions of the drawing without gaps. */
  readonly truth: TruthOfCells;
  /** By the parts they were meant to have, where that is known. */
  readonly parts: TruthOfCells | null;
  readonly weight: number;
}

/** With and without what is to be learnt. */
export interface Sheet {
  readonly ink: GreyRaster;
  readonly shut: GreyRaster;
  /** Part of every pixel, where that is known. */
  readonly parts?: Uint8Array;
}

export function prepareLesson({ ink, shut, parts }: Sheet, weight: number): Lesson {
  const survey = surveyPage(ink, DEFAULT_PREP);
  const { graph, lineWidthPx, maxGapPx } = survey;
  const truth = new TruthOfCells(survey, surveyPage(shut, NO_GAPS_PREP));
  return {
    survey: { graph, lineWidthPx, maxGapPx },
    truth,
    parts: parts === undefined ? null : TruthOfCells.byPart(survey, parts),
    weight,
  };
}

export async function demoSheets(): Promise<Sheet[]> {
  return Promise.all(
    [1, 2].map(async (page) => ({
      ink: await renderInk(page),
      shut: await renderInk(page, 1, true),
      parts: await renderTruth(page),
    })),
  );
}

type Variation = Pick<DrawingOptions, 'textureWidth' | 'grazing' | 'covering'>;

/** Generated drawings, one by one: they are large. @param vary what else is asked of them, by seed. */
export async function* sheetsOf(
  seeds: readonly number[],
  styles: readonly Style[] = STYLES,
  vary: (seed: number) => Variation = () => ({}),
): AsyncGenerator<Sheet> {
  for (const seed of seeds) {
    const options = { gapWidths: [0, 0.5, 1, 2, 4][seed % 5]!, gapShare: 0.6, ...vary(seed) };
    for (const style of styles) yield await generateDrawing(seed, style, options);
  }
}

/** To learn from, lines of every third drawing graze each other: there are such pages. */
export function careless(seed: number): Variation {
  return { ...covering(), grazing: seed % 3 === 0 };
}

/** To learn from, strokes run on under what lies over them. */
export function covering(): Variation {
  return { covering: true };
}

export function range(first: number, last: number): number[] {
  return Array.from({ length: last - first + 1 }, (_, k) => first + k);
}
