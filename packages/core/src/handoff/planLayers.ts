import { colourOfPart, kindOfGroup } from '../cast/CastSheet.ts';
import type { CastGroup, CastPart, CastSheet, GroupKind } from '../model/CastSheet.ts';
import type { TrapRule } from '../model/Trap.ts';
import { parseColour } from '../colour/hex.ts';

export interface PlannedPart {
  readonly id: string;
  readonly name: string;
  /** 0xRRGGBB */
  readonly rgb: number;
  /** 0xRRGGBB in each of the further scenes the page shows. @default none */
  readonly furtherRgb?: readonly number[];
  /** "Leave empty": takes regions, prints nothing. */
  readonly empty: boolean;
  /** How far its colour runs under the ink; absent: as the page has it. */
  readonly trap?: TrapRule;
}

export interface PlannedGroup {
  readonly id?: string;
  readonly kind?: GroupKind;
  readonly name: string;
  /** Topmost first. */
  readonly parts: readonly PlannedPart[];
}

/**
 * The parts of a sheet as the hand-off stacks them: groups and parts topmost first, with the colours in force.
 * A marking lies right in front of the part it is on, in that one's group.
 *
 * @param scenes the page's own scene, then those its panels have instead.
 */
export function planParts(sheet: CastSheet, [sceneId = null, ...further]: readonly (string | null)[]): PlannedGroup[] {
  return stackedGroups(sheet).map((group) => ({
    id: group.id,
    kind: kindOfGroup(group),
    name: group.name,
    parts: stackedParts(sheet, group.id).map((part) => ({
      id: part.id,
      name: part.name,
      rgb: parseColour(colourOfPart(sheet, part.id, sceneId)),
      furtherRgb: further.map((scene) => parseColour(colourOfPart(sheet, part.id, scene))),
      empty: part.empty,
      ...(part.trap === undefined ? {} : { trap: part.trap }),
    })),
  }));
}

/** Groups in front first. */
export function stackedGroups({ groups }: Pick<CastSheet, 'groups'>): CastGroup[] {
  return inStack(groups);
}

/** The parts of a group in front first, each with its markings before it. */
export function stackedParts({ parts }: Pick<CastSheet, 'parts'>, groupId: string): CastPart[] {
  const byId = new Map(parts.map((part) => [part.id, part]));
  /** The part at the bottom of a pile of markings; a ring of them has none. */
  const baseOf = (part: CastPart): CastPart => {
    let base = part;
    for (let k = 0; k < parts.length; k++) {
      const under = base.on === undefined ? undefined : byId.get(base.on);
      if (under === undefined) return base;
      base = under;
    }
    return part;
  };
  const isBase = (part: CastPart): boolean => baseOf(part) === part;
  const withMarkings = (part: CastPart): CastPart[] => [
    ...inStack(parts.filter((one) => one.on === part.id && !isBase(one))).flatMap(withMarkings),
    part,
  ];
  return inStack(parts.filter((part) => part.groupId === groupId && isBase(part))).flatMap(withMarkings);
}

function inStack<T extends { readonly order: number; readonly stack?: number; readonly id: string }>(
  all: readonly T[],
): T[] {
  return [...all].sort((a, b) => (a.stack ?? a.order) - (b.stack ?? b.order) || (a.id < b.id ? -1 : 1));
}
