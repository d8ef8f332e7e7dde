import type { TrapFault, TrapRule } from '@jumble/core';

/** What the Trap stage keeps in the bench's state. */
export interface TrapState {
  /** Places where a fixed depth does not do what it says, the worst first; null until they were looked for. */
  readonly faults: readonly TrapFault[] | null;
  /** They are being looked for anew. */
  readonly faultsLookedFor: boolean;
  /** The place the worklist stands at, by its key. */
  readonly faultKey: string | null;
  /** The outline that is being drawn. */
  readonly areaDraft: readonly (readonly [number, number])[] | null;
  /** The area that is chosen, by its id. */
  readonly areaId: string | null;
  /** The rule that an area gets when it is drawn. */
  readonly areaRule: TrapRule;
  /** Whether the map of depths lies over the page. */
  readonly mapShown: boolean;
  /** The rule that the loupe shows beside the page's. */
  readonly comparedRule: TrapRule;
  /** Width of the widest line, in px; null until it is measured. */
  readonly widestPx: number | null;
}

export const TRAP_INITIAL: TrapState = {
  faults: null,
  faultsLookedFor: false,
  faultKey: null,
  areaDraft: null,
  areaId: null,
  areaRule: { rule: 'middle' },
  mapShown: true,
  comparedRule: { rule: 'middle' },
  widestPx: null,
};
