import type { Point } from './Point.ts';

/** A length under the ink, counted from the ink mask: in px, or in mm at print size. */
export type TrapDepth = { readonly depthPx: number } | { readonly depthMm: number };

/** How far colour runs under the ink. */
export type TrapRule =
  | { readonly rule: 'middle' }
  /** At most so far from the paper, and never past the middle. */
  | ({ readonly rule: 'depth' } & TrapDepth)
  /** As deep as the line allows: the part in front takes the line up to this margin before other paper. */
  | { readonly rule: 'max'; readonly marginPx: number };

/** How far colour runs under solid blacks: as under lines, all the way, under their soft edge alone, or so far. */
export type SolidTrap = { readonly rule: 'line' | 'all' | 'edge' } | ({ readonly rule: 'depth' } & TrapDepth);

/** What a job says of trap. */
export interface JobTrap {
  readonly rule: TrapRule;
  readonly solids: SolidTrap;
  /** Pinholes in ink up to this area take colour as if they were ink; 'auto' is the page's limit for crumbs, 0 leaves all. */
  readonly pinholePx2: 'auto' | number;
  /** How far layers run under those in front of them, in px; 0 for none. */
  readonly underlapPx: number;
}

/** A rule for what lies inside an outline on the page. */
export interface TrapArea {
  readonly points: readonly Point[];
  readonly rule: TrapRule;
  /** Where two areas overlap, the later one counts. */
  readonly stamp: number;
}

export const DEFAULT_JOB_TRAP: JobTrap = {
  rule: { rule: 'middle' },
  solids: { rule: 'line' },
  pinholePx2: 'auto',
  underlapPx: 0,
};

export const MAX_TRAP_DEPTH_PX = 200;
export const MAX_TRAP_DEPTH_MM = 20;
/** Most px that layers run under others. */
export const MAX_UNDERLAP_PX = 20;
