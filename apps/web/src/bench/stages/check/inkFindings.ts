import { colourOfPart, scenesOfPage, type Finding } from '@jumble/core';
import { inkSum, loadInks } from '../../page/inkSums.ts';
import type { BenchState } from '../../state/benchState.ts';

/** Parts of the page that take more ink in print than the job allows, one finding each and scene. */
export async function inkFindings(state: BenchState): Promise<Finding[]> {
  const { cast, survey, resolved, document, page } = state;
  if (cast === null || survey === null || resolved === null || document === null || page === null) return [];
  const most = cast.checks.inkLimitPercent;
  if (most === null || cast.palette === 'scratch') return [];
  const inks = await loadInks(page.jobId, cast, Date.now());
  const { scenes, ofRegion } = scenesOfPage(survey, document);
  const { regions, width } = survey;
  const found = new Map<string, Finding>();
  resolved.partOfRegion.forEach((partId, region) => {
    const part = cast.parts.find(({ id }) => id === partId);
    if (part === undefined || part.empty) return;
    const scene = scenes[ofRegion[region]!] ?? null;
    const sum = inkSum(inks, colourOfPart(cast, part.id, scene));
    if (sum === null || sum <= most) return;
    const key = `${part.id} ${scene}`;
    const [x0, y0, x1, y1] = regions.box.subarray(region * 4, region * 4 + 4) as unknown as [number, number, number, number]; // prettier-ignore
    const known = found.get(key);
    const anchor = regions.anchor[region]!;
    const left = Math.min(x0, known?.x ?? x0);
    const top = Math.min(y0, known?.y ?? y0);
    found.set(key, {
      kind: 'ink-limit',
      x: left,
      y: top,
      width: Math.max(x1, known === undefined ? x1 : known.x + known.width) - left,
      height: Math.max(y1, known === undefined ? y1 : known.y + known.height) - top,
      areaPx: regions.areaPx[region]! + (known?.areaPx ?? 0),
      at: known?.at ?? [anchor % width, Math.floor(anchor / width)],
      message: `${part.name} takes ${sum} % ink in print; at most ${most} % are asked for`,
      rgb: -1,
      expectedRgb: -1,
    });
  });
  return [...found.values()];
}
