import { trimBoxes, type DeliveryArea, type OutputGrid, type TrimSize } from '@jumble/core';
import type { JobEntity, PageEntity } from '../database/entities.ts';
import { DomainError } from '../errors/DomainError.ts';

/** What the file of a page states, whatever size it is worked on at. */
export function fileDpi({ dpi, fullGreyHash }: Pick<PageEntity, 'dpi' | 'fullGreyHash'>): number | null {
  return dpi === null || fullGreyHash === null ? dpi : 2 * dpi;
}

/** The box of a page's file that goes out, in px. @throws DomainError 400 where nobody said how it is cut. */
export function deliveredBox(
  area: DeliveryArea,
  { trim }: Pick<JobEntity, 'trim'>,
  page: PageEntity,
): OutputGrid['box'] | null {
  if (area === 'file') return null;
  const [width, height] = [page.fullWidth ?? page.width, page.fullHeight ?? page.height];
  const boxes = trimBoxes(trim === null ? null : (JSON.parse(trim) as TrimSize), { width, height, dpi: fileDpi(page) });
  if (boxes === null)
    throw new DomainError(
      400,
      'trim-unknown',
      trim === null
        ? 'This rule delivers what is left after the cut, or up to the bleed, and nobody said where this job is cut. Set it under Trim and bleed, or deliver the whole file.'
        : `This rule delivers what is left after the cut, or up to the bleed, and "${page.name}" states no resolution. Set it in the page's menu, or deliver the whole file.`,
    );
  return area === 'trim' ? boxes.cut : boxes.bleed;
}
