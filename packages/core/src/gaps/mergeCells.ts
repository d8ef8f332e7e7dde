import { CELL_FACTS, CLOSED, CUT_FACTS, isSamePart, OPEN, PAIR_FACTS, partsOf, type Part } from './cellParts.ts';
import type { CellFacts, CellPairs, Ruling } from './cellFacts.ts';
import type { Cut } from './Cut.ts';
import { rate } from './forest.ts';
import { SIGNS } from './gapSigns.ts';
import {
  BOUNDS_SCORE,
  confidenceOf,
  FIRST_BOUNDS_SCORE,
  FIRST_FOREST,
  OWN_FOREST,
  TERMS,
  termsOf,
  type OpeningFacts,
} from './rateOpening.ts';
import { RIVAL_SIGNS, rivalSigns } from './rivalSigns.ts';
import { WeakestFirst } from './WeakestFirst.ts';

export interface Merged {
  /** Group of each cell: one of the group's cells. */
  readonly groupOfCell: Int32Array;
  /** For each cut; -9 for one that parts nothing. */
  readonly score: Float64Array;
  /** 0..1 for each cut. */
  readonly confidence: Float64Array;
  /** 1 where the cut bounds regions. */
  readonly bounds: Uint8Array;
}

/** What openings are rated by, and the score from which on they bound regions. */
export interface Scoring {
  readonly rate: (terms: Float64Array) => number;
  readonly boundsScore: number;
  /** All is rated once more by this, knowing the rivals. @default not */
  readonly again?: Scoring;
}
const OWN_SCORING: Scoring = {
  rate: (terms) => rate(FIRST_FOREST, terms),
  boundsScore: FIRST_BOUNDS_SCORE,
  again: { rate: (terms) => rate(OWN_FOREST, terms), boundsScore: BOUNDS_SCORE },
};

/** Signs of an opening's cuts, and of their rivals. */
const SIGN_COUNT = SIGNS.length + RIVAL_SIGNS.length;

/** The score of what parts nothing. */
const NOTHING_PARTED = -9;

interface Opening {
  a: number;
  b: number;
  open: number;
  inked: number;
  /** Sums weighted by width. */
  texture: number;
  /** Where its signs begin. */
  readonly signs: number;
  held: boolean;
  version: number;
}

/**
 * Joins cells whose openings do not look like gaps, the weakest first, all openings of a pair
 * together; what is left open closes. Cells that hang together by openings are looked at by themselves: where
 * nothing has changed since the last time what came of it is taken over.
 *
 * @param limitPx wider cuts are open.
 * @param texture 0..1 for each cut: how much of it lies in hatching.
 * @param scoring another one; for comparing methods.
 * @param onDecision is told the terms each decision was made on, and whether it joined; for fitting the weights.
 */
export function mergeCells(
  cells: CellFacts,
  pairs: CellPairs,
  cuts: readonly Cut[],
  texture: Float64Array,
  lineWidthPx: number,
  limitPx: number,
  rulingOf: (cut: number) => Ruling | undefined,
  onDecision?: OnDecision,
  scoring: Scoring = OWN_SCORING,
): Merged {
  const groupOfCell = Int32Array.from({ length: cells.count }, (_, k) => k);
  const score = new Float64Array(cuts.length).fill(NOTHING_PARTED);
  const mayKeep = onDecision === undefined && scoring === OWN_SCORING;
  for (const part of partsOf(cells, pairs, cuts, texture, rulingOf)) {
    const lead = part.cuts[0]!;
    const last = mayKeep ? KNOWN.get(lead) : undefined;
    let merged = last;
    if (
      last === undefined ||
      last.limitPx !== limitPx ||
      last.lineWidthPx !== lineWidthPx ||
      !isSamePart(last.part, part)
    ) {
      const tell: OnDecision | undefined =
        onDecision &&
        ((local, terms, joined) =>
          onDecision(
            local.map((p) => part.pair[p]!),
            terms,
            joined,
          ));
      merged = { part, limitPx, lineWidthPx, ...mergeTwice(part, lineWidthPx, limitPx, scoring, tell) };
      if (mayKeep) KNOWN.set(lead, merged);
    }
    merged!.group.forEach((cell, k) => (groupOfCell[part.cell[k]!] = part.cell[cell]!));
    part.cut.forEach((cut, k) => {
      const at = merged!.scoreOfPair[part.ofCut[k]!]!;
      if (!Number.isNaN(at)) score[cut] = at;
    });
  }
  const confidence = new Float64Array(cuts.length);
  const bounds = new Uint8Array(cuts.length);
  cuts.forEach((_, k) => {
    const pair = pairs.ofCut[k]!;
    if (pair < 0) return;
    confidence[k] = confidenceOf(score[k]!);
    bounds[k] = groupOfCell[pairs.a[pair]!] !== groupOfCell[pairs.b[pair]!] ? 1 : 0;
  });
  return { groupOfCell, score, confidence, bounds };
}

type OnDecision = (pairs: readonly number[], terms: Float64Array, joined: boolean) => void;

/** What came of a part last time, by its first cut. */
interface KnownPart extends MergedPart {
  readonly part: Part;
  readonly limitPx: number;
  readonly lineWidthPx: number;
}
const KNOWN = new WeakMap<Cut, KnownPart>();

interface MergedPart {
  /** For each cell the one its group is called by. */
  readonly group: Int32Array;
  readonly scoreOfPair: Float64Array;
}

/** Joins the cells of one part, and once more from the beginning when it is known how all openings were rated. */
function mergeTwice(
  part: Part,
  lineWidthPx: number,
  limitPx: number,
  scoring: Scoring,
  onDecision: OnDecision | undefined,
): MergedPart {
  const { again } = scoring;
  const none = new Float64Array(RIVAL_SIGNS.length * part.cuts.length);
  if (again === undefined) return mergeConnected(part, lineWidthPx, limitPx, none, scoring, onDecision);
  const { scoreOfPair } = mergeConnected(part, lineWidthPx, limitPx, none, scoring, undefined);
  const rivals = rivalSigns(part.cuts, part.ofCut, scoreOfPair, lineWidthPx);
  return mergeConnected(part, lineWidthPx, limitPx, rivals, again, onDecision);
}

/** Joins the cells of one part. @param rivals a row of {@link RIVAL_SIGNS} for each cut. */
function mergeConnected(
  part: Part,
  lineWidthPx: number,
  limitPx: number,
  rivals: Float64Array,
  scoring: Scoring,
  onDecision: OnDecision | undefined,
): MergedPart {
  const { cuts, facts } = part;
  const cells = { count: part.cell.length };
  const pairs = { count: part.pair.length };
  const [firstPair, firstCut] = [CELL_FACTS * cells.count, CELL_FACTS * cells.count + PAIR_FACTS * pairs.count];
  const parent = new Int32Array(cells.count);
  const area = new Float64Array(cells.count);
  const radius = new Float64Array(cells.count);
  const walls = new Float64Array(cells.count);
  for (let c = 0; c < cells.count; c++) {
    parent[c] = c;
    area[c] = facts[CELL_FACTS * c]!;
    radius[c] = facts[CELL_FACTS * c + 1]!;
    walls[c] = facts[CELL_FACTS * c + 2]!;
  }
  const find = (cell: number): number => {
    let node = cell;
    while (parent[node] !== node) {
      parent[node] = parent[parent[node]!]!;
      node = parent[node]!;
    }
    return node;
  };
  const openings: (Opening | null)[] = [];
  /** A row for each pair: sums weighted by width. */
  const signs = new Float64Array(SIGN_COUNT * pairs.count);
  for (let p = 0; p < pairs.count; p++) {
    openings.push({
      a: facts[firstPair + PAIR_FACTS * p]!,
      b: facts[firstPair + PAIR_FACTS * p + 1]!,
      open: 0,
      inked: facts[firstPair + PAIR_FACTS * p + 2]!,
      texture: 0,
      signs: SIGN_COUNT * p,
      held: false,
      version: 0,
    });
  }
  const forced: number[] = [];
  for (const [k, cut] of cuts.entries()) {
    const pair = part.ofCut[k]!;
    const opening = openings[pair]!;
    const ruling = facts[firstCut + CUT_FACTS * k + 1]!;
    opening.open += cut.widthPx;
    opening.texture += cut.widthPx * facts[firstCut + CUT_FACTS * k]!;
    addTo(signs, opening.signs, cut.signs, 0, SIGNS.length, cut.widthPx);
    addTo(signs, opening.signs + SIGNS.length, rivals, RIVAL_SIGNS.length * k, RIVAL_SIGNS.length, cut.widthPx);
    if (ruling === CLOSED || cut.kind === 'hand') opening.held = true;
    else if (ruling === OPEN || cut.widthPx > limitPx) forced.push(pair);
  }

  /** For each cell the pair it forms with each neighbour. */
  const ofCell: Map<number, number>[] = [];
  for (let c = 0; c < cells.count; c++) ofCell.push(new Map());
  openings.forEach((opening, p) => {
    ofCell[opening!.a]!.set(opening!.b, p);
    ofCell[opening!.b]!.set(opening!.a, p);
  });
  /** Open width of each cell to all others. */
  const openOf = new Float64Array(cells.count);
  for (const opening of openings) {
    openOf[opening!.a] = openOf[opening!.a]! + opening!.open;
    openOf[opening!.b] = openOf[opening!.b]! + opening!.open;
  }
  const means = new Float64Array(SIGN_COUNT);
  const factsOf = ({ a, b, open, inked, texture: textured, signs: first }: Opening): OpeningFacts => {
    const [smaller, other] = area[a]! < area[b]! || (area[a] === area[b] && a < b) ? [a, b] : [b, a];
    for (let k = 0; k < means.length; k++) means[k] = signs[first + k]! / open;
    return {
      open,
      inked,
      texture: textured / open,
      signs: means,
      areaPx: area[smaller]!,
      radiusPx: radius[smaller]!,
      allOpen: openOf[smaller]!,
      neighbours: ofCell[smaller]!.size,
      otherAreaPx: area[other]!,
      wallsPx: walls[smaller]!,
    };
  };
  const terms = new Float64Array(TERMS.length);
  const termsAt = (opening: Opening): Float64Array => termsOf(factsOf(opening), lineWidthPx, limitPx, terms);
  /** How often each cell, with its openings, has changed; an opening is rated anew only when one of its cells has. */
  const changes = new Int32Array(cells.count);
  const ratedAt = new Int32Array(pairs.count).fill(-1);
  const rated = new Float64Array(pairs.count);
  const score = (p: number): number => {
    const opening = openings[p]!;
    const at = changes[opening.a]! + changes[opening.b]!;
    if (ratedAt[p] !== at) {
      ratedAt[p] = at;
      rated[p] = scoring.rate(termsAt(opening));
    }
    return rated[p]!;
  };

  const heap = new WeakestFirst();
  const queue = (p: number): void => {
    const opening = openings[p]!;
    opening.version++;
    if (!opening.held) heap.push({ score: score(p), pair: p, version: opening.version });
  };
  /** Score at which each first pair was joined. */
  const joinedAt = new Float64Array(pairs.count).fill(NaN);
  const inPair: number[][] = [];
  /** The pair each first pair went into, step by step. */
  const into = new Int32Array(pairs.count);
  for (let p = 0; p < pairs.count; p++) {
    inPair.push([p]);
    into[p] = p;
  }

  const join = (p: number, at: number): void => {
    const opening = openings[p]!;
    // The one with fewer neighbours goes: the outside of a page may have thousands.
    const swap = ofCell[opening.a]!.size < ofCell[opening.b]!.size;
    const [keep, gone] = swap ? [opening.b, opening.a] : [opening.a, opening.b];
    for (const first of inPair[p]!) joinedAt[first] = at;
    openings[p] = null;
    ofCell[keep]!.delete(gone);
    ofCell[gone]!.delete(keep);
    parent[gone] = keep;
    // More than either has counted to: the sum over an opening's two cells only grows.
    changes[keep] = changes[keep]! + changes[gone]! + 1;
    area[keep] = area[keep]! + area[gone]!;
    walls[keep] = Math.max(0, walls[keep]! + walls[gone]! - 2 * opening.inked);
    openOf[keep] = openOf[keep]! + openOf[gone]! - 2 * opening.open;
    radius[keep] = Math.max(radius[keep]!, radius[gone]!);
    for (const [far, other] of ofCell[gone]!) {
      const moved = openings[other]!;
      const twin = ofCell[keep]!.get(far);
      ofCell[far]!.delete(gone);
      changes[far] = changes[far]! + 1;
      if (twin === undefined) {
        moved.a = Math.min(keep, far);
        moved.b = Math.max(keep, far);
        ofCell[keep]!.set(far, other);
        ofCell[far]!.set(keep, other);
        queue(other);
      } else {
        const held = openings[twin]!;
        held.open += moved.open;
        held.inked += moved.inked;
        held.texture += moved.texture;
        addTo(signs, held.signs, signs, moved.signs, SIGN_COUNT, 1);
        held.held ||= moved.held;
        into[other] = twin;
        for (const first of inPair[other]!) inPair[twin]!.push(first);
        openings[other] = null;
        queue(twin);
      }
    }
    ofCell[gone]!.clear();
  };

  // What is ruled open, or wider than the limit, is open before anything else is looked at.
  for (const p of forced) {
    let now = p;
    while (into[now] !== now) now = into[now]!;
    if (openings[now] !== null) join(now, NOTHING_PARTED);
  }
  for (let p = 0; p < openings.length; p++) if (openings[p] !== null) queue(p);
  for (;;) {
    for (let next = heap.pop(); next !== undefined; next = heap.pop()) {
      const opening = openings[next.pair];
      if (opening === null || opening === undefined || opening.version !== next.version) continue;
      // A cell that grew meanwhile changes its pairs' scores: they are looked at when their turn comes.
      const now = score(next.pair);
      if (now > next.score) {
        queue(next.pair);
        continue;
      }
      if (now >= scoring.boundsScore) break;
      onDecision?.(inPair[next.pair]!, termsAt(opening).slice(), true);
      join(next.pair, now);
    }
    const sunk: number[] = [];
    for (const [p, opening] of openings.entries())
      if (opening !== null && !opening.held && score(p) < scoring.boundsScore) sunk.push(p);
    if (sunk.length === 0) break;
    sunk.forEach(queue);
  }

  if (onDecision !== undefined) {
    openings.forEach((opening, p) => opening !== null && onDecision(inPair[p]!, termsAt(opening).slice(), false));
  }
  const scoreOfPair = joinedAt.slice();
  openings.forEach((opening, p) => {
    if (opening !== null) for (const first of inPair[p]!) scoreOfPair[first] = score(p);
  });
  const group = new Int32Array(cells.count);
  for (let c = 0; c < cells.count; c++) group[c] = find(c);
  return { group, scoreOfPair };
}

/** Adds a multiple of `count` numbers from one place on to those from another on, in place. */
function addTo(
  sums: Float64Array,
  to: number,
  values: ArrayLike<number>,
  from: number,
  count: number,
  times: number,
): void {
  for (let k = 0; k < count; k++) sums[to + k] = sums[to + k]! + values[from + k]! * times;
}
