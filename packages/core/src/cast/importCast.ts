import {
  MAX_COLOURS,
  MAX_GROUPS,
  MAX_PARTS,
  MAX_SCENES,
  editCastScene,
  editColour,
  editGroup,
  editPart,
} from './CastSheet.ts';
import type { CastSheet } from '../model/CastSheet.ts';
import type { RecordEdit } from '../model/records.ts';

/** A line of a cast file: the colour of a part in a scene. */
export interface CastLine {
  /** Where it stands in the file, for messages. */
  readonly where: string;
  readonly scene: string;
  readonly group: string;
  readonly part: string;
  readonly slot: string | null;
  /** `#rrggbb`, or null for a part that is left empty. */
  readonly colour: string | null;
  readonly notes: string;
}

/** Everything that is wrong with a cast file, line by line: nothing of it is taken. */
export class CastFileError extends Error {
  constructor(readonly problems: readonly string[]) {
    const more = problems.length > 5 ? ` ... and ${problems.length - 5} more.` : '';
    super(`${problems.slice(0, 5).join(' ')}${more} Nothing was imported.`);
    this.name = 'CastFileError';
  }
}

/**
 * The edits that bring the lines of a cast file into a sheet. Scenes, groups and parts are found by their
 * names, whatever their case; what is not there is added; keys that are taken stay where they are.
 *
 * @param newId makes ids that no record has.
 * @throws CastFileError naming every line that breaks a rule.
 */
export function importCast(sheet: CastSheet, lines: readonly CastLine[], newId: () => string): RecordEdit[] {
  if (lines.length > MAX_COLOURS)
    throw new CastFileError([`The file has ${lines.length} lines; a cast sheet holds at most ${MAX_COLOURS} colours.`]);
  const problems: string[] = [];
  const seen = new Map<string, string>();
  for (const { where, scene, group, part, slot, colour } of lines) {
    for (const [what, name] of [
      ['scene', scene],
      ['group', group],
      ['part', part],
    ] as const) {
      if (name.trim() === '' || name.length > 80)
        problems.push(`${where}: the ${what} needs a name of 1 to 80 characters.`);
    }
    if (colour !== null && !/^#[0-9a-f]{6}$/i.test(colour))
      problems.push(`${where}: "${colour.slice(0, 20)}" is no colour like #a0b1c2.`);
    if (slot !== null && !/^[a-z0-9]$/i.test(slot)) problems.push(`${where}: the key must be one letter or digit.`);
    const key = [scene, group, part].map((name) => name.trim().toLowerCase()).join('\n');
    const before = seen.get(key);
    if (before !== undefined) problems.push(`${where}: ${group}, ${part} in ${scene} stands at ${before} already.`);
    else seen.set(key, where);
  }
  if (lines.length === 0) problems.push('The file holds no parts.');
  if (problems.length > 0) throw new CastFileError(problems);

  const edits = new Map<string, RecordEdit>();
  const put = (edit: RecordEdit): void => void edits.set(edit.key, edit);
  const scenes = new Map(sheet.scenes.map(({ id, name }) => [name.toLowerCase(), id]));
  const groups = new Map(sheet.groups.map(({ id, name }) => [name.toLowerCase(), id]));
  const parts = new Map(sheet.parts.map((part) => [`${part.groupId}\n${part.name.toLowerCase()}`, part]));
  const taken = new Set(sheet.parts.map((part) => part.slot));
  let order = Math.max(0, ...[...sheet.scenes, ...sheet.groups, ...sheet.parts].map((one) => one.order)) + 1;
  const found = (known: Map<string, string>, name: string, make: (id: string) => RecordEdit): string => {
    let id = known.get(name.trim().toLowerCase());
    if (id === undefined) {
      known.set(name.trim().toLowerCase(), (id = newId()));
      put(make(id));
    }
    return id;
  };
  for (const line of lines) {
    const sceneId = found(scenes, line.scene, (id) => editCastScene({ id, name: line.scene.trim(), order: order++ }));
    const groupId = found(groups, line.group, (id) => editGroup({ id, name: line.group.trim(), order: order++ }));
    const key = `${groupId}\n${line.part.trim().toLowerCase()}`;
    let part = parts.get(key);
    if (part === undefined || (line.notes !== '' && line.notes !== part.notes)) {
      const wished = line.slot?.toLowerCase() ?? null;
      const slot = part?.slot ?? (wished !== null && !taken.has(wished) ? wished : null);
      taken.add(slot);
      part = {
        id: part?.id ?? newId(),
        groupId,
        name: part?.name ?? line.part.trim(),
        order: part?.order ?? order++,
        slot,
        empty: part?.empty ?? line.colour === null,
        ...(line.notes === '' ? {} : { notes: line.notes.slice(0, 1000) }),
      };
      parts.set(key, part);
      put(editPart(part));
    }
    if (line.colour !== null) put(editColour(sceneId, part.id, line.colour.toLowerCase()));
  }
  for (const [what, count, most] of [
    ['scenes', scenes.size, MAX_SCENES],
    ['groups', groups.size, MAX_GROUPS],
    ['parts', parts.size, MAX_PARTS],
  ] as const) {
    if (count > most)
      throw new CastFileError([`With this file the cast sheet would hold ${count} ${what}; at most ${most} fit.`]);
  }
  return [...edits.values()];
}
