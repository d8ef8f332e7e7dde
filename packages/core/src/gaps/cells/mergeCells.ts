import { ownRoots } from '../../raster/unionFind.ts';
import { type CellComponent, isSameComponent, componentsOf } from './cellComponents.ts';
import type { CellFacts, CellPairs } from '../../model/CellGraph.ts';
import type { Rulings } from '../../model/Ruling.ts';
import type { Cut } from '../../model/Cut.ts';
import { rate } from '../../trees/forest.ts';
import {
  type MergedComponent,
  NOTHING_PARTED,
  type OnDecision,
  type Scoring,
  mergeComponent,
} from './mergeComponent.ts';
import { BOUNDS_SCORE, FIRST_BOUNDS_SCORE, FIRST_FOREST, OWN_FOREST, confidenceOf } from './rateOpening.ts';
import { RIVAL_FEATURES, rivalFeatures } from './rivalFeatures.ts';

export interface Merged {
  /** Group of each cell: one of the group's cells. */
  readonly groupOfCell: Int32Array;
  /** For each cut; -9 for one that components nothing. */
  readonly score: Float64Array;
  /** 0..1 for each cut. */
  readonly confidence: Float64Array;
  /** 1 where the cut bounds regions. */
  readonly bounds: Uint8Array;
}

const OWN_SCORING: Scoring = {
  rate: (features) => rate(FIRST_FOREST, features),
  boundsScore: FIRST_BOUNDS_SCORE,
  again: { rate: (features) => rate(OWN_FOREST, features), boundsScore: BOUNDS_SCORE },
};

/**
 * Joins cells whose openings do not look like gaps, the weakest first, all openings of a pair
 * together; what is left open closes. Cells that hang together by openings are looked at by themselves: where
 * nothing has changed since the last time what came of it is taken over.
 *
 * @param limitPx wider cuts are open.
 * @param texture 0..1 for each cut: how much of it lies in hatching.
 * @param scoring another one; for comparing methods.
 * @param onDecision is told the features each decision was made on, and whether it joined; for fitting the weights.
 */
export function mergeCells(
  cells: CellFacts,
  pairs: CellPairs,
  cuts: readonly Cut[],
  texture: Float64Array,
  lineWidthPx: number,
  limitPx: number,
  rulings: Rulings,
  onDecision?: OnDecision,
  scoring: Scoring = OWN_SCORING,
): Merged {
  const groupOfCell = ownRoots(cells.count);
  const score = new Float64Array(cuts.length).fill(NOTHING_PARTED);
  const mayKeep = onDecision === undefined && scoring === OWN_SCORING;
  for (const component of componentsOf(cells, pairs, cuts, texture, rulings)) {
    const lead = component.cuts[0]!;
    const last = mayKeep ? KNOWN.get(lead) : undefined;
    let merged = last;
    if (
      last === undefined ||
      last.limitPx !== limitPx ||
      last.lineWidthPx !== lineWidthPx ||
      !isSameComponent(last.component, component)
    ) {
      const tell: OnDecision | undefined =
        onDecision &&
        ((local, features, joined, byOutline) =>
          onDecision(
            local.map((p) => component.pair[p]!),
            features,
            joined,
            byOutline,
          ));
      merged = { component, limitPx, lineWidthPx, ...mergeTwice(component, lineWidthPx, limitPx, scoring, tell) };
      if (mayKeep) KNOWN.set(lead, merged);
    }
    takeOver(component, merged!, groupOfCell, score);
  }
  const confidence = new Float64Array(cuts.length);
  const bounds = new Uint8Array(cuts.length);
  for (let k = 0; k < cuts.length; k++) {
    const pair = pairs.ofCut[k]!;
    if (pair < 0) continue;
    confidence[k] = confidenceOf(score[k]!);
    bounds[k] = groupOfCell[pairs.a[pair]!] !== groupOfCell[pairs.b[pair]!] ? 1 : 0;
  }
  return { groupOfCell, score, confidence, bounds };
}

/** Writes what came of a component for the cells and cuts of the page. */
function takeOver(
  component: CellComponent,
  { group, scoreOfPair }: MergedComponent,
  groupOfCell: Int32Array,
  score: Float64Array,
): void {
  for (let k = 0; k < group.length; k++) groupOfCell[component.cell[k]!] = component.cell[group[k]!]!;
  for (let k = 0; k < component.cut.length; k++) {
    const at = scoreOfPair[component.ofCut[k]!]!;
    if (!Number.isNaN(at)) score[component.cut[k]!] = at;
  }
}

/** What came of a component last time, by its first cut. */
interface KnownComponent extends MergedComponent {
  readonly component: CellComponent;
  readonly limitPx: number;
  readonly lineWidthPx: number;
}
const KNOWN = new WeakMap<Cut, KnownComponent>();

/** Joins the cells of one component, and once more from the beginning when it is known how all openings were rated. */
function mergeTwice(
  component: CellComponent,
  lineWidthPx: number,
  limitPx: number,
  scoring: Scoring,
  onDecision: OnDecision | undefined,
): MergedComponent {
  const { again } = scoring;
  const none = new Float64Array(RIVAL_FEATURES.length * component.cuts.length);
  if (again === undefined) return mergeComponent(component, lineWidthPx, limitPx, none, scoring, onDecision);
  const { scoreOfPair } = mergeComponent(component, lineWidthPx, limitPx, none, scoring, undefined);
  const rivals = rivalFeatures(component.cuts, component.ofCut, scoreOfPair, lineWidthPx);
  return mergeComponent(component, lineWidthPx, limitPx, rivals, again, onDecision);
}
