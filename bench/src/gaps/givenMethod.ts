import type { Survey } from '@jumble/core';
import { mergeCells, type Scoring } from '@jumble/core/gaps';

/** The constants the method was first published with here: see ENGINE in the designs. */
const GIVEN: Scoring = { weights: [-2.95, -0.19, 1.55, -0.19, -1.37, 0.4, -1, 0, 0, 0], boundsScore: -1.25 };

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
    () => undefined,
    undefined,
    GIVEN,
  );
  const numbers = new Map<number, number>();
  const ofCell = groupOfCell.map((group) => {
    if (!numbers.has(group)) numbers.set(group, numbers.size);
    return numbers.get(group)!;
  });
  return { field: survey.field, regions: { ...survey.regions, ofCell, count: numbers.size } };
}
