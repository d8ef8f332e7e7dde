import type { HoldColour, LineSelect } from '@jumble/core';
import type { ShownHolds } from '../../engine/messages.ts';

/** A rule that is being made or changed: it shows, but nothing is applied before it is taken. */
export interface HoldDraft {
  /** The rule that is changed; null for a new one. */
  readonly id: string | null;
  readonly lines: LineSelect;
  readonly colour: HoldColour;
  /** Other colours in other scenes, by the scene's id. */
  readonly inScene: Readonly<Record<string, HoldColour>>;
  /** The scene whose colour the editor stands at; null for that of all others. */
  readonly scene: string | null;
}

/** The hard brush that touches lines up. */
export interface HoldBrush {
  /** Whether a drag paints; else it chooses. */
  readonly on: boolean;
  readonly colour: string;
  readonly sizePx: number;
}

/** What the Holds stage keeps in the bench's state. */
export interface HoldsState {
  /** The lines and their colours; null until they were divided. */
  readonly holds: ShownHolds | null;
  readonly holdsLookedFor: boolean;
  readonly holdDraft: HoldDraft | null;
  readonly holdBrush: HoldBrush;
  /** The line the worklist stands at. */
  readonly lowPiece: number | null;
  /** Lines show how far they stand apart from what is beside them, not their colours. */
  readonly contrastMap: boolean;
  /** The line under the pointer. */
  readonly hoveredLine: number | null;
}

export const HOLDS_INITIAL: HoldsState = {
  holds: null,
  holdsLookedFor: false,
  holdDraft: null,
  holdBrush: { on: false, colour: '#5a3b2e', sizePx: 8 },
  lowPiece: null,
  contrastMap: false,
  hoveredLine: null,
};
