import type { Survey } from '@jumble/core';
import { mergeCells, OPENING_FEATURES, type Scoring } from '@jumble/core/gaps';

/** The constants the method was first published with here: see ENGINE in the designs. */
const GIVEN = new Map<(typeof OPENING_FEATURES)[number], number>([
  // The area counts from e to the fourth line widths squared on.
  ['base', -2.95 - 4 * 0.4],
  ['narrow', -0.19],
  ['end', 1.55],
  ['secondEnd', -0.19],
  ['inkedShare', -1.37],
  ['area', 0.4],
  ['texture', -1],
]);
const WEIGHTS = OPENING_FEATURES.map((feature) => GIVEN.get(feature) ?? 0);
export const GIVEN_SCORING: Scoring = {
  rate: (features) => Math.round(1e6 * features.reduce((sum, feature, k) => sum + feature * WEIGHTS[k]!, 0)) / 1e6,
  boundsScore: -1.25,
};

/** The same cuts ruled on with the constants as given: the reference that the fitted score has to beat. */
export function divideAsGiven(survey: Survey): Pick<Survey, 'field' | 'regions'> {
  const { graph, lineWidthPx, maxGapPx } = survey;
  const { groupOfCell } = mergeCells(
    graph.facts,
    graph.pairs,
    graph.cuts,
    graph.texture,
    lineWidthPx.median,
    maxGapPx,
    [],
    undefined,
    GIVEN_SCORING,
  );
  const numbers = new Map<number, number>();
  const ofCell = groupOfCell.map((group) => {
    if (!numbers.has(group)) numbers.set(group, numbers.size);
    return numbers.get(group)!;
  });
  return { field: survey.field, regions: { ...survey.regions, ofCell, count: numbers.size } };
}
