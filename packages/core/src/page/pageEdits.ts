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
import type { BalloonRuling, Fill, InkFile, Mark, PageGuide, PagePanel, Prep } from '../model/PageDocument.ts';
import type { Certificate, Waiver } from '../model/Finding.ts';
import type { HoldRule, LineStroke } from '../model/Holds.ts';
import type { Point } from '../model/Point.ts';
import type { TrapArea, TrapRule } from '../model/Trap.ts';
import type { CorrectionTile } from '../model/CorrectionTile.ts';
import type { Ruling } from '../model/Ruling.ts';
import type { Json, RecordEdit } from '../model/records.ts';

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

export function editGuide(key: PageGuide | null): RecordEdit {
  return { key: 'key', value: key as unknown as Json };
}

export function editPrep(prep: Prep): RecordEdit {
  return { key: 'prep', value: prep as unknown as Json };
}

/** Sets the page's trap, or takes it back to the job's (null). */
export function editTrap(trap: TrapRule | null): RecordEdit {
  return { key: 'trap', value: trap as unknown as Json };
}

export function editArea(id: string, area: TrapArea | null): RecordEdit {
  return { key: AREA + id, value: area as unknown as Json };
}

export function editHold(id: string, rule: HoldRule | null): RecordEdit {
  return { key: HOLD + id, value: rule as unknown as Json };
}

/** Cuts a line in two at a point on ink, or takes the cut away. */
export function editLineCut(at: Point, there: boolean): RecordEdit {
  return { key: LINE_CUT + at.join(), value: there ? true : null };
}

/** Makes two line pieces one, by points on them, or takes that back. */
export function editLineJoin(one: Point, two: Point, there: boolean): RecordEdit {
  return { key: `${LINE_JOIN}${one.join()}-${two.join()}`, value: there ? true : null };
}

/** Paints on lines, or takes a stroke away (null). */
export function editLineStroke(id: string, stroke: LineStroke | null): RecordEdit {
  return { key: LINE_STROKE + id, value: stroke as unknown as Json };
}

/** Lets a finding stay, or takes that back (null). @param finding its key. */
export function editWaiver(finding: string, waiver: Waiver | null): RecordEdit {
  return { key: WAIVER + finding, value: waiver as unknown as Json };
}

export function editCertificate(certificate: Certificate | null): RecordEdit {
  return { key: 'certificate', value: certificate as unknown as Json };
}

export function editScene(scene: string | null): RecordEdit {
  return { key: 'scene', value: scene };
}
