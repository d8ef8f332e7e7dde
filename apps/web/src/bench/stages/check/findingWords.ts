import type { Finding, FindingKind, Severity } from '@jumble/core';

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

export const SEVERITY_WORDS: Readonly<Record<Severity, string>> = {
  must: 'to settle',
  note: 'a note',
  off: 'not looked for',
};

/** Kinds that a page of the job itself can have. */
export const KINDS_OF_PAGES = [
  'empty',
  'missed-corner',
  'halo',
  'show-through',
  'stray',
  'sliver',
  'near-colours',
  'lone-part',
  'lone-region',
  'unused-part',
  'open-gap',
  'low-contrast',
  'balloon',
  'resolution',
  'bleed',
] as const satisfies readonly FindingKind[];

/** Kinds that are about whole regions, or about the page: their boxes would hide it. */
const OF_REGIONS = new Set<FindingKind>([
  'empty',
  'balloon',
  'lone-part',
  'lone-region',
  'unused-part',
  'resolution',
  'bleed',
]);

export const isOfRegion = ({ kind }: Pick<Finding, 'kind'>): boolean => OF_REGIONS.has(kind);
