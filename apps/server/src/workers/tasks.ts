import type { ReturnedReport } from '@jumble/contracts';
import type {
  CastSheet,
  CheckRules,
  CorrectionTile,
  DeliveryRule,
  ExamplePage,
  Fill,
  Finding,
  LineEdits,
  LineStroke,
  OutputGrid,
  PageMeasures,
  PagePanel,
  PlannedGroup,
  Prep,
  RecordEdit,
  Ruling,
  HoldLimits,
  HoldRule,
  JobTrap,
  TrapArea,
  TrapRule,
} from '@jumble/core';
import type { PageFacts } from '@jumble/contracts';
import type { PageFileFault } from '@jumble/raster-io';
import type { ReadBackReport } from '@jumble/read-back';
import type { MessagePort } from 'node:worker_threads';

/** Decode a page file; the grey raster is written compressed to `greyTarget`. */
export interface DecodeTask {
  readonly kind: 'decode';
  readonly path: string;
  readonly greyTarget: string;
}

/** A file that is no page is an answer, not a crash: error classes do not survive the way between threads. */
export type DecodeAnswer =
  { readonly page: DecodeResult } | { readonly fault: PageFileFault; readonly message: string };

export interface DecodeResult {
  readonly width: number;
  readonly height: number;
  readonly dpi: number | null;
  readonly format: string;
  readonly mode: string;
  readonly bitsPerChannel: number;
}

/** Write a grey raster at half its size to `target`. */
export interface HalveTask {
  readonly kind: 'halve';
  readonly greyPath: string;
  readonly width: number;
  readonly height: number;
  readonly target: string;
}

/** What a worker needs to know of a page. */
export interface PageInput {
  readonly greyPath: string;
  readonly width: number;
  readonly height: number;
  readonly prep: Prep;
  /** Of the page; null is the job's. */
  readonly trap: TrapRule | null;
  readonly areas: readonly (readonly [string, TrapArea])[];
  readonly jobTrap: JobTrap;
  /** Rules that colour lines, in the order in which they count. */
  readonly holds: readonly HoldRule[];
  readonly holdLimits: HoldLimits;
  readonly lineEdits: LineEdits;
  readonly lineStrokes: readonly LineStroke[];
  readonly dpi: number | null;
  readonly fills: readonly (readonly [string, Fill])[];
  readonly tiles: readonly (readonly [string, CorrectionTile])[];
  readonly rulings: readonly (readonly [string, Ruling])[];
  readonly drawn: readonly string[];
  readonly others: readonly {
    readonly greyPath: string;
    readonly fullGreyPath: string | null;
    readonly bounds: boolean;
  }[];
  /** The file's own raster, where the page is worked on at half its size. */
  readonly full: { readonly greyPath: string; readonly width: number; readonly height: number } | null;
  readonly ownBounds: boolean;
  readonly solids: readonly (readonly [number, number])[];
  /** Cuts that were found before by the same reading, compressed. */
  readonly cutsPath: string | null;
  /** With their scenes, where someone corrected them. */
  readonly panels: readonly PagePanel[] | null;
  readonly scene: string | null;
  /** With the colours in force, topmost first. */
  readonly groups: readonly PlannedGroup[];
}

/** Count regions and fills and draw the thumbnail. */
export interface DrawTask extends PageInput {
  readonly kind: 'draw';
}

export interface DrawResult {
  readonly regionCount: number;
  readonly filledCount: number;
  readonly measures: PageMeasures;
  /** What is open in the stages: gaps that nobody ruled on, faults of the trap, coloured lines that are too faint. */
  readonly open: Pick<PageFacts, 'openGaps' | 'trapFaults' | 'faintLines'>;
  readonly thumbnail: Uint8Array;
  /** Cuts that were found now, compressed; null where they were known or belong to this largest gap alone. */
  readonly cuts: Uint8Array | null;
}

/** Build a hand-off into `target`, and read it again. */
export interface HandoffTask extends PageInput {
  readonly kind: 'handoff';
  readonly rule: DeliveryRule;
  /** ICC file colours are printed by; null is the generic one. */
  readonly profilePath: string | null;
  /** Box that goes out, in px of the file; null is all of it. */
  readonly box: OutputGrid['box'] | null;
  /** What the page's file states. */
  readonly fileDpi: number | null;
  readonly notes: string | null;
  /** What a proof says beside the page. */
  readonly proof: { readonly title: string; readonly lines: readonly string[] };
  readonly scratch: boolean;
  readonly target: string;
  /** Gets numbers 0..1. */
  readonly progress: MessagePort;
}

/** A difference is an answer, not a crash: error classes do not survive the way between threads. */
export type HandoffAnswer = { readonly readBack: ReadBackReport } | { readonly difference: string };

/** A file of a package: from the store, or a text. */
export type PackedFile =
  | { readonly name: string; readonly path: string; readonly isFolder: boolean }
  | { readonly name: string; readonly bytes: Uint8Array };

/** Pack files with their checksums into an archive, and read it again. */
export interface PackTask {
  readonly kind: 'pack';
  readonly files: readonly PackedFile[];
  readonly target: string;
}

/** How much ink colours take in print. */
export interface InksTask {
  readonly kind: 'inks';
  /** 0xRRGGBB */
  readonly rgb: readonly number[];
  readonly profilePath: string | null;
}

/** Cyan, magenta, yellow and black of each colour in percent; or why the profile is none. */
export type InksAnswer = { readonly inks: readonly (readonly number[])[] } | { readonly fault: string };

/** Compare flats that came back with the page. */
export interface ReturnedTask extends PageInput {
  readonly kind: 'returned';
  readonly path: string;
  /** By which the page went out last. */
  readonly rule: DeliveryRule;
  /** The file that went out by it; null where there is none. */
  readonly sentPath: string | null;
}

/** What became of the flats; or why the file cannot be compared. */
export type ReturnedAnswer =
  { readonly report: ReturnedReport; readonly edits: readonly RecordEdit[] } | { readonly fault: string };

/** Check flats from elsewhere by their line art. */
export interface ForeignCheckTask {
  readonly kind: 'foreignCheck';
  readonly inkPath: string;
  readonly flatsPath: string;
  /** Colours that parts have; null where nobody knows. */
  readonly palette: readonly number[] | null;
  readonly rules: Partial<CheckRules>;
  /** Gets a picture of the flats under the ink, as PNG. */
  readonly pictureTarget: string;
}

export type ForeignAnswer =
  | {
      readonly width: number;
      readonly height: number;
      readonly regionCount: number;
      readonly colours: readonly { readonly rgb: number; readonly areaPx: number }[];
      readonly findings: readonly Finding[];
    }
  | { readonly fault: string };

/** Say which parts the regions of a new page get from flats that came with it. */
export interface ForeignTakeTask extends PageInput {
  readonly kind: 'foreignTake';
  readonly flatsPath: string;
  readonly palette: readonly number[] | null;
  /** Part of each colour, 0xRRGGBB. */
  readonly parts: readonly (readonly [rgb: number, partId: string])[];
}

/** The edits of the page; or why the flats cannot be taken. */
export type ForeignTakeAnswer = { readonly edits: readonly RecordEdit[] } | { readonly fault: string };

/** Describe a page's regions with their parts, as examples for another page. */
export interface ExampleTask extends PageInput {
  readonly kind: 'example';
}

/** Lay a sheet of the tray on the simulated scanner's glass; the scan is written to `target` as PNG. */
export interface ScanTask {
  readonly kind: 'scan';
  readonly sheetPath: string;
  readonly skewDegrees: number;
  readonly target: string;
}

/** Write a cast sheet as a file for people or other programs. */
export interface CastFileTask {
  readonly kind: 'castFile';
  readonly format: 'pdf' | 'csv' | 'json' | 'tokens';
  readonly title: string;
  readonly sheet: CastSheet;
}

export interface WorkerTasks {
  castFile: { task: CastFileTask; result: Uint8Array };
  scan: { task: ScanTask; result: null };
  decode: { task: DecodeTask; result: DecodeAnswer };
  example: { task: ExampleTask; result: ExamplePage };
  halve: { task: HalveTask; result: { readonly width: number; readonly height: number } };
  draw: { task: DrawTask; result: DrawResult };
  handoff: { task: HandoffTask; result: HandoffAnswer };
  pack: { task: PackTask; result: null };
  inks: { task: InksTask; result: InksAnswer };
  returned: { task: ReturnedTask; result: ReturnedAnswer };
  foreignCheck: { task: ForeignCheckTask; result: ForeignAnswer };
  foreignTake: { task: ForeignTakeTask; result: ForeignTakeAnswer };
}
