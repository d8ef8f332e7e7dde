import * as v from 'valibot';
import { MOST_SPECK_PX2 } from '../ink/clearSpecks.ts';
import { MAX_SLOPE_PPM } from '../ink/straighten.ts';
import {
  checkRecord,
  fields,
  finiteNumber,
  flag,
  id,
  integer,
  list,
  oneOf,
  point,
  textFrom,
} from '../model/checkRecord.ts';
import { TILE_AREA } from '../model/CorrectionTile.ts';
import { certificate, waiver } from '../model/checkFinding.ts';
import { holdRule, lineStroke } from '../model/checkHolds.ts';
import { trapArea, trapRule } from '../model/checkTrap.ts';
import { FINDING_KINDS } from '../model/Finding.ts';
import { FILL_LOOKS } from '../model/PageDocument.ts';
import type { RecordEdit } from '../model/records.ts';
import { isPlainText, nameUpTo } from './plainText.ts';

/** Most anchors one fill may carry. */
const MAX_ANCHORS = 100_000;
/** Most panels a page may have, and corners a panel. */
const MOST_PANELS = 60;
const MOST_CORNERS = 60;
/** Most characters of a page's notes. */
export const MOST_PAGE_NOTES = 2000;
/** Most points one mark may have. */
const MOST_MARK_POINTS = 5000;
/** Most parts that may meet in one square of painted pixels. */
const MOST_TILE_PARTS = 500;

const auto = v.literal('auto');
/** A number that is measured where it is said to be `auto`, or left out. */
const measuredUnless = (least: number, most: number) =>
  v.optional(v.union([auto, integer(least, most)], `must be auto or an integer from ${least} to ${most}`));
const offUnless = (least: number, most: number) => v.optional(v.nullable(integer(least, most)));

const prep = fields({
  inkPoints: v.union(
    [
      auto,
      v.pipe(
        fields({ blackPoint: integer(0, 254), whitePoint: integer(1, 255) }),
        v.check(({ blackPoint, whitePoint }) => blackPoint < whitePoint, 'must have `blackPoint` below `whitePoint`'),
      ),
    ],
    'must be auto, or have `blackPoint` (0 to 254) below `whitePoint` (1 to 255)',
  ),
  crumbLimitPx2: measuredUnless(0, 1_000_000),
  maxGapPx: measuredUnless(0, 4000),
  slopePpm: offUnless(-MAX_SLOPE_PPM, MAX_SLOPE_PPM),
  flatten: v.optional(oneOf<string | boolean>('auto', true, false)),
  speckLimitPx2: offUnless(0, MOST_SPECK_PX2),
  detail: v.optional(fields({ thinnerThanPx: integer(0, 60), shorterThanPx: integer(0, 2000) })),
});

const fill = fields({
  part: id('a part'),
  anchors: list(point, 1, MAX_ANCHORS, 'points'),
  stamp: integer(0, Number.MAX_SAFE_INTEGER),
  by: v.optional(oneOf('mark', 'key')),
  look: v.optional(oneOf(...FILL_LOOKS)),
});

const panels = list(
  fields({
    points: list(point, 3, MOST_CORNERS, 'corners'),
    scene: v.nullable(id('a scene')),
    trap: v.optional(trapRule),
  }),
  0,
  MOST_PANELS,
  'panels',
);

const tile = v.pipe(
  fields({
    parts: list(id('a part'), 1, MOST_TILE_PARTS, 'parts'),
    runs: v.pipe(
      v.array(v.number('must be a number'), 'must hold pairs of numbers'),
      v.check((runs) => runs.length % 2 === 0, 'must hold pairs of numbers'),
    ),
  }),
  v.check(({ parts, runs }) => everySecond(runs, 0, 0, parts.length), 'must have runs of parts that it names'),
  v.check(({ runs }) => everySecond(runs, 1, 1, TILE_AREA), `must have runs of 1 to ${TILE_AREA} pixels`),
  v.check(
    ({ runs }) => runs.reduce((sum, length, k) => sum + (k % 2 === 1 ? length : 0), 0) === TILE_AREA,
    `must cover ${TILE_AREA} pixels`,
  ),
);

function everySecond(numbers: readonly number[], from: 0 | 1, least: number, most: number): boolean {
  return numbers.every((one, k) => k % 2 !== from || (Number.isInteger(one) && one >= least && one <= most));
}

/** Which records a page has, by their keys, and what each may say. */
const RECORDS: readonly (readonly [key: RegExp, schema: v.BaseSchema<unknown, unknown, v.BaseIssue<unknown>>])[] = [
  [/^prep$/, prep],
  [/^trap$/, trapRule],
  [/^hold\/[A-Za-z0-9_-]{1,64}$/, holdRule],
  [new RegExp(`^waiver/(?:${FINDING_KINDS.join('|')})/\\d{1,6},\\d{1,6}$`), waiver],
  [/^certificate$/, certificate],
  [/^linestroke\/[A-Za-z0-9_-]{1,64}$/, lineStroke],
  [/^linecut\/\d{1,6},\d{1,6}$/, oneOf(true)],
  [/^linejoin\/\d{1,6},\d{1,6}-\d{1,6},\d{1,6}$/, oneOf(true)],
  [/^area\/[A-Za-z0-9_-]{1,64}$/, trapArea],
  [/^scene$/, id('a scene')],
  [/^notes$/, textFrom(1, MOST_PAGE_NOTES, isPlainText)],
  [/^key$/, fields({ picture: id('a reference picture'), name: nameUpTo(200) })],
  [/^panels$/, panels],
  [/^fill\/\d{1,6},\d{1,6}$/, fill],
  [/^gap\/\d{1,6},\d{1,6}-\d{1,6},\d{1,6}$/, oneOf('closed', 'open')],
  [/^closure\/\d{1,6},\d{1,6}-\d{1,6},\d{1,6}$/, oneOf(true)],
  [/^ink\/[A-Za-z0-9_-]{1,64}$/, fields({ name: nameUpTo(80), order: finiteNumber, bounds: flag })],
  [/^solid\/\d{1,6},\d{1,6}$/, flag],
  [/^balloon\/\d{1,6},\d{1,6}$/, oneOf('empty', 'drawing')],
  [/^mark\/[A-Za-z0-9_-]{1,64}$/, fields({ part: id('a part'), points: list(point, 1, MOST_MARK_POINTS, 'points') })],
  [/^tile\/\d{1,4},\d{1,4}$/, tile],
  [/^seen\/[A-Za-z0-9,/_-]{1,80}$/, oneOf(true)],
];

/**
 * Checks an edit that came from outside; null takes any record away.
 *
 * @throws RangeError or TypeError naming the key and the rule.
 */
export function checkPageEdit({ key, value }: RecordEdit): void {
  const schema = RECORDS.find(([pattern]) => pattern.test(key))?.[1];
  if (schema === undefined) {
    throw new TypeError(
      `\`key\` must be prep, trap, area/id, hold/id, linestroke/id, waiver/kind/x,y, certificate, linecut/x,y, linejoin/x,y-x,y, scene, notes, key, panels, fill/x,y, gap/x,y-x,y, closure/x,y-x,y, ink/id, solid/x,y, balloon/x,y, mark/id, tile/tx,ty or seen/what; received ${JSON.stringify(key).slice(0, 80)}`,
    );
  }
  if (value === null) return;
  checkRecord(key, schema, value);
  if (schema === fill && key !== `fill/${String((value as { anchors: readonly number[] }).anchors[0])}`)
    throw new RangeError(`\`${key}\` must be named after its first anchor`);
}
