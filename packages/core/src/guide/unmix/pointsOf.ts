import type { Survey } from '../../model/Survey.ts';
import { ENOUGH_PX } from './guideBlur.ts';
import type { GuidePlace } from '../register/registerGuide.ts';

/** Taken out: looked up a million times. */
const { ceil, floor, max, sqrt } = Math;

/** Points of a region that the key is read at, at most. */
const MOST_POINTS = 300;
/** A point counts as inside when the region reaches this far around it, in px of the key. */
const INSIDE_PX = 2;

/** Where the key is read for a region. */
export interface RegionPoints {
  readonly at: readonly number[];
  readonly inside: boolean;
}

/** For each region the places the key is read at: well inside it, where there are such places. @param wanted 1 for regions asked for. @default all */
export function pointsOf(
  { width, height, field, regions }: Pick<Survey, 'width' | 'height' | 'field' | 'regions'>,
  place: GuidePlace,
  wanted?: Uint8Array,
): RegionPoints[] {
  const [rx, ry] = [ceil(INSIDE_PX / place.scaleX), ceil(INSIDE_PX / place.scaleY)];
  // Two for each px of the key in each direction, fewer of a large one.
  const many = max(1, sqrt((width * height * place.scaleX * place.scaleY) / ENOUGH_PX));
  const step = max(1, floor((0.5 * many) / max(place.scaleX, place.scaleY)));
  const inside: number[][] = Array.from({ length: regions.count }, () => []);
  const border: number[][] = Array.from({ length: regions.count }, () => []);
  const regionAt = (x: number, y: number): number => {
    if (x < 0 || y < 0 || x >= width || y >= height) return -1;
    const cell = field[y * width + x]!;
    return cell < 0 ? -1 : regions.ofCell[cell]!;
  };
  for (let y = step >> 1; y < height; y += step) {
    for (let x = step >> 1; x < width; x += step) {
      const region = regionAt(x, y);
      if (region < 0 || wanted?.[region] === 0) continue;
      const deep =
        regionAt(x - rx, y) === region &&
        regionAt(x + rx, y) === region &&
        regionAt(x, y - ry) === region &&
        regionAt(x, y + ry) === region;
      (deep ? inside : border)[region]!.push(y * width + x);
    }
  }
  return inside.map((deep, region) => {
    const list = deep.length > 0 ? deep : border[region]!.length > 0 ? border[region]! : [regions.anchor[region]!];
    const every = ceil(list.length / MOST_POINTS);
    return { at: list.filter((_, k) => k % every === 0), inside: deep.length > 0 };
  });
}
