import * as v from 'valibot';
import { checkRecord, fields, finiteNumber, flag, id, oneOf, textFrom } from '../model/checkRecord.ts';
import { deliveryRule } from './checkDelivery.ts';
import { jobChecks } from '../model/checkFinding.ts';
import { holdLimits } from '../model/checkHolds.ts';
import { GROUP_KINDS } from '../model/CastSheet.ts';
import { jobTrap, trapRule } from '../model/checkTrap.ts';
import type { RecordEdit } from '../model/records.ts';
import { isPlainText, nameUpTo } from '../page/plainText.ts';

const ID = '[A-Za-z0-9_-]{1,64}';
const KEY = new RegExp(
  `^(?:palette|trap|holds|checks|(?:group|part|scene|scratch|alias|delivery)/${ID}|colour/${ID}/${ID})$`,
);
const name = nameUpTo(80);
export const MAX_NOTES = 1000;

const colour = v.pipe(
  v.string('must be a colour like #a0b1c2'),
  v.regex(/^#(?:[0-9a-f]{3}|[0-9a-f]{6})$/i, 'must look like #a0b1c2'),
);

/** What the records of a cast sheet may say, by the first word of their key. */
const RECORDS: Readonly<Record<string, v.BaseSchema<unknown, unknown, v.BaseIssue<unknown>>>> = {
  trap: jobTrap,
  holds: holdLimits,
  checks: jobChecks,
  delivery: deliveryRule,
  palette: oneOf('scene', 'scratch'),
  alias: id('a part'),
  colour,
  scratch: colour,
  group: fields({
    name,
    kind: v.optional(oneOf(...GROUP_KINDS)),
    order: finiteNumber,
    stack: v.optional(finiteNumber),
  }),
  scene: fields({ name, order: finiteNumber }),
  part: fields({
    groupId: id('a group'),
    name,
    order: finiteNumber,
    slot: v.nullable(
      v.custom<string>(
        (slot) => typeof slot === 'string' && /^[a-z0-9]$/.test(slot),
        'must be one letter or digit, or null',
      ),
    ),
    empty: flag,
    notes: v.optional(textFrom(0, MAX_NOTES, isPlainText)),
    stack: v.optional(finiteNumber),
    on: v.optional(id('a part')),
    trap: v.optional(trapRule),
  }),
};

/**
 * Checks an edit of the cast sheet that came from outside; null takes any record away.
 *
 * @throws TypeError or RangeError naming the key and the rule.
 */
export function checkCastEdit({ key, value }: RecordEdit): void {
  if (!KEY.test(key)) throw new TypeError(`\`key\` is not one of a cast sheet: ${JSON.stringify(key).slice(0, 80)}`);
  if (value !== null) checkRecord(key, RECORDS[key.split('/')[0]!]!, value);
}
