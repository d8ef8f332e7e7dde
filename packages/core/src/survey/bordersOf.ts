import { measureBorders, type CellBorders } from '../regions/measureBorders.ts';
import type { OpenSurvey } from './surveyPage.ts';

const measured = new WeakMap<object, CellBorders>();

/** The borders of a page's cells; measured once for each way it is cut. */
export function bordersOf({ base, survey }: OpenSurvey): CellBorders {
  const { graph, field, cellCount, width, height } = survey;
  const known = measured.get(graph);
  if (known !== undefined) return known;
  const borders = measureBorders(field, base.runs, cellCount, width, height);
  measured.set(graph, borders);
  return borders;
}
