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
