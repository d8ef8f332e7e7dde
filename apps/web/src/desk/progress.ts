import type { PageView } from '@jumble/contracts';
import { countText, counted } from '../measures.ts';

/** How far pages are, counted in regions. */
export function progressOf(pages: readonly PageView[]): { filled: number; total: number; share: number } {
  const filled = pages.reduce((sum, page) => sum + page.filledCount, 0);
  const total = pages.reduce((sum, page) => sum + page.regionCount, 0);
  return { filled, total, share: total === 0 ? 0 : filled / total };
}

/** "212 of 530 regions filled", "all 530 regions filled", "530 regions, none filled". */
export function progressText(filled: number, total: number): string {
  if (total === 0) return 'no regions';
  const all = counted(total, 'region');
  if (filled === 0) return `${all}, none filled`;
  return filled >= total ? `all ${all} filled` : `${countText(filled)} of ${all} filled`;
}

/** What a page measures in print: "174 x 265 mm at 300 dpi". */
export function printSize(page: Pick<PageView, 'width' | 'height' | 'dpi'>): string {
  if (page.dpi === null) return `${page.width} x ${page.height} px, resolution not stated`;
  const mm = (px: number): number => Math.round((px / page.dpi!) * 25.4);
  return `${mm(page.width)} x ${mm(page.height)} mm at ${Math.round(page.dpi)} dpi`;
}
