import type { FindingKind } from '@jumble/core';
import type { ReactNode } from 'react';

/** What a kind is about, as a shape: paper, colours, edges, small bits, parts, lines, or the whole page. */
const SHAPES = {
  paper: 'M6 1.5a4.5 4.5 0 1 0 0.001 0z',
  colour: 'M6 1 11 6 6 11 1 6z',
  edge: 'M1.5 10.5h9M1.5 7.5c3-5 6-5 9 0',
  bit: 'M6 2 10.5 10.5h-9z',
  part: 'M1.5 1.5h9v9h-9z',
  line: 'M1 8c2.5-6 5 4 10-4',
  page: 'M2.5 1h5l2 2v8h-7z',
} as const;

const SHAPE_OF: Readonly<Record<FindingKind, keyof typeof SHAPES>> = {
  soft: 'edge',
  'off-palette': 'colour',
  'near-colours': 'colour',
  empty: 'paper',
  'missed-corner': 'paper',
  halo: 'edge',
  'show-through': 'edge',
  stray: 'bit',
  sliver: 'bit',
  'lone-part': 'part',
  'lone-region': 'part',
  'unused-part': 'part',
  'open-gap': 'line',
  'low-contrast': 'line',
  balloon: 'paper',
  size: 'page',
  resolution: 'page',
  mode: 'page',
  bleed: 'page',
  'ink-limit': 'colour',
  register: 'page',
};

/** The shape of a finding's kind. */
export function KindMark({ kind }: { readonly kind: FindingKind }): ReactNode {
  return (
    <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden style={{ marginRight: 4, verticalAlign: '-1px' }}>
      <path d={SHAPES[SHAPE_OF[kind]]} fill="none" stroke="currentColor" strokeWidth="1.4" />
    </svg>
  );
}
