import type { CorrectionTile } from './CorrectionTile.ts';
import type { Ruling } from './Ruling.ts';
import type { DetailRule, InkPoints } from './inkMeasures.ts';
import type { Certificate, Waiver } from './Finding.ts';
import type { HoldRule, LineEdits, LineStroke } from './Holds.ts';
import type { TrapArea, TrapRule } from './Trap.ts';

/** How the line art is read. */
export interface Prep {
  readonly inkPoints: 'auto' | InkPoints;
  /** Paper pieces below this area in px² are crumbs; 'auto' is the square of the line width, 0 keeps all. */
  readonly crumbLimitPx2: 'auto' | number;
  /** Largest gap to close, in px; 0 closes none. */
  readonly maxGapPx: 'auto' | number;
  /** Slope that is turned level, in px per million px; 0 leaves the page as it lies, null: nobody said yet, the same. */
  readonly slopePpm: number | null;
  /** Whether uneven paper is evened out. */
  readonly flatten: 'auto' | boolean;
  /** Pieces of ink up to this size in px² are wiped out; 0 keeps all, null: nobody said yet, the same. */
  readonly speckLimitPx2: number | null;
  /** Strokes that do not bound regions. */
  readonly detail: DetailRule;
}

/** A panel as the flatter has it. */
export interface PagePanel {
  readonly points: readonly (readonly [number, number])[];
  /** Scene of this panel; null is the page's. */
  readonly scene: string | null;
  /** Trap in this panel; absent: as on the page. */
  readonly trap?: TrapRule;
}

/** An ink file of a page, as the flatter has it. */
export interface InkFile {
  readonly name: string;
  readonly order: number;
  /** Whether regions end at its lines. */
  readonly bounds: boolean;
}

/** What lies at a point that looks like a balloon: left empty, or part of the drawing. */
export type BalloonRuling = 'empty' | 'drawing';

export const FILL_LOOKS = ['across', 'around', 'shared', 'key', 'done'] as const;

export type FillLook = (typeof FILL_LOOKS)[number];

/** A part given to the regions that hold its anchors. */
export interface Fill {
  readonly part: string;
  /** Points inside paper, `[x, y]` in px. The first one is the fill's key. */
  readonly anchors: readonly (readonly [number, number])[];
  /** Where two fills meet in one region, the later one shows. */
  readonly stamp: number;
  /** Spread from marks, and made anew with them, or read off a colour key. Absent on fills given by hand. */
  readonly by?: 'mark' | 'key';
  /**
   * Why somebody should look at it: it took the part across its longest opening or the one around it, two
   * marks shared it, the key was not plain there, or it was proposed by regions done before. Absent where nobody needs to.
   */
  readonly look?: FillLook;
}

/** A loose stroke that says which part lies where it runs. */
export interface Mark {
  readonly part: string;
  /** `[x, y]` in px, at least one. */
  readonly points: readonly (readonly [number, number])[];
}

/** The colourist's key that lies on a page: a reference picture of the job. */
export interface PageGuide {
  readonly picture: string;
  readonly name: string;
}

/** The decisions about one page. Every raster is computed from it and the line art. */
export interface PageDocument {
  readonly prep: Prep;
  /** Null is the job's. */
  readonly trap: TrapRule | null;
  /** Areas with a rule of their own, by id. */
  readonly areas: ReadonlyMap<string, TrapArea>;
  /** Rules that colour lines, by id. */
  readonly holds: ReadonlyMap<string, HoldRule>;
  readonly lineEdits: LineEdits;
  /** What was painted on lines, by id. */
  readonly lineStrokes: ReadonlyMap<string, LineStroke>;
  /** Findings that may stay, by their key. */
  readonly waivers: ReadonlyMap<string, Waiver>;
  /** That the page had no open finding; null for never. */
  readonly certificate: Certificate | null;
  /** What is said to who gets the flats. */
  readonly notes: string;
  /** Scene of the page; null is the job's first. */
  readonly scene: string | null;
  /** By key `x,y`. */
  readonly fills: ReadonlyMap<string, Fill>;
  /** Rulings on closures, by their key `x,y-x,y`. */
  readonly rulings: ReadonlyMap<string, Ruling>;
  /** Closures and cuts drawn by hand, as keys `x,y-x,y`. */
  readonly drawn: readonly string[];
  /** Panels in reading order, when someone corrected them; null as they are found. */
  readonly panels: readonly PagePanel[] | null;
  /** By id of the file; the page's own is `main`. */
  readonly inks: ReadonlyMap<string, InkFile>;
  /** Whether a solid black is a region of its own, by its point `x,y`. */
  readonly solids: ReadonlyMap<string, boolean>;
  /** By id. */
  readonly marks: ReadonlyMap<string, Mark>;
  /** Null for none. */
  readonly guide: PageGuide | null;
  /** What was painted with a pen, by square `tx,ty`. */
  readonly tiles: ReadonlyMap<string, CorrectionTile>;
  /** By point `x,y`. */
  readonly balloons: ReadonlyMap<string, BalloonRuling>;
  /** What was looked at and needs no second look. */
  readonly seen: ReadonlySet<string>;
}

export const DEFAULT_PREP: Prep = {
  inkPoints: 'auto',
  crumbLimitPx2: 'auto',
  maxGapPx: 'auto',
  slopePpm: null,
  flatten: 'auto',
  speckLimitPx2: null,
  detail: { thinnerThanPx: 0, shorterThanPx: 0 },
};

/** Id of the page's own ink file. */
export const MAIN_INK = 'main';

/** Regions as the ink closes them, nothing else. */
export const NO_GAPS_PREP: Prep = { ...DEFAULT_PREP, maxGapPx: 0 };
