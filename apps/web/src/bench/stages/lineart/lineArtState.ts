import type { Change, LineArtFacts, MeasuringStep, Skew } from '@jumble/core';
import type { LineDecision } from './lineDecisions.ts';

/** What the Line art stage keeps in the bench's state. */
export interface LineArtState {
  /** The line art is being measured; null while it is not. */
  readonly measuring: MeasuringStep | null;
  /** What is measured about the line art; null until it is. */
  readonly facts: LineArtFacts | null;
  /** How the page lies; null where nothing on it is straight, or it is not measured yet. */
  readonly skew: Skew | null;
  /** What a revision changed; null where there was none. */
  readonly changes: readonly Change[] | null;
  /** The latest measurement, begun or done, and the panels of the document it belongs to, as text. */
  readonly measurement: { readonly panels: string } | null;
  /** Hash of the revised file whose changes are being settled. */
  readonly settlingRevision: string | null;
  /** Open decisions about the line art, in the order of the work. */
  readonly lineDecisions: readonly LineDecision[];
  /** Decision the worklist stands at. */
  readonly lineKey: string | null;
  /** Panel that is being corrected. */
  readonly panelPicked: number | null;
  /** The panel that is being drawn: its box. */
  readonly panelDraft: readonly [number, number, number, number] | null;
  /** A corner of the picked panel, where it is dragged to. */
  readonly cornerDraft: { readonly corner: number; readonly to: readonly [number, number] } | null;
  /** Specks up to this size are shown as going. */
  readonly speckPreviewPx2: number | null;
  /** What the next click or drag on the page says. */
  readonly pointing: 'paper' | 'ink' | 'panel' | null;
  /** Whether the file is shown beside the result. */
  readonly comparing: boolean;
}

export const LINE_ART_INITIAL: LineArtState = {
  measuring: null,
  facts: null,
  skew: null,
  changes: null,
  measurement: null,
  settlingRevision: null,
  lineDecisions: [],
  lineKey: null,
  panelPicked: null,
  panelDraft: null,
  cornerDraft: null,
  speckPreviewPx2: null,
  pointing: null,
  comparing: false,
};
