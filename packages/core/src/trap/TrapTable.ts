import { SOLID_WIDTHS } from '../ink/findSolids.ts';
import type { Point } from '../model/Point.ts';
import type { Survey } from '../model/Survey.ts';
import type { Pinholes } from './findPinholes.ts';
import type { SolidInk } from './markSolids.ts';
import type { RegionTrap } from './RegionTrap.ts';

/** What of the ink itself trap depends on, found once for a page. */
export interface TrapInk {
  /** Paper inside strokes that takes colour as if it were ink; null for none. */
  readonly pinholes: Pinholes | null;
  /** Null where there are none, or they are treated as lines are. */
  readonly solids: SolidInk | null;
}

export const NO_TRAP_INK: TrapInk = { pinholes: null, solids: null };

/** How colour runs under the ink, ready to be looked up pixel by pixel. */
export interface TrapTable {
  /** Place of each cell's rule in the tables below. */
  readonly ruleOfCell: Uint16Array;
  /** Squares of the rules' depths, in px²; Infinity = to the middle. */
  readonly depth2: Float64Array;
  /** Squares of the rules' margins; -1 where colour does not pass the middle. */
  readonly margin2: Float64Array;
  /** The least margin of all rules that have one, squared; Infinity for none. */
  readonly leastMargin2: number;
  readonly rankOfCell: Uint16Array;
  readonly areas: readonly AreaOutline[];
  readonly solids: SolidInk | null;
  readonly solidDepth2: number;
  readonly pinholes: Pinholes | null;
  /** Wider than this, in px, ink is no line and has no other side. */
  readonly acrossPx: number;
  /** To the middle everywhere: nothing has to be looked up. */
  readonly isMiddle: boolean;
}

export interface AreaOutline {
  readonly points: readonly Point[];
  readonly rule: number;
  /** First row and the one after the last. */
  readonly top: number;
  readonly bottom: number;
}

/** Turns rules of regions into tables by cell. Cost: by cells and areas, not by pixels. */
export function compileTrap(
  survey: Pick<Survey, 'regions' | 'cellCount' | 'lineWidthPx'>,
  trap: RegionTrap,
  ink: TrapInk,
): TrapTable {
  const { ofCell } = survey.regions;
  const ruleOfCell = new Uint16Array(survey.cellCount);
  const rankOfCell = new Uint16Array(survey.cellCount);
  for (let cell = 0; cell < survey.cellCount; cell++) {
    ruleOfCell[cell] = trap.ruleOfRegion[ofCell[cell]!]!;
    rankOfCell[cell] = trap.rankOfRegion[ofCell[cell]!]!;
  }
  const margin2 = Float64Array.from(trap.rules, ({ marginPx }) => (marginPx === null ? -1 : marginPx * marginPx));
  const depth2 = Float64Array.from(trap.rules, ({ depthPx }) => depthPx * depthPx);
  const margins = margin2.filter((margin) => margin >= 0);
  const solids = trap.solidDepthPx === null ? null : ink.solids;
  return {
    ruleOfCell,
    depth2,
    margin2,
    leastMargin2: Math.min(Infinity, ...margins),
    rankOfCell,
    areas: trap.areas.map(({ points, rule }) => ({
      points,
      rule,
      top: Math.min(...points.map(([, y]) => y)),
      bottom: Math.max(...points.map(([, y]) => y)),
    })),
    solids,
    solidDepth2: (trap.solidDepthPx ?? 0) ** 2,
    pinholes: ink.pinholes,
    acrossPx: Math.ceil(SOLID_WIDTHS * survey.lineWidthPx.median),
    isMiddle: margins.length === 0 && solids === null && depth2.every((depth) => depth === Infinity),
  };
}
