import type { PageView, StepView, TrimDto } from '@jumble/contracts';
import {
  DEFAULT_SPREAD,
  PAPER_WORD,
  type CastSheet,
  type Change,
  type ExampleProposal,
  type KeyMatch,
  type KeyRaster,
  type KeyReadingSoFar,
  type KeySplit,
  type LeakTrace,
  type LineArtFacts,
  type MeasuringStep,
  type PageDocument,
  type ResolvedFills,
  type Skew,
  type SpreadOptions,
  type Viewport,
} from '@jumble/core';
import type { ShownSurvey, ViewOptions } from '../engine/messages.ts';
import type { LineDecision } from './lineDecisions.ts';
import type { Clash, SyncState } from './SyncQueue.ts';

/** The stages there are. */
export type StageName = 'lineart' | 'gaps' | 'flats' | 'handoff';

/** What of the page is shown: all, flats alone, ink alone, the chosen part alone, or what is missing, loud. */
export const SHOW_MODES = ['all', 'flats', 'ink', 'part', 'missing'] as const;
export type ShowMode = (typeof SHOW_MODES)[number];

/** What bare paper looks like: pale colours show on a neutral ground. RGBA words. */
export const PAPER_TONES = { white: PAPER_WORD, pale: 0xffd6d6d6, mid: 0xff9a9a9a, dark: 0xff4a4a4a } as const;
export type PaperTone = keyof typeof PAPER_TONES;

/** The ways to fill. */
export type FillWay = 'sweep' | 'surround' | 'marks' | 'key' | 'pen';
export const FILL_WAYS: readonly FillWay[] = ['sweep', 'surround', 'marks', 'key', 'pen'];

/** What the pen does: paint inside one region, paint any pixel, or cut and join regions. */
export type PenNib = 'inside' | 'pixel' | 'cut';

/** A colour key that lies over the page. */
export interface KeyOnPage {
  readonly name: string;
  /** Id of the picture it is kept as; null until it is. */
  readonly picture: string | null;
  readonly raster: KeyRaster;
  /** Null while it is laid for the first time. */
  readonly match: KeyMatch | null;
  /** Null while nothing of it is known; it can be taken once it is whole. */
  readonly reading: KeyReadingSoFar | null;
  /** How much of it is read, 0..1. */
  readonly share: number;
  /** It was asked for before all of it was known. */
  readonly takeOnceWhole: boolean;
  /** Regions that the key shows in several colours. */
  readonly splits: readonly KeySplit[];
  /** Proposals from this confidence on are taken without a look. */
  readonly sureFrom: number;
}

/** Proposals by what is done on other pages or in other panels. */
export interface ExamplesShown {
  readonly from: 'pages' | 'panels';
  /** How many pages they come from. */
  readonly pages: number;
  /** Null while they are made. */
  readonly proposals: readonly ExampleProposal[] | null;
}

/** How the flatter fills. */
/** What a loop takes: the shapes it encloses as they are, or all inside the outer contour, open or not. */
export type LoopTakes = 'shapes' | 'silhouette';

export interface FlatsState {
  readonly way: FillWay;
  readonly loopTakes: LoopTakes;
  /** A loop takes regions with so much of their paper inside it. */
  readonly share: number;
  /** Openings of an outer contour hold from this confidence on. 0..1 */
  readonly contourHold: number;
  /** A loop leaves regions alone that have a part. */
  readonly onlyOpen: boolean;
  readonly spread: SpreadOptions;
  readonly marksShown: boolean;
  readonly spreading: boolean;
  /** Marks were changed since they were spread last. */
  readonly unspread: boolean;
  readonly key: KeyOnPage | null;
  /** What is proposed by what is done already; null while nothing is. */
  readonly examples: ExamplesShown | null;
  readonly pen: { readonly nib: PenNib; readonly sizePx: number };
}

/** What the bench shows. Components select from it; they do not compute. */
export interface BenchState {
  /** `again` while a page that is shown is read anew. */
  readonly phase: 'reading' | 'ready' | 'again' | 'failed';
  /** What is done while the page is read, or why it failed. */
  readonly phaseText: string;
  readonly phaseShare: number;
  readonly page: PageView | null;
  readonly survey: ShownSurvey | null;
  readonly document: PageDocument | null;
  readonly cast: CastSheet | null;
  readonly resolved: ResolvedFills | null;
  /** Regions without a part, the largest first. */
  readonly openRegions: readonly number[];
  /** Regions whose part was not sure when it was given, the largest first. */
  readonly lookRegions: readonly number[];
  /** Regions that are probably something else than the part around them, once they were looked for. */
  readonly islands: readonly number[];
  /** How many regions on this page each part has. */
  readonly regionsOfPart: ReadonlyMap<string, number>;
  /** Closures to be ruled on, those with most at stake first. */
  readonly openGaps: readonly string[];
  /** Closure the worklist stands at. */
  readonly gapKey: string | null;
  readonly leak: LeakTrace | null;
  /** The line art is being measured; null while it is not. */
  readonly measuring: MeasuringStep | null;
  /** What is measured about the line art; null until it is. */
  readonly facts: LineArtFacts | null;
  /** How the page lies; null where nothing on it is straight, or it is not measured yet. */
  readonly skew: Skew | null;
  /** What a revision changed; null where there was none. */
  readonly changes: readonly Change[] | null;
  /** Open decisions about the line art, in the order of the work. */
  readonly lineDecisions: readonly LineDecision[];
  /** Decision the worklist stands at. */
  readonly lineKey: string | null;
  /** Panel that is being corrected. */
  readonly panelPicked: number | null;
  /** Specks up to this size are shown as going. */
  readonly speckPreviewPx2: number | null;
  /** The panel that worklists keep to; null for the whole page. */
  readonly panelShown: number | null;
  /** Panel of each region, -1 for none; null until panels are known. */
  readonly panelOfRegion: Int32Array | null;
  readonly trim: TrimDto | null;
  /** What the next click or drag on the page says. */
  readonly pointing: 'paper' | 'ink' | 'panel' | null;
  /** Whether the file is shown beside the result. */
  readonly comparing: boolean;
  readonly stage: StageName;
  readonly flats: FlatsState;
  readonly show: ShowMode;
  readonly partId: string | null;
  readonly hovered: number | null;
  /** Part painted on the pixel under the pointer. */
  readonly painted: string | null;
  /** Page point under the pointer. */
  readonly pointer: readonly [number, number] | null;
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
  lookRegions: [],
  islands: [],
  regionsOfPart: new Map(),
  openGaps: [],
  gapKey: null,
  leak: null,
  measuring: null,
  facts: null,
  skew: null,
  changes: null,
  lineDecisions: [],
  lineKey: null,
  panelPicked: null,
  speckPreviewPx2: null,
  panelShown: null,
  panelOfRegion: null,
  trim: null,
  pointing: null,
  comparing: false,
  stage: 'flats',
  show: 'all',
  flats: {
    way: 'sweep',
    loopTakes: 'shapes',
    share: 0.9,
    contourHold: 0.1,
    onlyOpen: false,
    spread: DEFAULT_SPREAD,
    marksShown: true,
    spreading: false,
    unspread: false,
    key: null,
    examples: null,
    pen: { nib: 'inside', sizePx: 24 },
  },
  partId: null,
  hovered: null,
  painted: null,
  pointer: null,
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

/** The regions that the Flats worklist shows, those without a part first: of the panel it keeps to, or all. */
export function regionsInPanel(
  state: Pick<BenchState, 'openRegions' | 'lookRegions' | 'islands' | 'panelShown' | 'panelOfRegion'>,
): readonly number[] {
  const { openRegions, lookRegions, islands, panelShown, panelOfRegion } = state;
  const all = [...new Set([...openRegions, ...lookRegions, ...islands])];
  if (panelShown === null || panelOfRegion === null) return all;
  return all.filter((region) => panelOfRegion[region] === panelShown);
}

/** A stamp later than that of every fill. */
export function stampAfter({ fills }: PageDocument): number {
  let stamp = 0;
  for (const fill of fills.values()) stamp = Math.max(stamp, fill.stamp + 1);
  return stamp;
}
