import * as v from 'valibot';
import { fields, finiteFrom, integer, list, oneOf, textFrom, type Check } from './checkRecord.ts';
import { FINDING_KINDS, SEVERITIES, type CheckRules } from './Finding.ts';

/** Rules as they stand in a file: what is left out is as usual. */
export const checkRulesOfFile: Check<Partial<CheckRules>> = fields({
  off: v.optional(list(oneOf(...FINDING_KINDS), 0, FINDING_KINDS.length, 'kinds')),
  nearColours: v.optional(finiteFrom(0, 100)),
  minDpi: v.optional(v.nullable(finiteFrom(1, 10_000))),
  mode: v.optional(v.nullable(oneOf('rgb', 'cmyk'))),
  inkLimitPercent: v.optional(v.nullable(finiteFrom(1, 400))),
}) as unknown as Check<Partial<CheckRules>>;

/** What the pages of a job are checked by. */
export const jobChecks: Check<unknown> = fields({
  severities: fields(Object.fromEntries(FINDING_KINDS.map((kind) => [kind, v.optional(oneOf(...SEVERITIES))]))),
  nearColours: finiteFrom(0, 100),
  minDpi: v.nullable(finiteFrom(1, 10_000)),
  // Absent in what was kept before there was such a limit.
  inkLimitPercent: v.optional(v.nullable(finiteFrom(1, 400))),
});

const MOST_REASON = 300;

export const waiver: Check<unknown> = fields({ reason: textFrom(1, MOST_REASON) });

export const certificate: Check<unknown> = fields({
  at: v.pipe(v.string('must be a date'), v.isoTimestamp('must be a date like 2026-05-01T12:00:00.000Z')),
  content: v.pipe(v.string('must be a hash'), v.regex(/^[0-9a-f]{64}$/, 'must be a SHA-256 in hexadecimal')),
  engine: integer(0, 1_000_000),
  checks: jobChecks,
  waived: integer(0, 1_000_000),
});
