/** What was counted in a panel. */
export interface PanelCounts {
  /** Strokes laid end to end, in line widths. */
  readonly strokeWidths: number;
  /** Loose ends that are no hatching, weighed. */
  readonly looseEnds: number;
  /** Closures that bound regions now. */
  readonly closed: number;
  /** Of these, those someone should look at. */
  readonly toRule: number;
}

export type Verdict = 'holds' | 'closing' | 'sketchy';

/** Loose ends on a thousand line widths of stroke from which on a drawing is a sketch. */
export const SKETCHY_ENDS = 20;
/** Fewer ends than this say nothing about a whole panel. */
const LEAST_ENDS = 10;

/** Loose ends on a thousand line widths of stroke. */
export function endsPerThousand({ looseEnds, strokeWidths }: PanelCounts): number {
  return strokeWidths <= 0 ? 0 : (1000 * looseEnds) / strokeWidths;
}

/** Whether a panel holds a fill as it is, needs closing, or is too sketchy for either. */
export function judgePanel(counts: PanelCounts): Verdict {
  if (counts.looseEnds >= LEAST_ENDS && endsPerThousand(counts) >= SKETCHY_ENDS) return 'sketchy';
  return counts.closed === 0 ? 'holds' : 'closing';
}
