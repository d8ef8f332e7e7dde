import { useBenchState } from '../../state/benchContext.ts';

/** What every field of a rule needs to know of the page. */
export function useLineFacts(): { lineWidthPx: number; widestPx: number | null; dpi: number | null } {
  const lineWidthPx = useBenchState((state) => state.survey?.lineWidthPx.median ?? 0);
  const widestPx = useBenchState((state) => state.widestPx);
  const dpi = useBenchState((state) => state.page?.dpi ?? null);
  return { lineWidthPx, widestPx, dpi };
}
