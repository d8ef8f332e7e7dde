import { FINDING_KINDS, type Finding, type FindingKind, type Severity } from '@jumble/core';

export const SEVERITY_WORDS: Readonly<Record<Severity, string>> = {
  must: 'to settle',
  note: 'a note',
  off: 'not looked for',
};

/** Kinds that files from elsewhere alone can have: flats that are rendered here cannot. */
const OF_FILES = new Set<FindingKind>(['soft', 'off-palette', 'size', 'mode', 'register']);

/** Kinds that a page of the job itself can have. */
export const KINDS_OF_PAGES = FINDING_KINDS.filter((kind) => !OF_FILES.has(kind));

/** Kinds that are about whole regions, or about the page: their boxes would hide it. */
const OF_REGIONS = new Set<FindingKind>([
  'empty',
  'balloon',
  'lone-part',
  'lone-region',
  'unused-part',
  'resolution',
  'bleed',
  'ink-limit',
]);

export const isOfRegion = ({ kind }: Pick<Finding, 'kind'>): boolean => OF_REGIONS.has(kind);
