import type { DeliveryRule } from './Delivery.ts';
import type { JobChecks } from './Finding.ts';
import type { HoldLimits } from './Holds.ts';
import type { JobTrap, TrapRule } from './Trap.ts';

/** What a group of the cast is: sets are the ground that figures stand before. */
export const GROUP_KINDS = ['character', 'prop', 'set'] as const;
export type GroupKind = (typeof GROUP_KINDS)[number];

/** A character, a prop or a set: parts stand together under it. */
export interface CastGroup {
  readonly id: string;
  readonly name: string;
  /** Absent: as its name says, a set if it is called one. */
  readonly kind?: GroupKind;
  readonly order: number;
  /** Place in the stacking of a hand-off, the lowest in front; absent: as on the sheet. */
  readonly stack?: number;
}

/** What a region can be: "coat", "lining". */
export interface CastPart {
  readonly id: string;
  readonly groupId: string;
  readonly name: string;
  readonly order: number;
  /** One-key slot on the page bench, or null. */
  readonly slot: string | null;
  /** "Leave empty": counts as decided and prints nothing. */
  readonly empty: boolean;
  /** What the colourist or the lead says of it; absent for none. */
  readonly notes?: string;
  /** Place in the stacking within its group, the lowest in front; absent: as on the sheet. */
  readonly stack?: number;
  /** Id of the part it is a marking on (stripes, freckles): it lies right in front of that one and follows its colour. */
  readonly on?: string;
  /** How far its colour runs under the ink; absent: as the page has it. */
  readonly trap?: TrapRule;
}

export interface CastScene {
  readonly id: string;
  readonly name: string;
  readonly order: number;
}

/** Who is in the job and of what colours they are made. */
export interface CastSheet {
  readonly groups: readonly CastGroup[];
  readonly parts: readonly CastPart[];
  readonly scenes: readonly CastScene[];
  /** Scene id, then part id, to `#rrggbb`. */
  readonly colours: ReadonlyMap<string, ReadonlyMap<string, string>>;
  /** Part id to its loud colour. */
  readonly scratch: ReadonlyMap<string, string>;
  /** Ids of parts that were merged into another, with that one's: earlier pages follow. */
  readonly aliases: ReadonlyMap<string, string>;
  /** Which colours are shown and handed off. */
  readonly palette: 'scene' | 'scratch';
  readonly trap: JobTrap;
  readonly checks: JobChecks;
  readonly holds: HoldLimits;
  /** What the job is delivered by, in their order; at least one. */
  readonly deliveries: readonly DeliveryRule[];
}
