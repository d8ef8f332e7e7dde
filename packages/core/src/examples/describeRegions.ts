import { log } from '../exact/exactMath.ts';
import { areaOf, boxOf, panelOfPoints, type Panel } from '../layout/Panel.ts';
import { neighbourRegions } from '../survey/neighbourRegions.ts';
import type { OpenSurvey } from '../survey/surveyPage.ts';

/** What is told of each region, as plain numbers that can be kept and sent. */
export interface RegionTraits {
  readonly count: number;
  /** {@link TRAITS} numbers a region. */
  readonly values: readonly number[];
  /** `[a, b, px, ...]` of every two regions that touch, with the length of their common border. */
  readonly pairs: readonly number[];
  /** Panel of each region, -1 for none. */
  readonly panels: readonly number[];
}

/**
 * Size, shape and place: the logarithm of the area in that of the page; how much of its box it fills; the
 * logarithm of width by height; how thick it is for its area; how long its border is for its area; the middle
 * in its panel, 0..1 across and down; the logarithm of its share of the panel; whether it touches the page's
 * edge or lies in no panel.
 */
export const TRAITS = 9;

/**
 * Describes regions so that those of another page can be compared with them.
 *
 * @param panels of the page, in px. Cost: one read of the ink, every other row.
 */
export function describeRegions(open: OpenSurvey, panels: readonly Pick<Panel, 'points'>[]): RegionTraits {
  const { width, height, regions, graph } = open.survey;
  const { count, areaPx, box, anchor, touchesEdge, ofCell } = regions;
  const pairs = neighbourRegions(open);
  const border = new Float64Array(count);
  for (let k = 0; k < pairs.length; k += 3) {
    border[pairs[k]!] = border[pairs[k]!]! + pairs[k + 2]!;
    border[pairs[k + 1]!] = border[pairs[k + 1]!]! + pairs[k + 2]!;
  }
  const radius = new Float64Array(count);
  ofCell.forEach((region, cell) => {
    radius[region] = Math.max(radius[region]!, graph.facts.radiusPx[cell]!);
  });
  const ofRegion = panelOfPoints(
    panels.map(({ points }) => ({ points, framed: true })),
    anchor,
    width,
  );
  const boxes = panels.map(({ points }) => boxOf(points));
  const areas = panels.map(({ points }) => areaOf(points));
  const values: number[] = [];
  for (let r = 0; r < count; r++) {
    const [x0, y0, x1, y1] = [box[4 * r]!, box[4 * r + 1]!, box[4 * r + 2]!, box[4 * r + 3]!];
    const area = Math.max(1, areaPx[r]!);
    const panel = ofRegion[r]!;
    const [left, top, right, bottom] = boxes[panel] ?? [0, 0, width, height];
    values.push(
      log(area / (width * height)),
      area / ((x1 - x0) * (y1 - y0)),
      log((x1 - x0) / (y1 - y0)),
      (3 * radius[r]! * radius[r]!) / area,
      log(Math.max(1, border[r]!) / Math.sqrt(area)),
      ((x0 + x1) / 2 - left) / (right - left),
      ((y0 + y1) / 2 - top) / (bottom - top),
      log(area / (areas[panel] ?? width * height)),
      touchesEdge[r] === 1 || panel < 0 ? 1 : 0,
    );
  }
  return { count, values, pairs: [...pairs], panels: [...ofRegion] };
}
