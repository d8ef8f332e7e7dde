import { log } from '../exact/exactMath.ts';
import { type Panel, boxOf, panelOfPoints } from '../layout/Panel.ts';
import { neighbourRegions } from '../survey/neighbourRegions.ts';
import type { OpenSurvey } from '../survey/OpenSurvey.ts';

/** What is told of each region, as plain numbers that can be kept and sent. */
export interface RegionTraits {
  readonly count: number;
  /** {@link TRAITS} numbers a region: its own, then those of what lies around it. */
  readonly values: readonly number[];
  /** `[a, b, px, ...]` of every two regions that touch, with the length of their common border. */
  readonly pairs: readonly number[];
  /** Panel of each region, -1 for none. */
  readonly panels: readonly number[];
}

/**
 * Size, shape and place: the logarithm of the area in that of the page; how much of its box it fills; the
 * logarithm of width by height; how thick it is for its area; how long its border is for its area; the middle
 * in its panel, 0..1 down; whether it touches the page's edge or lies in no panel.
 */
const OWN_TRAITS = 7;
/**
 * What lies around it, by how long they touch: how much larger its neighbours are, how much of their boxes they fill and
 * how thick they are; the logarithm of one more than their number; the share of the border with the one it touches
 * longest; how much larger that one is, how much of its box it fills and how thick it is. A button is not told by its
 * shape alone.
 */
const TRAITS_AROUND = 8;
export const TRAITS = OWN_TRAITS + TRAITS_AROUND;

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
  const own = Array.from({ length: count }, (_, r): readonly number[] => {
    const [x0, y0, x1, y1] = [box[4 * r]!, box[4 * r + 1]!, box[4 * r + 2]!, box[4 * r + 3]!];
    const area = Math.max(1, areaPx[r]!);
    const panel = ofRegion[r]!;
    const [, top, , bottom] = boxes[panel] ?? [0, 0, width, height];
    return [
      log(area / (width * height)),
      area / ((x1 - x0) * (y1 - y0)),
      log((x1 - x0) / (y1 - y0)),
      (3 * radius[r]! * radius[r]!) / area,
      log(Math.max(1, border[r]!) / Math.sqrt(area)),
      ((y0 + y1) / 2 - top) / (bottom - top),
      touchesEdge[r] === 1 || panel < 0 ? 1 : 0,
    ];
  });
  const around = traitsAround(own, pairs, border);
  const values = own.flatMap((traits, r) => [...traits, ...around[r]!]);
  return { count, values, pairs: [...pairs], panels: [...ofRegion] };
}

function traitsAround(own: readonly (readonly number[])[], pairs: ArrayLike<number>, border: Float64Array): number[][] {
  const sums = own.map(() => ({ count: 0, area: 0, fills: 0, thick: 0, longest: 0, beside: -1 }));
  for (let k = 0; k < pairs.length; k += 3) {
    for (const [one, other] of [
      [pairs[k]!, pairs[k + 1]!],
      [pairs[k + 1]!, pairs[k]!],
    ] as const) {
      const sum = sums[one]!;
      const share = pairs[k + 2]! / border[one]!;
      const [area, fills, , thick] = own[other]!;
      sum.count++;
      sum.area += share * area!;
      sum.fills += share * fills!;
      sum.thick += share * thick!;
      if (share > sum.longest) [sum.longest, sum.beside] = [share, other];
    }
  }
  return sums.map(({ count, area, fills, thick, longest, beside }, r) => {
    const [ownArea] = own[r]!;
    const [theirs, theirFills, , theirThick] = own[beside] ?? [ownArea, 0, 0, 0];
    const larger = count === 0 ? 0 : area - ownArea!;
    return [larger, fills, thick, log(1 + count), longest, theirs! - ownArea!, theirFills!, theirThick!];
  });
}
