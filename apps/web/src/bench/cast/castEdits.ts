import type { CastPart, CastSheet } from '@jumble/core';
import { RESERVED_SLOTS } from '../tools/shortcuts.ts';

/** A part as it is being changed. */
export interface PartDraft extends CastPart {
  readonly colour: string;
  readonly isNew: boolean;
}

/** The first key that no part has yet: digits, then letters that mean nothing else. */
export function freeSlot(taken: ReadonlySet<string | null>): string | null {
  for (const key of '1234567890abcdfghijklmnoprstuvxyz') {
    if (!taken.has(key) && !RESERVED_SLOTS.has(key)) return key;
  }
  return null;
}

/** An id that no record of the sheet has. */
export function newId(): string {
  return crypto.randomUUID();
}

export function newPartDraft(cast: CastSheet, groupId: string): PartDraft {
  const orders = cast.parts.filter((part) => part.groupId === groupId).map((part) => part.order);
  return {
    id: newId(),
    groupId,
    name: '',
    order: Math.max(-1, ...orders) + 1,
    slot: freeSlot(new Set(cast.parts.map(({ slot }) => slot))),
    empty: false,
    colour: '#9db3a7',
    isNew: true,
  };
}
