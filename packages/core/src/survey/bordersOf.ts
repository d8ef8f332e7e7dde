import { type BorderLengths, measureBorders } from '../regions/measureBorders.ts';
import type { OpenSurvey } from './OpenSurvey.ts';

const measured = new WeakMap<object, BorderLengths>();

/** The borders of a page's cells; measured once for each way it is cut. */
export function bordersOf({ base, survey }: OpenSurvey): BorderLengths {
  const { graph, field, cellCount, width, height } = survey;
  const known = measured.get(graph);
  if (known !== undefined) return known;
  const borders = measureBorders(field, base.runs, cellCount, width, height);
  measured.set(graph, borders);
  return borders;
}
