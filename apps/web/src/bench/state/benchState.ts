import type { PageView, StepView } from '@jumble/contracts';
import type { CastSheet, LeakTrace, PageDocument, ResolvedFills, Survey, Viewport } from '@jumble/core';
import type { ViewOptions } from '../engine/messages.ts';
import type { Clash } from './SyncQueue.ts';

/** The stages there are. */
export type StageName = 'gaps' | 'flats' | 'handoff';

/** What the bench shows. Components select from it; they do not compute. */
export interface BenchState {
  readonly phase: 'reading' | 'ready' | 'failed';
  /** What is done while the page is read, or why it failed. */
  readonly phaseText: string;
  readonly phaseShare: number;
  readonly page: PageView | null;
  readonly survey: Survey | null;
  readonly document: PageDocument | null;
  readonly cast: CastSheet | null;
  readonly resolved: ResolvedFills | null;
  /** Regions without a part, the largest first. */
  readonly openRegions: readonly number[];
  /** How many regions on this page each part has. */
  readonly regionsOfPart: ReadonlyMap<string, number>;
  /** Closures to be ruled on, those with most at stake first. */
  readonly openGaps: readonly string[];
  /** Closure the worklist stands at. */
  readonly gapKey: string | null;
  readonly leak: LeakTrace | null;
  readonly stage: StageName;
  readonly partId: string | null;
  readonly hovered: number | null;
  /** Page point under the pointer. */
  readonly pointer: readonly [number, number] | null;
  /** Region the worklist stands at. */
  readonly current: number | null;
  readonly view: Viewport | null;
  readonly options: ViewOptions;
  /** The loupe's place on the screen while its key is held. */
  readonly loupe: readonly [number, number] | null;
  readonly history: readonly Omit<StepView, 'edits'>[];
  readonly sync: { readonly state: 'saved' | 'saving' | 'offline'; readonly waiting: number };
  readonly clash: Clash | null;
  /** Least CIEDE2000 between parts that touch here, when scratch colours were made on this page. */
  readonly scratchDistance: number | null;
  readonly secondsHere: number;
}

export const INITIAL: BenchState = {
  phase: 'reading',
  phaseText: 'The page is opened',
  phaseShare: 0,
  page: null,
  survey: null,
  document: null,
  cast: null,
  resolved: null,
  openRegions: [],
  regionsOfPart: new Map(),
  openGaps: [],
  gapKey: null,
  leak: null,
  stage: 'flats',
  partId: null,
  hovered: null,
  pointer: null,
  current: null,
  view: null,
  options: { markMissing: true, showInk: true, showFlats: true },
  loupe: null,
  history: [],
  sync: { state: 'saved', waiting: 0 },
  clash: null,
  scratchDistance: null,
  secondsHere: 0,
};
