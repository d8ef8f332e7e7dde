import { colourName, editColour, editGroup, editPart, formatColour, type RecordEdit } from '@jumble/core';
import { counted } from '../../../measures.ts';
import { freeSlot, newId } from '../../cast/castEdits.ts';
import type { Bench } from '../../state/Bench.ts';
import { rereadGuide } from './colourGuide.ts';

/** Makes a part of every colour of the key that no part has: a group named after the key, parts named by their colours. */
export function makeUnknownParts(bench: Bench): void {
  const { cast, flats, document: page } = bench.state;
  const unknown = flats.guide?.reading?.unknown ?? [];
  if (cast === null || flats.guide === null || unknown.length === 0) return;
  const sceneId = (cast.scenes.find(({ id }) => id === page?.scene) ?? cast.scenes[0])?.id ?? null;
  const groupId = newId();
  const groupName = unlike(
    flats.guide.name.replace(/\.[^.]+$/, '') || 'Key',
    new Set(cast.groups.map(({ name }) => name)),
  );
  const edits: RecordEdit[] = [
    editGroup({ id: groupId, name: groupName, order: Math.max(-1, ...cast.groups.map(({ order }) => order)) + 1 }),
  ];
  const names = new Set<string>();
  const slots = new Set(cast.parts.map(({ slot }) => slot));
  unknown.forEach(({ rgb }, order) => {
    const id = newId();
    const name = unlike(colourName(rgb), names);
    names.add(name);
    const slot = freeSlot(slots);
    slots.add(slot);
    edits.push(editPart({ id, groupId, name, order, slot, empty: false }));
    if (sceneId !== null) edits.push(editColour(sceneId, id, formatColour(rgb)));
  });
  bench.changeCast(`Make ${counted(unknown.length, 'part')} of the key's colours`, edits);
  // The new parts may be what the key means.
  rereadGuide(bench);
}

/** A name that none of the others is: with a number where it has to be. */
function unlike(name: string, taken: ReadonlySet<string>): string {
  let made = name;
  for (let k = 2; taken.has(made); k++) made = `${name} ${k}`;
  return made;
}
