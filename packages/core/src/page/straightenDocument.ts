import { turnTiles } from './turnTiles.ts';
import { SLOPE_UNIT } from '../ink/straighten.ts';
import {
  editArea,
  editBalloon,
  editHold,
  editLineStroke,
  editLineCut,
  editLineJoin,
  editDrawn,
  editFill,
  editMark,
  editPanels,
  editPrep,
  editSolid,
  editTile,
} from './pageEdits.ts';
import type { PageDocument } from '../model/PageDocument.ts';
import type { HoldColour, HoldRule } from '../model/Holds.ts';
import type { RecordEdit } from '../model/records.ts';
import type { Point } from '../model/Point.ts';

/**
 * Turns a page to another slope together with everything that was decided on it: fills, painted pixels,
 * closures drawn by hand, panels, areas with a trap of their own, balloons and solid blacks move along. Rulings on gaps that were found stay under their
 * old places; gaps are found anew.
 */
export function straightenDocument(
  page: PageDocument,
  slopePpm: number | null,
  width: number,
  height: number,
): RecordEdit[] {
  const move = turn(page.prep.slopePpm ?? 0, slopePpm ?? 0, width, height);
  const edits: RecordEdit[] = [editPrep({ ...page.prep, slopePpm })];
  if ((page.prep.slopePpm ?? 0) === (slopePpm ?? 0)) return edits;
  const moved = new Map<string, RecordEdit>();
  const put = (edit: RecordEdit): void => void moved.set(edit.key, edit);
  for (const key of page.fills.keys()) put(editFill(key, null));
  for (const key of page.drawn) put(editDrawn(key, false));
  for (const key of page.solids.keys()) put(editSolid(key, null));
  for (const key of page.balloons.keys()) put(editBalloon(key, null));
  for (const fill of page.fills.values()) {
    const [first, ...rest] = fill.anchors.map(move);
    const y = first![1];
    let x = first![0];
    // Two fills that come to the same pixel stay two.
    while ((moved.get(editFill(`${x},${y}`, null).key)?.value ?? null) !== null) x = (x + 1) % width;
    put(editFill(`${x},${y}`, { ...fill, anchors: [[x, y], ...rest] }));
  }
  const movedPoint = (key: string): string => move(key.split(',').map(Number) as unknown as Point).join();
  for (const key of page.drawn) put(editDrawn(key.split('-').map(movedPoint).join('-'), true));
  for (const [key, own] of page.solids) put(editSolid(movedPoint(key), own));
  for (const [key, ruling] of page.balloons) put(editBalloon(movedPoint(key), ruling));
  for (const [id, mark] of page.marks) put(editMark(id, { ...mark, points: mark.points.map(move) }));
  for (const [id, area] of page.areas) put(editArea(id, { ...area, points: area.points.map(move) }));
  for (const [id, rule] of page.holds) put(editHold(id, { ...rule, ...turned(rule, move) }));
  for (const [id, stroke] of page.lineStrokes) put(editLineStroke(id, { ...stroke, points: stroke.points.map(move) }));
  const { cuts, joins } = page.lineEdits;
  for (const at of cuts) put(editLineCut(at, false));
  for (const [one, two] of joins) put(editLineJoin(one, two, false));
  for (const at of cuts) put(editLineCut(move(at), true));
  for (const [one, two] of joins) put(editLineJoin(move(one), move(two), true));
  for (const square of page.tiles.keys()) put(editTile(square, null));
  const back = turn(slopePpm ?? 0, page.prep.slopePpm ?? 0, width, height);
  for (const [square, tile] of turnTiles(page.tiles, move, back)) put(editTile(square, tile));
  edits.push(...moved.values());
  if (page.panels !== null)
    edits.push(editPanels(page.panels.map((panel) => ({ ...panel, points: panel.points.map(move) }))));
  return edits;
}

/** What of a rule lies on the page moves along. */
function turned({ lines, colour, inScene }: HoldRule, move: (point: Point) => Point): Partial<HoldRule> {
  const select =
    'at' in lines ? { at: lines.at.map(move) } : 'within' in lines ? { within: lines.within.map(move) } : lines;
  const scenes = Object.entries(inScene ?? {}).map(([scene, one]) => [scene, turnedColour(one, move)] as const);
  return {
    lines: select,
    colour: turnedColour(colour, move),
    ...(scenes.length === 0 ? {} : { inScene: Object.fromEntries(scenes) }),
  };
}

function turnedColour(colour: HoldColour, move: (point: Point) => Point): HoldColour {
  if (typeof colour === 'string' || !('gradient' in colour)) return colour;
  const [[from, a], [to, b]] = colour.gradient;
  return {
    gradient: [
      [from, move(a)],
      [to, move(b)],
    ],
  };
}

/** Where a point of the page at one slope lies at another; never off the page. */
function turn(from: number, to: number, width: number, height: number): (point: Point) => Point {
  // From the level page back to the file, and from there to the other level page.
  const a = unit(from);
  const b = unit(to);
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  return ([x, y]) => {
    const fx = (x - cx) * a.cos - (y - cy) * a.sin;
    const fy = (x - cx) * a.sin + (y - cy) * a.cos;
    return [
      clamp(Math.round(cx + fx * b.cos + fy * b.sin), width - 1),
      clamp(Math.round(cy - fx * b.sin + fy * b.cos), height - 1),
    ];
  };
}

function unit(slopePpm: number): { readonly cos: number; readonly sin: number } {
  const slope = slopePpm / SLOPE_UNIT;
  const cos = 1 / Math.sqrt(1 + slope * slope);
  return { cos, sin: slope * cos };
}

function clamp(value: number, most: number): number {
  return value < 0 ? 0 : value > most ? most : value;
}
