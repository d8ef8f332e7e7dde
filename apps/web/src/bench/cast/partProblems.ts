import type { CastSheet } from '@jumble/core';
import { RESERVED_SLOTS } from '../tools/shortcuts.ts';
import type { PartDraft } from './castEdits.ts';

/** What is wrong with a part as it is typed; null where nothing is. */
export interface PartProblems {
  readonly name: string | null;
  readonly slot: string | null;
  readonly colour: string | null;
  readonly any: boolean;
}

export function partProblems(part: PartDraft, cast: CastSheet): PartProblems {
  const others = cast.parts.filter((one) => one.id !== part.id);
  const twin = others.some(
    (one) => one.groupId === part.groupId && one.name.toLowerCase() === part.name.trim().toLowerCase(),
  );
  const name = twin ? 'There is one of this name already.' : null;
  const holder = part.slot === null ? undefined : others.find((one) => one.slot === part.slot);
  const slot =
    part.slot === null
      ? null
      : !/^[a-z0-9]$/.test(part.slot)
        ? 'Only letters and digits.'
        : RESERVED_SLOTS.has(part.slot)
          ? 'This key has a meaning on the bench.'
          : holder === undefined
            ? null
            : `${holder.name} has this key.`;
  const colour = part.empty || /^#[0-9a-f]{6}$/.test(part.colour) ? null : 'A colour like #a0b1c2.';
  return { name, slot, colour, any: part.name.trim() === '' || name !== null || slot !== null || colour !== null };
}
