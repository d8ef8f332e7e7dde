import { checkStage } from './check/checkStage.ts';
import { flatsStage } from './flats/flatsStage.ts';
import { gapsStage } from './gaps/gapsStage.ts';
import { handoffStage } from './handoff/handoffStage.ts';
import { lineArtStage } from './lineart/lineArtStage.ts';
import { holdsStage } from './holds/holdsStage.ts';
import { trapStage } from './trap/trapStage.ts';
import type { Stage } from './Stage.ts';

/** The stages, in the order of the work. Each is a folder beside this file: its state, commands, tool, panels and keys. */
export const STAGES: readonly Stage[] = [
  lineArtStage,
  gapsStage,
  flatsStage,
  trapStage,
  holdsStage,
  checkStage,
  handoffStage,
];
