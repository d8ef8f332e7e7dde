import type { Survey } from '@jumble/core';

/** How well a page was divided, against the regions it was meant to have. */
export interface DivisionScore {
  /** Intended regions. */
  readonly intended: number;
  /** Share of intended regions found at an IoU of 0.95 or better. */
  readonly recovered: number;
  /** Found regions that match no intended one by more than half, beyond those missing. */
  readonly spurious: number;
  /** Share of paper that lies in a region whose majority intends the same. */
  readonly accuracy: number;
  /** Regions to click for every region an ideal division would need. */
  readonly clicks: number;
}

/** Regions below this many px count for nobody, in a drawing of the default size. */
const LEAST_PX = 30;

/**
 * @param shut the survey of the same drawing without gaps, undivided otherwise: the truth.
 * @param scale how many times as large as by default the drawing is.
 */
export function scoreDivision(found: Pick<Survey, 'field' | 'regions'>, shut: Survey, scale = 1): DivisionScore {
  const leastPx = LEAST_PX * scale * scale;
  const foundOf = found.regions.ofCell;
  const trueOf = shut.regions.ofCell;
  const overlap = new Map<number, number>();
  const foundArea = new Float64Array(found.regions.count);
  const trueArea = new Float64Array(shut.regions.count);
  const stride = found.regions.count;
  for (let i = 0; i < found.field.length; i++) {
    const f = found.field[i]!;
    const t = shut.field[i]!;
    // Ink of the outline that was cut open is paper in one and ink in the other: neither counts.
    if (f < 0 || t < 0) continue;
    const [region, meant] = [foundOf[f]!, trueOf[t]!];
    foundArea[region] = foundArea[region]! + 1;
    trueArea[meant] = trueArea[meant]! + 1;
    const key = meant * stride + region;
    overlap.set(key, (overlap.get(key) ?? 0) + 1);
  }
  const best = new Float64Array(shut.regions.count);
  const majority = new Float64Array(found.regions.count);
  const matched = new Set<number>();
  for (const [key, shared] of overlap) {
    const region = key % stride;
    const meant = (key - region) / stride;
    const iou = shared / (foundArea[region]! + trueArea[meant]! - shared);
    best[meant] = Math.max(best[meant]!, iou);
    majority[region] = Math.max(majority[region]!, shared);
    if (iou > 0.5) matched.add(region);
  }
  let intended = 0;
  let recovered = 0;
  for (let t = 0; t < trueArea.length; t++) {
    if (trueArea[t]! < leastPx) continue;
    intended++;
    if (best[t]! >= 0.95) recovered++;
  }
  let regions = 0;
  let spurious = 0;
  let right = 0;
  let paper = 0;
  for (let r = 0; r < foundArea.length; r++) {
    paper += foundArea[r]!;
    right += majority[r]!;
    if (foundArea[r]! < leastPx) continue;
    regions++;
    if (!matched.has(r)) spurious++;
  }
  return {
    intended,
    recovered: recovered / Math.max(1, intended),
    spurious,
    accuracy: right / Math.max(1, paper),
    clicks: regions / Math.max(1, intended),
  };
}
