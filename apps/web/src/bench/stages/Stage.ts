import type { ComponentType } from 'react';
import type { Bench } from '../state/Bench.ts';
import type { BenchState } from '../state/benchState.ts';
import type { StageHooks } from '../state/StageHooks.ts';
import type { Shortcut } from '../tools/Shortcut.ts';
import type { PageTool } from '../tools/PageTool.ts';

/** A panel beside the page. */
export interface StagePanel {
  readonly name: string;
  readonly Content: ComponentType;
}

/** How far a stage is. */
export interface StageProgress {
  /** How much of it is done, 0..1. */
  readonly share: number;
  readonly words: string;
}

/** A stage of the work: what it does, shows and says. */
export interface Stage extends StageHooks {
  readonly label: string;
  readonly progress: (state: BenchState) => StageProgress;
  readonly left: StagePanel;
  readonly right: StagePanel;
  /** What the pointer does on the page. @param say tells the flatter what came of it. */
  readonly tool: (bench: Bench, say: (words: string) => void) => PageTool;
  readonly keys: readonly Shortcut[];
  /** Handles a key press. @returns whether it meant something here. */
  readonly press: (event: KeyboardEvent, bench: Bench) => boolean;
}

export const isReady = ({ phase }: BenchState): boolean => phase === 'ready' || phase === 'again';
