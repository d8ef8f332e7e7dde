/** What can be wrong with flats, in the order in which a place is called by one of them. */
export const FLATS_KINDS = [
  'soft',
  'off-palette',
  'near-colours',
  'empty',
  'missed-corner',
  'halo',
  'show-through',
  'stray',
  'sliver',
] as const;

/** What can be wrong beside these: with parts, gaps and lines of a page, and with a file as a whole. */
export const FURTHER_KINDS = [
  'lone-part',
  'lone-region',
  'unused-part',
  'open-gap',
  'low-contrast',
  'balloon',
  'size',
  'resolution',
  'mode',
  'bleed',
  'ink-limit',
  'register',
] as const;

export const FINDING_KINDS = [...FLATS_KINDS, ...FURTHER_KINDS] as const;

export type FindingKind = (typeof FINDING_KINDS)[number];

/** What kinds of findings are called. */
export const KIND_WORDS: Readonly<Record<FindingKind, string>> = {
  soft: 'Soft pixels',
  'off-palette': 'Colour of no part',
  'near-colours': 'Two near colours',
  empty: 'No part',
  'missed-corner': 'Missed corner',
  halo: 'Halo',
  'show-through': 'Show-through',
  stray: 'Stray pixels',
  sliver: 'Sliver',
  'lone-part': 'Part on this page alone',
  'lone-region': 'Lone region',
  'unused-part': 'Part on no page',
  'open-gap': 'Gap not ruled on',
  'low-contrast': 'Faint line',
  balloon: 'Coloured balloon',
  size: 'Other size',
  resolution: 'Resolution',
  mode: 'Colour mode',
  bleed: 'Short of the bleed',
  'ink-limit': 'Too much ink',
  register: 'Flats beside the ink',
};

/** Something a check found, at one place of the page. */
export interface Finding {
  readonly kind: FindingKind;
  /** Box of the place, in px. */
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** Pixels it takes up; those of the page where it is about the whole file. */
  readonly areaPx: number;
  /** A pixel of it. */
  readonly at: readonly [number, number];
  /** In words, with its measure. */
  readonly message: string;
  /** The colour found there, 0xRRGGBB, and the one that belongs there; -1 for none. */
  readonly rgb: number;
  readonly expectedRgb: number;
}

/** What a check goes by. */
export interface CheckRules {
  /** Kinds that are not looked for. */
  readonly off: readonly FindingKind[];
  /** Two colours nearer than this CIEDE2000 are taken for one that went wrong. */
  readonly nearColours: number;
  /** Least resolution; null for any. */
  readonly minDpi: number | null;
  /** Colour mode that flats have to have; null for any. */
  readonly mode: 'rgb' | 'cmyk' | null;
  /** Most ink of all four together, in percent; null for any. */
  readonly inkLimitPercent: number | null;
}

export const DEFAULT_CHECK_RULES: CheckRules = {
  off: [],
  nearColours: 1.5,
  minDpi: null,
  mode: null,
  inkLimitPercent: null,
};

/** How much a kind of finding weighs: it has to be settled, it is told, or it is not looked for. */
export const SEVERITIES = ['must', 'note', 'off'] as const;
export type Severity = (typeof SEVERITIES)[number];

/** What the pages of a job are checked by. */
export interface JobChecks extends Pick<CheckRules, 'nearColours' | 'minDpi' | 'inkLimitPercent'> {
  /** By kind; absent: as is usual. */
  readonly severities: Partial<Record<FindingKind, Severity>>;
}

export const DEFAULT_JOB_CHECKS: JobChecks = {
  severities: {},
  nearColours: DEFAULT_CHECK_RULES.nearColours,
  minDpi: null,
  inkLimitPercent: null,
};

/** Kinds that are seldom a fault: they are told. */
const NOTES = new Set<FindingKind>(['lone-part', 'lone-region', 'unused-part', 'near-colours']);

export function severityOf({ severities }: Pick<JobChecks, 'severities'>, kind: FindingKind): Severity {
  return severities[kind] ?? (NOTES.has(kind) ? 'note' : 'must');
}

/** Why a finding may stay. */
export interface Waiver {
  readonly reason: string;
}

/** That a page had no open finding: it holds for what it was given for, and for nothing else. */
export interface Certificate {
  /** When, as ISO 8601. */
  readonly at: string;
  /** SHA-256 of the line art, the page's decisions and the cast sheet, in hexadecimal. */
  readonly content: string;
  /** Which division of pages into regions it was made by. */
  readonly engine: number;
  readonly checks: JobChecks;
  /** Findings that were waived. */
  readonly waived: number;
}

/** Names a finding among those of its page. */
export const keyOfFinding = ({ kind, at }: Pick<Finding, 'kind' | 'at'>): string => `${kind}/${at.join()}`;
