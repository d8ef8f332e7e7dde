import * as v from 'valibot';
import { fields, finiteFrom, list, oneOf, type Check } from '../model/checkRecord.ts';
import { FINDING_KINDS, type CheckRules } from './Finding.ts';

/** Rules as they stand in a file: what is left out is as usual. */
export const checkRulesOfFile: Check<Partial<CheckRules>> = fields({
  off: v.optional(list(oneOf(...FINDING_KINDS), 0, FINDING_KINDS.length, 'kinds')),
  nearColours: v.optional(finiteFrom(0, 100)),
  minDpi: v.optional(v.nullable(finiteFrom(1, 10_000))),
  mode: v.optional(v.nullable(oneOf('rgb', 'cmyk'))),
  inkLimitPercent: v.optional(v.nullable(finiteFrom(1, 400))),
}) as unknown as Check<Partial<CheckRules>>;
