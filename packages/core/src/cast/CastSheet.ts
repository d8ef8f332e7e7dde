import type { CastGroup, CastPart, CastScene, CastSheet, GroupKind } from '../model/CastSheet.ts';
import { FIRST_DELIVERIES, type DeliveryRule } from '../model/Delivery.ts';
import { DEFAULT_JOB_CHECKS, type JobChecks } from '../model/Finding.ts';
import { DEFAULT_HOLD_LIMITS, type HoldLimits } from '../model/Holds.ts';
import { DEFAULT_JOB_TRAP, type JobTrap } from '../model/Trap.ts';
import { ciede2000 } from '../colour/ciede2000.ts';
import { labOf } from '../colour/lab.ts';
import { formatColour, parseColour } from '../colour/hex.ts';
import { loudPalette } from '../colour/loudPalette.ts';
import type { Json, RecordEdit, Records } from '../model/records.ts';

/** The colour of a part that was never given one. */
export const UNSET_COLOUR = '#9a9a9a';

/** How much a cast sheet may hold: far more than any comic has, and still opened at once. */
export const MAX_PARTS = 5000;
export const MAX_GROUPS = 1000;
export const MAX_SCENES = 100;
export const MAX_DELIVERIES = 100;
/** Colours of parts over all scenes. */
export const MAX_COLOURS = 50_000;

/** Reads the typed sheet out of its records, everything in its order. */
export function readCastSheet(records: Records): CastSheet {
  const groups: CastGroup[] = [];
  const parts: CastPart[] = [];
  const scenes: CastScene[] = [];
  const colours = new Map<string, Map<string, string>>();
  const scratch = new Map<string, string>();
  const aliases = new Map<string, string>();
  const deliveries: DeliveryRule[] = [];
  for (const [key, value] of records) {
    const [table, id, second] = key.split('/') as [string, string, string];
    if (table === 'group') groups.push({ id, ...(value as object) } as CastGroup);
    else if (table === 'part') parts.push({ id, ...(value as object) } as CastPart);
    else if (table === 'scene') scenes.push({ id, ...(value as object) } as CastScene);
    else if (table === 'scratch') scratch.set(id, value as string);
    else if (table === 'delivery') deliveries.push({ id, ...(value as object) } as DeliveryRule);
    else if (table === 'alias') aliases.set(id, value as string);
    else if (table === 'colour') {
      let ofScene = colours.get(id);
      if (ofScene === undefined) colours.set(id, (ofScene = new Map()));
      ofScene.set(second, value as string);
    }
  }
  const byOrder = (a: { order: number; id: string }, b: { order: number; id: string }): number =>
    a.order - b.order || (a.id < b.id ? -1 : 1);
  groups.sort(byOrder);
  deliveries.sort(byOrder);
  scenes.sort(byOrder);
  const rank = new Map(groups.map((group, k) => [group.id, k]));
  parts.sort((a, b) => (rank.get(a.groupId) ?? 0) - (rank.get(b.groupId) ?? 0) || byOrder(a, b));
  return {
    groups,
    parts,
    scenes,
    colours,
    scratch,
    aliases,
    palette: records.get('palette') === 'scratch' ? 'scratch' : 'scene',
    trap: { ...DEFAULT_JOB_TRAP, ...(records.get('trap') as unknown as Partial<JobTrap> | undefined) },
    checks: { ...DEFAULT_JOB_CHECKS, ...(records.get('checks') as unknown as Partial<JobChecks> | undefined) },
    holds: { ...DEFAULT_HOLD_LIMITS, ...(records.get('holds') as unknown as Partial<HoldLimits> | undefined) },
    deliveries: deliveries.length === 0 ? FIRST_DELIVERIES : deliveries,
  };
}

/** The colour a part shows now: scratch, or the scene's, or the first scene's. */
export function colourOfPart(sheet: CastSheet, partId: string, sceneId: string | null): string {
  if (sheet.palette === 'scratch') return sheet.scratch.get(partId) ?? spareScratch(sheet.scratch, partId);
  const first = sheet.scenes[0]?.id;
  return (
    sheet.colours.get(sceneId ?? first ?? '')?.get(partId) ??
    sheet.colours.get(first ?? '')?.get(partId) ??
    UNSET_COLOUR
  );
}

/** For each sheet's scratch colours those that are used least. */
const spare = new WeakMap<ReadonlyMap<string, string>, readonly string[]>();

/** A loud colour for a part that came after the others got theirs: one of those used least, always the same one. */
function spareScratch(scratch: ReadonlyMap<string, string>, partId: string): string {
  let least = spare.get(scratch);
  if (least === undefined) {
    const uses = new Map(loudPalette().map((rgb) => [formatColour(rgb), 0]));
    for (const colour of scratch.values()) uses.set(colour, (uses.get(colour) ?? 0) + 1);
    const fewest = Math.min(...uses.values());
    least = [...uses.keys()].filter((colour) => uses.get(colour) === fewest);
    spare.set(scratch, least);
  }
  let sum = 0;
  for (let k = 0; k < partId.length; k++) sum = (sum * 31 + partId.charCodeAt(k)) % 65_521;
  return least[sum % least.length]!;
}

export function editGroup({ id, ...value }: CastGroup): RecordEdit {
  return { key: `group/${id}`, value };
}
export function editPart({ id, ...value }: CastPart): RecordEdit {
  return { key: `part/${id}`, value };
}
export function editCastScene({ id, ...value }: CastScene): RecordEdit {
  return { key: `scene/${id}`, value };
}
export function editColour(sceneId: string, partId: string, colour: string | null): RecordEdit {
  return { key: `colour/${sceneId}/${partId}`, value: colour };
}
export function editScratch(partId: string, colour: string | null): RecordEdit {
  return { key: `scratch/${partId}`, value: colour };
}
export function editPalette(palette: 'scene' | 'scratch'): RecordEdit {
  return { key: 'palette', value: palette };
}

export function editJobTrap(trap: JobTrap): RecordEdit {
  return { key: 'trap', value: trap as unknown as Json };
}

export function editJobChecks(checks: JobChecks): RecordEdit {
  return { key: 'checks', value: checks as unknown as Json };
}

/**
 * The edits that keep a delivery rule with the job. The first ones of a job are kept with it, or they would be gone.
 *
 * @param rule what it says now; null takes the one of this id away.
 */
export function editDelivery({ deliveries }: CastSheet, id: string, rule: DeliveryRule | null): RecordEdit[] {
  const editOf = ({ id: key, ...value }: DeliveryRule): RecordEdit => ({
    key: `delivery/${key}`,
    value: value as unknown as Json,
  });
  const others = deliveries === FIRST_DELIVERIES ? deliveries.filter((one) => one.id !== id).map(editOf) : [];
  if (rule !== null) return [...others, editOf(rule)];
  return deliveries === FIRST_DELIVERIES ? others : [{ key: `delivery/${id}`, value: null }];
}

export function editHoldLimits(limits: HoldLimits): RecordEdit {
  return { key: 'holds', value: limits as unknown as Json };
}

/** Names of groups that are sets, where nobody has said what they are. */
const SET_NAMES = /^(sets?|background|backgrounds|ground|scenery|sky|panels?|paper)\b/i;

/** What a group is: as somebody said, else by its name. */
export function kindOfGroup({ kind, name }: Pick<CastGroup, 'kind' | 'name'>): GroupKind {
  return kind ?? (SET_NAMES.test(name.trim()) ? 'set' : 'character');
}

/** The markings on a part. */
export function markingsOn(sheet: Pick<CastSheet, 'parts'>, partId: string): CastPart[] {
  return sheet.parts.filter((part) => part.on === partId);
}

/** The edits that take a scene away with its colours; pages in it fall back to the first one. */
export function dropScene(sheet: CastSheet, sceneId: string): RecordEdit[] {
  const colours = [...(sheet.colours.get(sceneId)?.keys() ?? [])];
  return [...colours.map((part) => editColour(sceneId, part, null)), { key: `scene/${sceneId}`, value: null }];
}

/**
 * The edits that make a part like another, with its colours in every scene, right after it on the sheet.
 *
 * @param id of the new part, which no record has.
 */
export function copyPart(sheet: CastSheet, from: CastPart, id: string, name: string): RecordEdit[] {
  const next = Math.min(
    ...sheet.parts.flatMap((part) => (part.order > from.order ? [part.order] : [])),
    from.order + 2,
  );
  const edits = [editPart({ ...from, id, name, slot: null, order: (from.order + next) / 2 })];
  for (const [sceneId, ofScene] of sheet.colours) {
    const colour = ofScene.get(from.id);
    if (colour !== undefined) edits.push(editColour(sceneId, id, colour));
  }
  return edits;
}

/** The edits that take a part away with all its colours; markings on it stand for themselves then. */
export function dropPart(sheet: CastSheet, partId: string): RecordEdit[] {
  const edits: RecordEdit[] = [{ key: `part/${partId}`, value: null }];
  for (const { on: _, ...marking } of markingsOn(sheet, partId)) edits.push(editPart(marking));
  for (const [sceneId, ofScene] of sheet.colours) {
    if (ofScene.has(partId)) edits.push(editColour(sceneId, partId, null));
  }
  if (sheet.scratch.has(partId)) edits.push(editScratch(partId, null));
  return edits;
}

/** Which part an id means now: its own, the one it was merged into, or none any more. */
export function partFinder(sheet: Pick<CastSheet, 'parts' | 'aliases'>): (id: string) => string | null {
  const known = new Set(sheet.parts.map((part) => part.id));
  return (id) => {
    let now = id;
    // Merges of merges are followed; a ring of them means nothing.
    for (let k = 0; k <= sheet.aliases.size; k++) {
      if (known.has(now)) return now;
      const next = sheet.aliases.get(now);
      if (next === undefined) return null;
      now = next;
    }
    return null;
  };
}

/** The edits that merge a part into another: its regions on every page become the other's. */
export function mergeParts(sheet: CastSheet, from: string, into: string): RecordEdit[] {
  const edits = dropPart(sheet, from);
  // Its markings are the other's now; one that is merged into its own marking was that marking's part.
  for (const marking of markingsOn(sheet, from)) {
    if (marking.id !== into) edits.push(editPart({ ...marking, on: into }));
  }
  for (const [id, target] of sheet.aliases) if (target === from) edits.push({ key: `alias/${id}`, value: into });
  edits.push({ key: `alias/${from}`, value: into });
  return edits;
}

/** Two colours nearer than this (CIEDE2000) are hard to tell apart. */
export const NEAR_COLOURS = 2;

/** Parts whose colour in a scene comes nearer to this colour than {@link NEAR_COLOURS}, itself left out. */
export function nearColours(sheet: CastSheet, sceneId: string, partId: string, colour: string): CastPart[] {
  const lab = labOf(parseColour(colour));
  const ofScene = sheet.colours.get(sceneId);
  return sheet.parts.filter((part) => {
    const other = part.empty || part.id === partId ? undefined : ofScene?.get(part.id);
    return other !== undefined && ciede2000(lab, labOf(parseColour(other))) < NEAR_COLOURS;
  });
}
