import type { PageView, StepView, TrimDto } from '@jumble/contracts';
import {
  NO_TRAP_INK,
  PAPER_WORD,
  type CastSheet,
  type PageDocument,
  type RegionTrap,
  type ResolvedFills,
  type TrapInk,
  type Viewport,
} from '@jumble/core';
import type { ShownSurvey, ViewOptions } from '../engine/messages.ts';
import { CHECK_INITIAL, type CheckState } from '../stages/check/checkState.ts';
import { FLATS_INITIAL, type FlatsStageState } from '../stages/flats/flatsState.ts';
import { GAPS_INITIAL, type GapsState } from '../stages/gaps/gapsState.ts';
import { LINE_ART_INITIAL, type LineArtState } from '../stages/lineart/lineArtState.ts';
import { HOLDS_INITIAL, type HoldsState } from '../stages/holds/holdsState.ts';
import { TRAP_INITIAL, type TrapState } from '../stages/trap/trapState.ts';
import type { Clash, SyncState } from './SyncQueue.ts';

/** The stages of the work, in its order. */
export const STAGE_NAMES = ['lineart', 'gaps', 'flats', 'trap', 'holds', 'check', 'handoff'] as const;
export type StageName = (typeof STAGE_NAMES)[number];

/** What of the page is shown: all, flats alone, ink alone, the chosen part alone, or what is missing, loud. */
export const SHOW_MODES = ['all', 'flats', 'ink', 'part', 'missing'] as const;
export type ShowMode = (typeof SHOW_MODES)[number];

/** What bare paper looks like: pale colours show on a neutral ground. RGBA words. */
export const PAPER_TONES = { white: PAPER_WORD, pale: 0xffd6d6d6, mid: 0xff9a9a9a, dark: 0xff4a4a4a } as const;
export type PaperTone = keyof typeof PAPER_TONES;

/** What every stage shares: the page, its regions, who has them, where it is looked at. */
export interface PageState {
  /** `again` while a page that is shown is read anew. */
  readonly phase: 'reading' | 'ready' | 'again' | 'failed';
  /** What is done while the page is read, or why it failed. */
  readonly phaseText: string;
  readonly phaseShare: number;
  readonly page: PageView | null;
  readonly document: PageDocument | null;
  readonly cast: CastSheet | null;
  /** What the page was read from, as text. */
  readonly readBy: string;
  /** The regions on show. */
  readonly survey: ShownSurvey | null;
  /** What the regions are divided by, as text: by decisions, not by a preview. */
  readonly dividedBy: string;
  /** The regions as they were decided, while a preview shows others. */
  readonly decidedSurvey: ShownSurvey | null;
  /** The largest gap that is asked to be looked at while its control moves; null while none is. */
  readonly previewedGapPx: number | null;
  readonly resolved: ResolvedFills | null;
  /** Which rule of trap every region has. */
  readonly trap: RegionTrap | null;
  /** What trap needs to know of the ink. */
  readonly trapInk: TrapInk;
  /** Regions without a part, the largest first. */
  readonly openRegions: readonly number[];
  /** Regions whose part was not sure when it was given, the largest first. */
  readonly lookRegions: readonly number[];
  /** How many regions on this page each part has. */
  readonly regionsOfPart: ReadonlyMap<string, number>;
  /** The panel that worklists keep to; null for the whole page. */
  readonly panelShown: number | null;
  /** Panel of each region, -1 for none; null until panels are known. */
  readonly panelOfRegion: Int32Array | null;
  readonly trim: TrimDto | null;
  readonly jobName: string;
  readonly stage: StageName;
  readonly show: ShowMode;
  readonly partId: string | null;
  readonly hovered: number | null;
  /** Part painted on the pixel under the pointer. */
  readonly painted: string | null;
  /** Page point under the pointer. */
  readonly pointer: readonly [number, number] | null;
  /** While a gesture runs, regions show what it does to them, not what a click would do. */
  readonly gesturing: boolean;
  /** Region the worklist stands at. */
  readonly current: number | null;
  readonly view: Viewport | null;
  readonly options: ViewOptions;
  /** The loupe's place on the screen while its key is held. */
  readonly loupe: readonly [number, number] | null;
  readonly history: readonly Omit<StepView, 'edits'>[];
  readonly sync: { readonly state: SyncState; readonly waiting: number };
  readonly clash: Clash | null;
  /** Least CIEDE2000 between parts that touch here, when scratch colours were made on this page. */
  readonly scratchDistance: number | null;
  readonly secondsHere: number;
}

/** What the bench shows, by stage and in common. Components select from it; they do not compute. */
export interface BenchState
  extends PageState, LineArtState, GapsState, FlatsStageState, TrapState, HoldsState, CheckState {}

export const INITIAL: BenchState = {
  ...LINE_ART_INITIAL,
  ...GAPS_INITIAL,
  ...FLATS_INITIAL,
  ...TRAP_INITIAL,
  ...HOLDS_INITIAL,
  ...CHECK_INITIAL,
  phase: 'reading',
  phaseText: 'The page is opened',
  phaseShare: 0,
  page: null,
  document: null,
  cast: null,
  readBy: '',
  survey: null,
  dividedBy: '',
  decidedSurvey: null,
  previewedGapPx: null,
  resolved: null,
  trap: null,
  trapInk: NO_TRAP_INK,
  openRegions: [],
  lookRegions: [],
  regionsOfPart: new Map(),
  panelShown: null,
  panelOfRegion: null,
  trim: null,
  jobName: '',
  stage: 'flats',
  show: 'all',
  partId: null,
  hovered: null,
  painted: null,
  pointer: null,
  gesturing: false,
  current: null,
  view: null,
  options: { markMissing: true, showInk: true, showFlats: true, paper: PAPER_TONES.white },
  loupe: null,
  history: [],
  sync: { state: 'saved', waiting: 0 },
  clash: null,
  scratchDistance: null,
  secondsHere: 0,
};
