import {
  DEFAULT_SPREAD,
  type CellGroups,
  type ExampleProposal,
  type GuideMatch,
  type GuideRaster,
  type GuideReadingSoFar,
  type GuideSplit,
  type SpreadOptions,
} from '@jumble/core';
import type { ShownSurvey } from '../../engine/messages.ts';

/** The ways to fill. */
export type FillWay = 'sweep' | 'surround' | 'marks' | 'key' | 'pen';
export const FILL_WAYS: readonly FillWay[] = ['sweep', 'surround', 'marks', 'key', 'pen'];

/** What the pen does: paint inside one region, paint any pixel, or cut and join regions. */
export type PenNib = 'inside' | 'pixel' | 'cut';

/** A colour key that lies over the page. */
export interface GuideOnPage {
  readonly name: string;
  /** Id of the picture it is kept as; null until it is. */
  readonly picture: string | null;
  readonly raster: GuideRaster;
  /** Null while it is laid for the first time. */
  readonly match: GuideMatch | null;
  /** Null while nothing of it is known; it can be taken once it is whole. */
  readonly reading: GuideReadingSoFar | null;
  /** How much of it is read, 0..1. */
  readonly share: number;
  /** It was asked for before all of it was known. */
  readonly takeOnceWhole: boolean;
  /** Regions that the key shows in several colours. */
  readonly splits: readonly GuideSplit[];
  /** Proposals from this confidence on are taken without a look. */
  readonly sureFrom: number;
}

/** What of a colour key is under way. */
export interface GuideWork {
  /** The key as it was laid last; an older one that is read yet counts no more. */
  readonly laying: GuideOnPage | null;
  /** The kept picture that is being fetched. */
  readonly fetching: string | null;
  /** A key that comes is laid and kept before it is taken. */
  readonly loading: boolean;
}

/** Proposals by what is done on other pages or in other panels. */
export interface ExamplesShown {
  readonly from: 'pages' | 'panels';
  /** How many pages they come from. */
  readonly pages: number;
  /** Null while they are made. */
  readonly proposals: readonly ExampleProposal[] | null;
}

/** What a loop takes: the shapes it encloses as they are, or all inside the outer contour, open or not. */
export type LoopTakes = 'shapes' | 'silhouette';

/** What stands inside outer contours, for the silhouettes of one division. */
export interface Contours {
  readonly survey: ShownSurvey;
  readonly holdFrom: number;
  readonly groups: CellGroups;
}

/** The loop that is being drawn round a silhouette. */
export interface SilhouetteDraft {
  readonly loop: readonly (readonly [number, number])[];
  readonly partId: string;
}

/** How the flatter fills. */
export interface FlatsState {
  readonly way: FillWay;
  readonly loopTakes: LoopTakes;
  /** A loop takes regions with so much of their paper inside it. */
  readonly share: number;
  /** Openings of an outer contour hold from this confidence on. 0..1 */
  readonly contourHold: number;
  readonly contours: Contours | null;
  readonly findingContours: boolean;
  readonly silhouetteDraft: SilhouetteDraft | null;
  /** A loop leaves regions alone that have a part. */
  readonly onlyOpen: boolean;
  readonly spread: SpreadOptions;
  readonly marksShown: boolean;
  readonly spreading: boolean;
  /** What marks come to is being worked out; `again` when it is asked for once more. */
  readonly spreadPreview: 'none' | 'running' | 'again';
  /** Marks were changed since they were spread last. */
  readonly unspread: boolean;
  readonly guide: GuideOnPage | null;
  readonly guideWork: GuideWork;
  /** What is proposed by what is done already; null while nothing is. */
  readonly examples: ExamplesShown | null;
  readonly pen: { readonly nib: PenNib; readonly sizePx: number };
}

/** What the Flats stage keeps in the bench's state. */
export interface FlatsStageState {
  readonly flats: FlatsState;
  /** Regions that are probably something else than the part around them, once they were looked for. */
  readonly islands: readonly number[];
}

export const FLATS_INITIAL: FlatsStageState = {
  flats: {
    way: 'sweep',
    loopTakes: 'shapes',
    share: 0.9,
    contourHold: 0.1,
    contours: null,
    findingContours: false,
    silhouetteDraft: null,
    onlyOpen: false,
    spread: DEFAULT_SPREAD,
    marksShown: true,
    spreading: false,
    spreadPreview: 'none',
    unspread: false,
    guide: null,
    guideWork: { laying: null, fetching: null, loading: false },
    examples: null,
    pen: { nib: 'inside', sizePx: 24 },
  },
  islands: [],
};
