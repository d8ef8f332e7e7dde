import {
  AREA,
  BALLOON,
  CLOSURE,
  FILL,
  GAP,
  HOLD,
  INK,
  LINE_CUT,
  LINE_JOIN,
  LINE_STROKE,
  MARK,
  SEEN,
  SOLID,
  TILE,
  WAIVER,
} from './recordKeys.ts';
import {
  type BalloonRuling,
  DEFAULT_PREP,
  type Fill,
  type InkFile,
  type Mark,
  type PageDocument,
  type PageGuide,
  type PagePanel,
  type Prep,
} from '../model/PageDocument.ts';
import type { Certificate, Waiver } from '../model/Finding.ts';
import type { HoldRule, LineStroke } from '../model/Holds.ts';
import type { TrapArea, TrapRule } from '../model/Trap.ts';
import type { Point } from '../model/Point.ts';
import type { CorrectionTile } from '../model/CorrectionTile.ts';
import type { Ruling } from '../model/Ruling.ts';
import type { Records } from '../model/records.ts';

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
  const areas = new Map<string, TrapArea>();
  const holds = new Map<string, HoldRule>();
  const lineStrokes = new Map<string, LineStroke>();
  const waivers = new Map<string, Waiver>();
  const cuts: Point[] = [];
  const joins: [Point, Point][] = [];
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
    else if (key.startsWith(AREA)) areas.set(key.slice(AREA.length), value as unknown as TrapArea);
    else if (key.startsWith(HOLD)) holds.set(key.slice(HOLD.length), value as unknown as HoldRule);
    else if (key.startsWith(WAIVER)) waivers.set(key.slice(WAIVER.length), value as unknown as Waiver);
    else if (key.startsWith(LINE_STROKE))
      lineStrokes.set(key.slice(LINE_STROKE.length), value as unknown as LineStroke);
    else if (key.startsWith(LINE_CUT)) cuts.push(pointOf(key.slice(LINE_CUT.length)));
    else if (key.startsWith(LINE_JOIN)) {
      const [one, two] = key.slice(LINE_JOIN.length).split('-').map(pointOf);
      joins.push([one!, two!]);
    }
  }
  return {
    prep: { ...DEFAULT_PREP, ...(records.get('prep') as unknown as Partial<Prep> | undefined) },
    trap: (records.get('trap') as unknown as TrapRule | undefined) ?? null,
    areas,
    holds,
    lineEdits: { cuts: inOrder(cuts), joins: joins.sort(([a], [b]) => a[1] - b[1] || a[0] - b[0]) },
    lineStrokes,
    waivers,
    certificate: (records.get('certificate') as unknown as Certificate | undefined) ?? null,
    notes: (records.get('notes') as string | undefined) ?? '',
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
    guide: (records.get('key') as unknown as PageGuide | undefined) ?? null,
    tiles,
  };
}

const pointOf = (text: string): Point => text.split(',').map(Number) as unknown as Point;

function inOrder(points: Point[]): Point[] {
  return points.sort((a, b) => a[1] - b[1] || a[0] - b[0]);
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
