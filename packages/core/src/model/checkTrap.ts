import * as v from 'valibot';
import { fields, finiteFrom, integer, list, oneOf, point, type Check } from './checkRecord.ts';
import { MAX_TRAP_DEPTH_MM, MAX_TRAP_DEPTH_PX, MAX_UNDERLAP_PX, type TrapRule } from './Trap.ts';

/** Most corners an area may have. */
const MOST_CORNERS = 200;

const lengths = {
  depthPx: v.optional(finiteFrom(0, MAX_TRAP_DEPTH_PX)),
  depthMm: v.optional(finiteFrom(0, MAX_TRAP_DEPTH_MM)),
};

/** A rule of trap as it comes from outside. */
export const trapRule: Check<unknown> = v.pipe(
  fields({ rule: oneOf('middle', 'depth', 'max'), ...lengths, marginPx: v.optional(finiteFrom(0, MAX_TRAP_DEPTH_PX)) }),
  v.check(
    ({ rule, depthPx, depthMm, marginPx }) =>
      (rule === 'depth') === ((depthPx === undefined) !== (depthMm === undefined)) &&
      (rule === 'max') === (marginPx !== undefined),
    'must be middle, or depth with one of `depthPx` and `depthMm`, or max with `marginPx`',
  ),
);

const solidTrap = v.pipe(
  fields({ rule: oneOf('line', 'all', 'edge', 'depth'), ...lengths }),
  v.check(
    ({ rule, depthPx, depthMm }) => (rule === 'depth') === ((depthPx === undefined) !== (depthMm === undefined)),
    'must be line, all or edge, or depth with one of `depthPx` and `depthMm`',
  ),
);

export const jobTrap: Check<unknown> = fields({
  rule: trapRule,
  solids: solidTrap,
  pinholePx2: v.union([v.literal('auto'), integer(0, 1_000_000)], 'must be auto or an integer from 0 to 1000000'),
  underlapPx: integer(0, MAX_UNDERLAP_PX),
});

export const trapArea: Check<unknown> = fields({
  points: list(point, 3, MOST_CORNERS, 'corners'),
  rule: trapRule,
  stamp: integer(0, Number.MAX_SAFE_INTEGER),
});

/** Whether two rules say the same. */
export function sameRule(a: TrapRule, b: TrapRule): boolean {
  const text = (rule: TrapRule): string => JSON.stringify(Object.entries(rule).sort());
  return text(a) === text(b);
}
