import { FILL, GAP, SOLID } from './recordKeys.ts';
import { DEFAULT_PREP, FILL_LOOKS, type FillLook } from '../model/PageDocument.ts';
import { TILE_AREA } from '../model/CorrectionTile.ts';
import { MOST_SPECK_PX2 } from '../ink/clearSpecks.ts';
import { MAX_SLOPE_PPM } from '../ink/straighten.ts';
import { checkName, fieldsOf } from './checkValue.ts';
import type { Json, RecordEdit } from '../model/records.ts';

/** Most anchors one fill may carry. */
export const MAX_ANCHORS = 100_000;

export const MAX_TRAP_DEPTH_PX = 200;

/**
 * Checks an edit that came from outside.
 *
 * @throws RangeError or TypeError naming the key and the rule.
 */
export function checkPageEdit(edit: RecordEdit): void {
  const { key, value } = edit;
  if (key === 'prep') return value === null ? undefined : checkPrep(value);
  if (key === 'trap') return value === null ? undefined : checkTrap(value);
  if (key === 'scene') {
    if (value === null || (typeof value === 'string' && ID.test(value))) return;
    throw new TypeError('`scene` must be the id of a scene or null');
  }
  if (/^fill\/\d{1,6},\d{1,6}$/.test(key)) {
    return value === null ? undefined : checkFill(key, value);
  }
  if (CLOSURE_KEY.test(key)) {
    const allowed: readonly Json[] = key.startsWith(GAP) ? [null, 'closed', 'open'] : [null, true];
    if (allowed.includes(value)) return;
    throw new TypeError(`\`${key}\` must be one of ${JSON.stringify(allowed)}`);
  }
  if (key === 'key') return value === null ? undefined : checkKey(value);
  if (key === 'panels') return value === null ? undefined : checkPanels(value);
  if (INK_KEY.test(key)) return value === null ? undefined : checkInkFile(key, value);
  if (POINT_KEY.test(key)) {
    const allowed: readonly Json[] = key.startsWith(SOLID) ? [null, true, false] : [null, 'empty', 'drawing'];
    if (allowed.includes(value)) return;
    throw new TypeError(`\`${key}\` must be one of ${JSON.stringify(allowed)}`);
  }
  if (MARK_KEY.test(key)) return value === null ? undefined : checkMark(key, value);
  if (TILE_KEY.test(key)) return value === null ? undefined : checkTile(key, value);
  if (SEEN_KEY.test(key)) {
    if (value === null || value === true) return;
    throw new TypeError(`\`${key}\` must be true or null`);
  }
  throw new TypeError(
    `\`key\` must be prep, trap, scene, key, panels, fill/x,y, gap/x,y-x,y, closure/x,y-x,y, ink/id, solid/x,y, balloon/x,y, mark/id, tile/tx,ty or seen/what; received ${JSON.stringify(key).slice(0, 80)}`,
  );
}

export const CLOSURE_KEY = /^(?:gap|closure)\/\d{1,6},\d{1,6}-\d{1,6},\d{1,6}$/;

export const INK_KEY = /^ink\/[A-Za-z0-9_-]{1,64}$/;

export const POINT_KEY = /^(?:solid|balloon)\/\d{1,6},\d{1,6}$/;

export const MARK_KEY = /^mark\/[A-Za-z0-9_-]{1,64}$/;

export const TILE_KEY = /^tile\/\d{1,4},\d{1,4}$/;

export const SEEN_KEY = /^seen\/[A-Za-z0-9,/_-]{1,80}$/;

export const ID = /^[A-Za-z0-9_-]{1,64}$/;

export function checkPrep(value: Json): void {
  const { inkPoints, crumbLimitPx2, maxGapPx, slopePpm, flatten, speckLimitPx2, detail } = fieldsOf(
    'prep',
    value,
    PREP_FIELDS,
  );
  if (inkPoints !== 'auto') {
    const points = fieldsOf('prep.inkPoints', inkPoints, ['blackPoint', 'whitePoint']);
    checkInteger('blackPoint', points.blackPoint, 0, 254);
    checkInteger('whitePoint', points.whitePoint, 1, 255);
    if ((points.blackPoint as number) >= (points.whitePoint as number)) {
      throw new RangeError('`blackPoint` must be below `whitePoint`');
    }
  }
  if (crumbLimitPx2 !== undefined && crumbLimitPx2 !== 'auto')
    checkInteger('crumbLimitPx2', crumbLimitPx2, 0, 1_000_000);
  if (maxGapPx !== undefined && maxGapPx !== 'auto') checkInteger('maxGapPx', maxGapPx, 0, 4000);
  if (slopePpm !== undefined && slopePpm !== null) checkInteger('slopePpm', slopePpm, -MAX_SLOPE_PPM, MAX_SLOPE_PPM);
  if (flatten !== undefined && ![true, false, 'auto'].includes(flatten as boolean | string))
    throw new TypeError('`flatten` must be auto, true or false');
  if (speckLimitPx2 !== undefined && speckLimitPx2 !== null)
    checkInteger('speckLimitPx2', speckLimitPx2, 0, MOST_SPECK_PX2);
  if (detail !== undefined) {
    const { thinnerThanPx, shorterThanPx } = fieldsOf('prep.detail', detail, ['thinnerThanPx', 'shorterThanPx']);
    checkInteger('thinnerThanPx', thinnerThanPx, 0, 60);
    checkInteger('shorterThanPx', shorterThanPx, 0, 2000);
  }
}

export const PREP_FIELDS = Object.keys(DEFAULT_PREP);

/** Most panels a page may have, and corners a panel. */
export const MOST_PANELS = 60;

export const MOST_CORNERS = 60;

export function checkPanels(value: Json): void {
  if (!Array.isArray(value) || value.length > MOST_PANELS)
    throw new RangeError(`\`panels\` must hold at most ${MOST_PANELS} panels`);
  for (const one of value as Json[]) {
    const { points, scene } = fieldsOf('panels', one, ['points', 'scene']);
    if (scene !== null && (typeof scene !== 'string' || !ID.test(scene)))
      throw new TypeError('`panels.scene` must be the id of a scene or null');
    if (!Array.isArray(points) || points.length < 3 || points.length > MOST_CORNERS)
      throw new RangeError(`\`panels.points\` must hold 3 to ${MOST_CORNERS} corners`);
    for (const point of points as Json[]) {
      if (!Array.isArray(point) || point.length !== 2) throw new TypeError('`panels.points` must hold [x, y] pairs');
      checkInteger('x', point[0] as Json, 0, 999_999);
      checkInteger('y', point[1] as Json, 0, 999_999);
    }
  }
}

export function checkInkFile(key: string, value: Json): void {
  const { name, order, bounds } = fieldsOf(key, value, ['name', 'order', 'bounds']);
  checkName(`${key}.name`, name, 80);
  if (typeof order !== 'number' || !Number.isFinite(order)) throw new RangeError(`\`${key}.order\` must be a number`);
  if (typeof bounds !== 'boolean') throw new TypeError(`\`${key}.bounds\` must be true or false`);
}

export function checkTrap(value: Json): void {
  const { rule, depthPx } = fieldsOf('trap', value, ['rule', 'depthPx']);
  if (rule === 'middle') return;
  if (rule !== 'depth') throw new TypeError('`trap.rule` must be middle or depth');
  checkInteger('depthPx', depthPx, 1, MAX_TRAP_DEPTH_PX);
}

/** Most points one mark may have. */
export const MOST_MARK_POINTS = 5000;

export function checkMark(key: string, value: Json): void {
  const { part, points } = fieldsOf(key, value, ['part', 'points']);
  checkPart(key, part);
  checkPoints(`${key}.points`, points, MOST_MARK_POINTS);
}

export function checkKey(value: Json): void {
  const { picture, name } = fieldsOf('key', value, ['picture', 'name']);
  if (typeof picture !== 'string' || !ID.test(picture))
    throw new TypeError('`key.picture` must be the id of a reference picture');
  checkName('key.name', name, 200);
}

/** Most parts that may meet in one square. */
export const MOST_TILE_PARTS = 500;

export function checkTile(key: string, value: Json): void {
  const { parts, runs } = fieldsOf(key, value, ['parts', 'runs']);
  if (!Array.isArray(parts) || parts.length < 1 || parts.length > MOST_TILE_PARTS)
    throw new RangeError(`\`${key}.parts\` must hold 1 to ${MOST_TILE_PARTS} parts`);
  for (const part of parts as Json[]) checkPart(key, part);
  if (!Array.isArray(runs) || runs.length % 2 !== 0) throw new TypeError(`\`${key}.runs\` must hold pairs of numbers`);
  let sum = 0;
  for (let k = 0; k < runs.length; k += 2) {
    checkInteger(`${key}.runs`, runs[k] as Json, 0, parts.length);
    checkInteger(`${key}.runs`, runs[k + 1] as Json, 1, TILE_AREA);
    sum += runs[k + 1] as number;
  }
  if (sum !== TILE_AREA) throw new RangeError(`\`${key}.runs\` must cover ${TILE_AREA} pixels; they cover ${sum}`);
}

export function checkPart(key: string, part: Json | undefined): void {
  if (typeof part !== 'string' || !ID.test(part)) {
    throw new TypeError(`\`${key}.part\` must be the id of a part`);
  }
}

export function checkPoints(name: string, points: Json | undefined, most: number): asserts points is readonly Json[] {
  if (!Array.isArray(points) || points.length < 1 || points.length > most) {
    throw new RangeError(`\`${name}\` must hold 1 to ${most} points`);
  }
  for (const point of points as Json[]) {
    if (!Array.isArray(point) || point.length !== 2) throw new TypeError(`\`${name}\` must hold [x, y] pairs`);
    checkInteger('x', point[0] as Json, 0, 999_999);
    checkInteger('y', point[1] as Json, 0, 999_999);
  }
}

export function checkFill(key: string, value: Json): void {
  const { part, anchors, stamp, by, look } = fieldsOf(key, value, ['part', 'anchors', 'stamp', 'by', 'look']);
  checkPart(key, part);
  if (by !== undefined && by !== 'mark' && by !== 'key')
    throw new TypeError(`\`${key}.by\` must be mark, key or absent`);
  if (look !== undefined && !FILL_LOOKS.includes(look as FillLook))
    throw new TypeError(`\`${key}.look\` must be one of ${FILL_LOOKS.join(', ')} or absent`);
  checkInteger(`${key}.stamp`, stamp, 0, Number.MAX_SAFE_INTEGER);
  checkPoints(`${key}.anchors`, anchors, MAX_ANCHORS);
  if (key !== `${FILL}${String(anchors[0])}`) throw new RangeError(`\`${key}\` must be named after its first anchor`);
}

export function checkInteger(name: string, value: Json | undefined, least: number, most: number): void {
  if (typeof value !== 'number' || !Number.isInteger(value) || value < least || value > most) {
    throw new RangeError(
      `\`${name}\` must be an integer from ${least} to ${most}; received ${JSON.stringify(value ?? null)}`,
    );
  }
}
