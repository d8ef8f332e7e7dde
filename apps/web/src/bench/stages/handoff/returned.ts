import type { ReturnedReport } from '@jumble/contracts';
import { editCastScene, editColour, type CastSheet, type RecordEdit } from '@jumble/core';
import { getJson } from '../../../api/http.ts';
import type { Bench } from '../../state/Bench.ts';

export type Recoloured = ReturnedReport['recoloured'][number];

/** Where a colour that came back counts. */
export const COLOUR_SCOPES = ['page', 'scene', 'job'] as const;
export type ColourScope = (typeof COLOUR_SCOPES)[number];

/** The scene a recoloured part was in. */
export function sceneOfChange(cast: CastSheet, { sceneId }: Pick<Recoloured, 'sceneId'>): string | null {
  return sceneId ?? cast.scenes[0]?.id ?? null;
}

/** Whether a part has the colour that came back already. */
export function isTaken(cast: CastSheet, pageScene: string | null, change: Recoloured): boolean {
  const scene = change.sceneId ?? pageScene ?? cast.scenes[0]?.id ?? '';
  return cast.colours.get(scene)?.get(change.partId) === change.to;
}

/**
 * Gives parts the colours that came back: in every scene, in the scene they were in, or on this page alone, which gets a scene
 * of its own then.
 */
export function takeColours(
  bench: Bench,
  changes: readonly Recoloured[],
  scope: ColourScope,
  newId = (): string => crypto.randomUUID(),
): void {
  const { cast, document, page } = bench.state;
  if (cast === null || page === null || changes.length === 0) return;
  const names = changes.map(({ partId }) => cast.parts.find(({ id }) => id === partId)?.name ?? 'a part');
  const label = `Take ${changes.length === 1 ? `the new colour of ${names[0]!}` : `${changes.length} new colours`}`;
  if (scope === 'job') {
    const edits = cast.scenes.flatMap(({ id }) => changes.map(({ partId, to }) => editColour(id, partId, to)));
    return bench.changeCast(`${label} in all scenes`, edits);
  }
  if (scope === 'scene') {
    const edits = changes.flatMap((change) => {
      const scene = sceneOfChange(cast, change);
      return scene === null ? [] : [editColour(scene, change.partId, change.to)];
    });
    return bench.changeCast(label, edits);
  }
  const from = cast.scenes.find(({ id }) => id === document?.scene) ?? cast.scenes[0];
  if (from === undefined) return;
  const ending = `: ${page.name}`;
  const isOwn = from.name.endsWith(ending);
  const id = isOwn ? from.id : newId();
  const edits: RecordEdit[] = changes.map(({ partId, to }) => editColour(id, partId, to));
  if (isOwn) return bench.changeCast(label, edits);
  const order = Math.max(...cast.scenes.map((scene) => scene.order)) + 1;
  const changed = new Set(changes.map(({ partId }) => partId));
  const same = [...(cast.colours.get(from.id) ?? [])].flatMap(([partId, colour]) =>
    changed.has(partId) ? [] : [editColour(id, partId, colour)],
  );
  bench.changeCast(`${label} on ${page.name} alone`, [
    editCastScene({ id, name: `${from.name}${ending}`.slice(0, 80), order }),
    ...same,
    ...edits,
  ]);
  bench.push({ label: `Scene ${from.name}${ending}`, edits: [{ key: 'scene', value: id }] });
}

/** Makes what moved corrections of the page. @returns whether there was anything to take. */
export async function takeMoved(bench: Bench, returnedId: string, fileName: string): Promise<boolean> {
  await bench.settled();
  const { edits } = await getJson<{ readonly edits: readonly RecordEdit[] }>(`/api/returned/${returnedId}/corrections`);
  if (edits.length === 0) return false;
  bench.push({ label: `Take what moved in ${fileName}`, edits });
  return true;
}
