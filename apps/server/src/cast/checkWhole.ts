import { MAX_COLOURS, MAX_DELIVERIES, MAX_GROUPS, MAX_PARTS, MAX_SCENES, type Records } from '@jumble/core';
import { DomainError } from '../errors/DomainError.ts';

const MOST = [
  ['part', MAX_PARTS, 'parts'],
  ['group', MAX_GROUPS, 'groups'],
  ['scene', MAX_SCENES, 'scenes'],
  ['alias', MAX_PARTS, 'merged parts'],
  ['colour', MAX_COLOURS, 'colours'],
  ['delivery', MAX_DELIVERIES, 'delivery rules'],
] as const;

/**
 * Checks a cast sheet as a whole: it is not too large, and what refers to something finds it.
 *
 * @throws DomainError 422 saying what would be left alone.
 */
export function checkWhole(records: Records): void {
  const counts = new Map<string, number>();
  for (const key of records.keys()) {
    const table = key.slice(0, key.indexOf('/'));
    counts.set(table, (counts.get(table) ?? 0) + 1);
  }
  for (const [table, most, words] of MOST) {
    if ((counts.get(table) ?? 0) <= most) continue;
    throw new DomainError(422, 'cast-too-large', `A cast sheet holds at most ${most} ${words}. Nothing was changed.`);
  }
  for (const [key, value] of records) {
    const [table, first, second] = key.split('/');
    if (table === 'part') {
      const { groupId, on, name } = value as { groupId: string; on?: string; name: string };
      if (on !== undefined && (!records.has(`part/${on}`) || `part/${on}` === key)) {
        throw new DomainError(
          422,
          'cast-broken',
          `"${name}" would be a marking on a part that is not there. Say what it lies on first.`,
        );
      }
      if (!records.has(`group/${groupId}`)) {
        throw new DomainError(
          422,
          'cast-broken',
          `The part "${name}" would be left without its group. Move or delete it first.`,
        );
      }
    } else if (table === 'colour' && !(records.has(`scene/${first}`) && records.has(`part/${second}`))) {
      throw new DomainError(
        422,
        'cast-broken',
        'A colour would be left without its part or scene. Reload the cast sheet and do it again.',
      );
    } else if (table === 'alias' && !records.has(`part/${String(value)}`) && !records.has(`alias/${String(value)}`)) {
      throw new DomainError(
        422,
        'cast-broken',
        'A part was merged into one that is deleted by this. Merge it elsewhere first.',
      );
    } else if (table === 'scratch' && !records.has(`part/${first}`)) {
      throw new DomainError(
        422,
        'cast-broken',
        'A scratch colour would be left without its part. Reload the cast sheet and do it again.',
      );
    }
  }
}
