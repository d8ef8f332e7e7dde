import { SURE_FROM } from '../gaps/cells/rateOpening.ts';
import { countSpecks, speckPlaces } from '../ink/clearSpecks.ts';
import { countWidths, sampleWidths } from '../ink/lineWidths.ts';
import { type Solid, findSolids } from '../ink/findSolids.ts';
import { labelInk } from '../ink/labelInk.ts';
import { type Balloon, findBalloons } from '../layout/findBalloons.ts';
import { findLettering } from '../ink/findLettering.ts';
import { findPanels } from '../layout/findPanels.ts';
import { type Panel, contains } from '../layout/Panel.ts';
import type { OpenSurvey } from '../survey/OpenSurvey.ts';
import { type PanelCounts, type Verdict, judgePanel } from './judgePanel.ts';
import { type StrokeFacts, measureStrokes } from './measureStrokes.ts';

/** A panel with what was found in it. */
export interface JudgedPanel extends Panel {
  readonly counts: PanelCounts;
  readonly verdict: Verdict;
}

/** What there is to know about a page's line art. */
export interface LineArtFacts extends StrokeFacts {
  /** How often each line width occurs, in steps of 1/16 px. */
  readonly widthCounts: Uint32Array;
  /** Pieces of ink by size, see {@link countSpecks}. */
  readonly specks: Uint32Array;
  /** See {@link speckPlaces}. */
  readonly speckAt: Float32Array;
  /** The size up to which specks are dirt rather than drawing, in px². */
  readonly speckLimitPx2: number;
  readonly solids: readonly Solid[];
  /** Share of the page that is solid black. */
  readonly solidShare: number;
  readonly panels: readonly JudgedPanel[];
  readonly balloons: readonly Balloon[];
}

/** What is measured next, and the share of the work that is done. */
export interface MeasuringStep {
  readonly text: string;
  readonly share: number;
}

/**
 * Measures the line art of a page and judges each panel.
 *
 * @param corrected panels as the flatter has them; null to find them.
 * @param ruledSolids points of solid blacks that were ruled on.
 */
export function describeLineArt(
  open: OpenSurvey,
  corrected: readonly Pick<Panel, 'points'>[] | null,
  ruledSolids: readonly (readonly [number, number])[] = [],
): LineArtFacts {
  const steps = measureLineArt(open, corrected, ruledSolids);
  for (;;) {
    const step = steps.next();
    if (step.done === true) return step.value;
  }
}

/**
 * The same step by step, so that others can have the processor in between, or the rest be left. Closures may
 * be drawn meanwhile: what is measured looks at ink alone.
 */
export function* measureLineArt(
  open: OpenSurvey,
  corrected: readonly Pick<Panel, 'points'>[] | null,
  ruledSolids: readonly (readonly [number, number])[],
): Generator<MeasuringStep, LineArtFacts> {
  const { survey } = open;
  const { width, height, inkAlpha } = survey;
  const lineWidth = survey.lineWidthPx.median;
  yield { text: 'Pieces of ink', share: 0 };
  const pieces = labelInk(inkAlpha, width, height);
  const specks = countSpecks(pieces);
  yield { text: 'Solid blacks', share: 0.15 };
  const solids = findSolids(survey, lineWidth, ruledSolids);
  yield { text: 'Strokes', share: 0.35 };
  const strokes = measureStrokes(survey);
  yield { text: 'Panels', share: 0.6 };
  const panels =
    corrected === null
      ? findPanels(inkAlpha, width, height)
      : corrected.map(({ points }) => ({ points, framed: true }));
  yield { text: 'Line widths', share: 0.75 };
  const widthCounts = countWidths(sampleWidths(survey.field, open.base.runs, width, height));
  yield { text: 'Balloons', share: 0.85 };
  const balloons = findBalloons(survey, findLettering(pieces, lineWidth, width, height), pieces);
  let solidPx = 0;
  for (const solid of solids) solidPx += solid.areaPx;
  return {
    ...strokes,
    widthCounts,
    specks,
    speckAt: speckPlaces(pieces, MOST_SHOWN),
    speckLimitPx2: dirtLimit(specks, lineWidth),
    solids,
    solidShare: solidPx / (width * height),
    panels: panels.map((panel) => {
      const counts = countIn(panel, open, strokes.strokeStripes);
      return { ...panel, counts, verdict: judgePanel(counts) };
    }),
    balloons,
  };
}

/** More specks than this are counted, not shown. */
const MOST_SHOWN = 20_000;
/** Dots of the drawing itself are seldom smaller than this share of a square of the line. */
const DOT_SHARE = 0.45;

/** Up to half the area of a dot made with the pen; at least single px. */
function dirtLimit(specks: Uint32Array, lineWidthPx: number): number {
  return Math.max(2, Math.min(specks.length - 1, Math.round(DOT_SHARE * lineWidthPx * lineWidthPx)));
}

function countIn(panel: Panel, { base, survey }: OpenSurvey, stripes: StrokeFacts['strokeStripes']): PanelCounts {
  const inside = (x: number, y: number): boolean => contains(panel.points, x + 0.5, y + 0.5);
  let looseEnds = 0;
  const { endAt, endWeight } = base.found ?? { endAt: new Int32Array(0), endWeight: new Float64Array(0) };
  for (let k = 0; k < endWeight.length; k++) {
    if (endWeight[k]! > LEAST_WEIGHT && inside(endAt[2 * k]!, endAt[2 * k + 1]!)) looseEnds++;
  }
  let closed = 0;
  let toRule = 0;
  for (const { from, to, accepted, confidence, ruling, kind } of survey.closures) {
    if (!accepted || !inside((from[0] + to[0]) / 2, (from[1] + to[1]) / 2)) continue;
    closed++;
    if (ruling === null && kind !== 'hand' && confidence < SURE_FROM) toRule++;
  }
  let strokePx = 0;
  for (const { x, y, lengthPx } of stripes) if (inside(x, y)) strokePx += lengthPx;
  const lineWidth = Math.max(1, survey.lineWidthPx.median);
  return { strokeWidths: strokePx / lineWidth, looseEnds, closed, toRule };
}

/** Ends that say less are hatching. */
const LEAST_WEIGHT = 0.3;
