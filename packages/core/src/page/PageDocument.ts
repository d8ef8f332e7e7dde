import { TILE_AREA, type CorrectionTile } from './CorrectionTile.ts';
import type { Ruling } from '../gaps/cellFacts.ts';
import { MOST_SPECK_PX2 } from '../ink/clearSpecks.ts';
import type { DetailRule } from '../ink/findDetail.ts';
import { MAX_SLOPE_PPM } from '../ink/straighten.ts';
import type { InkPoints } from '../ink/measureInkPoints.ts';
import { checkName, fieldsOf } from './checkValue.ts';
import type { Json, RecordEdit, Records } from './records.ts';

/** How the line art is read. */
export interface Prep {
  readonly inkPoints: 'auto' | InkPoints;
  /** Paper pieces below this area in px² are crumbs; 'auto' is the square of the line width, 0 keeps all. */
  readonly crumbLimitPx2: 'auto' | number;
  /** Largest gap to close, in px; 0 closes none. */
  readonly maxGapPx: 'auto' | number;
  /** Slope that is turned level, in px per million px; 0 leaves the page as it lies, null: nobody said yet, the same. */
  readonly slopePpm: number | null;
  /** Whether uneven paper is evened out. */
  readonly flatten: 'auto' | boolean;
  /** Pieces of ink up to this size in px² are wiped out; 0 keeps all, null: nobody said yet, the same. */
  readonly speckLimitPx2: number | null;
  /** Strokes that do not bound regions. */
  readonly detail: DetailRule;
}

/** A panel as the flatter has it. */
export interface PagePanel {
  readonly points: readonly (readonly [number, number])[];
  /** Scene of this panel; null is the page's. */
  readonly scene: string | null;
}

/** An ink file of a page, as the flatter has it. */
export interface InkFile {
  readonly name: string;
  readonly order: number;
  /** Whether regions end at its lines. */
  readonly bounds: boolean;
}

/** What lies at a point that looks like a balloon: left empty, or part of the drawing. */
export type BalloonRuling = 'empty' | 'drawing';

/** How far colour runs under the ink. */
export type TrapRule =
  | { readonly rule: 'middle' }
  /** At most `depthPx` from the paper, and never past the middle. */
  | { readonly rule: 'depth'; readonly depthPx: number };

export const FILL_LOOKS = ['across', 'around', 'shared', 'key', 'done'] as const;
export type FillLook = (typeof FILL_LOOKS)[number];

/** A part given to the regions that hold its anchors. */
export interface Fill {
  readonly part: string;
  /** Points inside paper, `[x, y]` in px. The first one is the fill's key. */
  readonly anchors: readonly (readonly [number, number])[];
  /** Where two fills meet in one region, the later one shows. */
  readonly stamp: number;
  /** Spread from marks, and made anew with them, or read off a colour key. Absent on fills given by hand. */
  readonly by?: 'mark' | 'key';
  /**
   * Why somebody should look at it: it took the part across its longest opening or the one around it, two
   * marks shared it, the key was not plain there, or it was proposed by regions done before. Absent where nobody needs to.
   */
  readonly look?: FillLook;
}

/** A loose stroke that says which part lies where it runs. */
export interface Mark {
  readonly part: string;
  /** `[x, y]` in px, at least one. */
  readonly points: readonly (readonly [number, number])[];
}

/** The colourist's key that lies on a page: a reference picture of the job. */
export interface PageKey {
  readonly picture: string;
  readonly name: string;
}

/** The decisions about one page. Every raster is computed from it and the line art. */
export interface PageDocument {
  readonly prep: Prep;
  readonly trap: TrapRule;
  /** Scene of the page; null is the job's first. */
  readonly scene: string | null;
  /** By key `x,y`. */
  readonly fills: ReadonlyMap<string, Fill>;
  /** Rulings on closures, by their key `x,y-x,y`. */
  readonly rulings: ReadonlyMap<string, Ruling>;
  /** Closures and cuts drawn by hand, as keys `x,y-x,y`. */
  readonly drawn: readonly string[];
  /** Panels in reading order, when someone corrected them; null as they are found. */
  readonly panels: readonly PagePanel[] | null;
  /** By id of the file; the page's own is `main`. */
  readonly inks: ReadonlyMap<string, InkFile>;
  /** Whether a solid black is a region of its own, by its point `x,y`. */
  readonly solids: ReadonlyMap<string, boolean>;
  /** By id. */
  readonly marks: ReadonlyMap<string, Mark>;
  /** Null for none. */
  readonly key: PageKey | null;
  /** What was painted with a pen, by square `tx,ty`. */
  readonly tiles: ReadonlyMap<string, CorrectionTile>;
  /** By point `x,y`. */
  readonly balloons: ReadonlyMap<string, BalloonRuling>;
  /** What was looked at and needs no second look. */
  readonly seen: ReadonlySet<string>;
}

export const DEFAULT_PREP: Prep = {
  inkPoints: 'auto',
  crumbLimitPx2: 'auto',
  maxGapPx: 'auto',
  slopePpm: null,
  flatten: 'auto',
  speckLimitPx2: null,
  detail: { thinnerThanPx: 0, shorterThanPx: 0 },
};
/** Id of the page's own ink file. */
export const MAIN_INK = 'main';
/** Regions as the ink closes them, nothing else. */
export const NO_GAPS_PREP: Prep = { ...DEFAULT_PREP, maxGapPx: 0 };
export const DEFAULT_TRAP: TrapRule = { rule: 'middle' };
const FILL = 'fill/';
const GAP = 'gap/';
const CLOSURE = 'closure/';
const INK = 'ink/';
const SOLID = 'solid/';
const BALLOON = 'balloon/';
const SEEN = 'seen/';
const MARK = 'mark/';
const TILE = 'tile/';

/** Reads the typed document out of its records; what is absent has its default. */
export function readPageDocument(records: Records): PageDocument {
  const fills = new Map<string, Fill>();
  const rulings = new Map<string, Ruling>();
  const drawn: string[] = [];
  const inks = new Map<string, InkFile>();
  const solids = new Map<string, boolean>();
  const balloons = new Map<string, BalloonRuling>();
  const seen = new Set<string>();
  const marks = new Map<string, Mark>();
  const tiles = new Map<string, CorrectionTile>();
  for (const [key, value] of records) {
    if (key.startsWith(FILL)) fills.set(key.slice(FILL.length), value as unknown as Fill);
    else if (key.startsWith(GAP)) rulings.set(key.slice(GAP.length), value as Ruling);
    else if (key.startsWith(CLOSURE)) drawn.push(key.slice(CLOSURE.length));
    else if (key.startsWith(INK)) inks.set(key.slice(INK.length), value as unknown as InkFile);
    else if (key.startsWith(SOLID)) solids.set(key.slice(SOLID.length), value as boolean);
    else if (key.startsWith(BALLOON)) balloons.set(key.slice(BALLOON.length), value as BalloonRuling);
    else if (key.startsWith(SEEN)) seen.add(key.slice(SEEN.length));
    else if (key.startsWith(MARK)) marks.set(key.slice(MARK.length), value as unknown as Mark);
    else if (key.startsWith(TILE)) tiles.set(key.slice(TILE.length), value as unknown as CorrectionTile);
  }
  return {
    prep: { ...DEFAULT_PREP, ...(records.get('prep') as unknown as Partial<Prep> | undefined) },
    trap: (records.get('trap') as unknown as TrapRule | undefined) ?? DEFAULT_TRAP,
    scene: (records.get('scene') as string | undefined) ?? null,
    fills,
    rulings,
    drawn: drawn.sort(),
    panels: (records.get('panels') as unknown as readonly PagePanel[] | undefined) ?? null,
    inks,
    solids,
    balloons,
    seen,
    marks,
    key: (records.get('key') as unknown as PageKey | undefined) ?? null,
    tiles,
  };
}

/** Points of the solid blacks that are regions of their own, in a lasting order. */
export function ownSolids({ solids }: Pick<PageDocument, 'solids'>): (readonly [number, number])[] {
  return [...solids]
    .filter(([, own]) => own)
    .map(([key]) => key.split(',').map(Number) as unknown as readonly [number, number])
    .sort((a, b) => a[1] - b[1] || a[0] - b[0]);
}

/** The scenes a page shows: its own first, then those its panels have instead. */
export function scenesShown({ scene, panels }: Pick<PageDocument, 'scene' | 'panels'>): (string | null)[] {
  const further = (panels ?? []).map((panel) => panel.scene).filter((one) => one !== null && one !== scene);
  return [scene, ...new Set(further)];
}

export function editFill(key: string, fill: Fill | null): RecordEdit {
  return { key: FILL + key, value: fill as unknown as Json };
}
/** Rules on a closure, or takes the ruling back (null). */
export function editRuling(closureKey: string, ruling: Ruling | null): RecordEdit {
  return { key: GAP + closureKey, value: ruling };
}
/** Draws a closure by hand, or takes it away. */
export function editDrawn(closureKey: string, there: boolean): RecordEdit {
  return { key: CLOSURE + closureKey, value: there ? true : null };
}
export function editPanels(panels: readonly PagePanel[] | null): RecordEdit {
  return { key: 'panels', value: panels as unknown as Json };
}
export function editInkFile(id: string, file: InkFile | null): RecordEdit {
  return { key: INK + id, value: file as unknown as Json };
}
/** Makes the solid black at a point a region of its own or not, or takes the ruling back (null). */
export function editSolid(point: string, ownRegion: boolean | null): RecordEdit {
  return { key: SOLID + point, value: ownRegion };
}
export function editBalloon(point: string, ruling: BalloonRuling | null): RecordEdit {
  return { key: BALLOON + point, value: ruling };
}
export function editSeen(what: string, seen: boolean): RecordEdit {
  return { key: SEEN + what, value: seen ? true : null };
}
export function editMark(id: string, mark: Mark | null): RecordEdit {
  return { key: MARK + id, value: mark as unknown as Json };
}
/** Sets what is painted in a square, or wipes it (null). */
export function editTile(square: string, tile: CorrectionTile | null): RecordEdit {
  return { key: TILE + square, value: tile as unknown as Json };
}
export function editKey(key: PageKey | null): RecordEdit {
  return { key: 'key', value: key as unknown as Json };
}
export function editPrep(prep: Prep): RecordEdit {
  return { key: 'prep', value: prep as unknown as Json };
}
export function editTrap(trap: TrapRule): RecordEdit {
  return { key: 'trap', value: trap as unknown as Json };
}
export function editScene(scene: string | null): RecordEdit {
  return { key: 'scene', value: scene };
}

/** Most anchors one fill may carry. */
const MAX_ANCHORS = 100_000;
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

const CLOSURE_KEY = /^(?:gap|closure)\/\d{1,6},\d{1,6}-\d{1,6},\d{1,6}$/;
const INK_KEY = /^ink\/[A-Za-z0-9_-]{1,64}$/;
const POINT_KEY = /^(?:solid|balloon)\/\d{1,6},\d{1,6}$/;
const MARK_KEY = /^mark\/[A-Za-z0-9_-]{1,64}$/;
const TILE_KEY = /^tile\/\d{1,4},\d{1,4}$/;
const SEEN_KEY = /^seen\/[A-Za-z0-9,/_-]{1,80}$/;
const ID = /^[A-Za-z0-9_-]{1,64}$/;

function checkPrep(value: Json): void {
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

const PREP_FIELDS = Object.keys(DEFAULT_PREP);

/** Most panels a page may have, and corners a panel. */
const MOST_PANELS = 60;
const MOST_CORNERS = 60;

function checkPanels(value: Json): void {
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

function checkInkFile(key: string, value: Json): void {
  const { name, order, bounds } = fieldsOf(key, value, ['name', 'order', 'bounds']);
  checkName(`${key}.name`, name, 80);
  if (typeof order !== 'number' || !Number.isFinite(order)) throw new RangeError(`\`${key}.order\` must be a number`);
  if (typeof bounds !== 'boolean') throw new TypeError(`\`${key}.bounds\` must be true or false`);
}

function checkTrap(value: Json): void {
  const { rule, depthPx } = fieldsOf('trap', value, ['rule', 'depthPx']);
  if (rule === 'middle') return;
  if (rule !== 'depth') throw new TypeError('`trap.rule` must be middle or depth');
  checkInteger('depthPx', depthPx, 1, MAX_TRAP_DEPTH_PX);
}

/** Most points one mark may have. */
const MOST_MARK_POINTS = 5000;

function checkMark(key: string, value: Json): void {
  const { part, points } = fieldsOf(key, value, ['part', 'points']);
  checkPart(key, part);
  checkPoints(`${key}.points`, points, MOST_MARK_POINTS);
}

function checkKey(value: Json): void {
  const { picture, name } = fieldsOf('key', value, ['picture', 'name']);
  if (typeof picture !== 'string' || !ID.test(picture))
    throw new TypeError('`key.picture` must be the id of a reference picture');
  checkName('key.name', name, 200);
}

/** Most parts that may meet in one square. */
const MOST_TILE_PARTS = 500;

function checkTile(key: string, value: Json): void {
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

function checkPart(key: string, part: Json | undefined): void {
  if (typeof part !== 'string' || !ID.test(part)) {
    throw new TypeError(`\`${key}.part\` must be the id of a part`);
  }
}

function checkPoints(name: string, points: Json | undefined, most: number): asserts points is readonly Json[] {
  if (!Array.isArray(points) || points.length < 1 || points.length > most) {
    throw new RangeError(`\`${name}\` must hold 1 to ${most} points`);
  }
  for (const point of points as Json[]) {
    if (!Array.isArray(point) || point.length !== 2) throw new TypeError(`\`${name}\` must hold [x, y] pairs`);
    checkInteger('x', point[0] as Json, 0, 999_999);
    checkInteger('y', point[1] as Json, 0, 999_999);
  }
}

function checkFill(key: string, value: Json): void {
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

function checkInteger(name: string, value: Json | undefined, least: number, most: number): void {
  if (typeof value !== 'number' || !Number.isInteger(value) || value < least || value > most) {
    throw new RangeError(
      `\`${name}\` must be an integer from ${least} to ${most}; received ${JSON.stringify(value ?? null)}`,
    );
  }
}
