import type { Mark } from '../model/PageDocument.ts';
import { findRoot } from '../raster/unionFind.ts';
import type { BorderLengths } from '../regions/measureBorders.ts';
import type { Survey } from '../model/Survey.ts';
import { cutsBetween, joinAdopted, openingsOf } from './openings.ts';

/** How marks spread. */
export interface SpreadOptions {
  /** Openings from this confidence on hold; marks run through the others. 0..1 */
  readonly holdFrom: number;
  /** Up to this share of a mark may lie over a line without counting. 0..1 */
  readonly stray: number;
}
export const DEFAULT_SPREAD: SpreadOptions = { holdFrom: 0.7, stray: 0.2 };

/** What to look at, and why. */
export interface SpreadLook {
  readonly cell: number;
  /** It took the part across its longest opening, the part around it, or two marks share it. */
  readonly why: 'across' | 'around' | 'shared';
}

/** Two parts are marked in one cell: where each of them is. */
export interface SharedCell {
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
}

export interface MarkSpread {
  /** Part of each cell, null where nothing reached it. */
  readonly partOfCell: readonly (string | null)[];
  readonly looks: readonly SpreadLook[];
  readonly shared: readonly SharedCell[];
  /** Keys of cuts that have to be closed: between parts, in one region so far. */
  readonly closures: readonly string[];
}

export interface SpreadInput {
  readonly survey: Pick<Survey, 'width' | 'height' | 'field' | 'graph' | 'closures' | 'regions' | 'lineWidthPx'>;
  readonly borders: BorderLengths;
  readonly marks: readonly Mark[];
  /** Parts that stand whatever the marks say, by region; null for none. */
  readonly heldParts: readonly (string | null)[];
  /** 1 for regions that may be given; null for the whole page. */
  readonly within: Uint8Array | null;
}

/** A shape without a mark takes the part around it where so much of its border has one: a place nobody marked stays open. */
const SURROUNDED = 0.75;
/** Of two parts in one cell the lesser counts as meant from this share of its marks on. */
const REAL_SHARE = 0.2;

/**
 * Spreads marks over the cells of a page: every boundary between two parts runs along ink or across the
 * least likely passage. Cells are joined through openings in the order of how little these look like
 * gaps (a minimum spanning forest rooted in the marks, Cousty and others 2009); what no mark reaches takes
 * the part across its longest opening, then the one around it, and is listed.
 *
 * Cost: by cells, cuts and mark px, not by the page.
 */
export function spreadMarks(
  { survey, borders, marks, heldParts, within }: SpreadInput,
  options: SpreadOptions = DEFAULT_SPREAD,
): MarkSpread {
  const { graph, regions } = survey;
  const count = graph.cells.count;
  const parts = [...new Set([...marks.map((mark) => mark.part), ...heldParts.filter((part) => part !== null)])];
  const numberOf = new Map(parts.map((part, k) => [part, k]));
  const mayTake = (cell: number): boolean => within === null || within[regions.ofCell[cell]!] === 1;

  // Seeds: parts that stand, then what the marks say.
  const label = new Int32Array(count).fill(-1);
  for (let c = 0; c < count; c++) {
    const part = heldParts[regions.ofCell[c]!];
    if (part !== null && part !== undefined) label[c] = numberOf.get(part)!;
  }
  const held = label.slice();
  const { firm, soft, shared, sharedCells } = seedsOf(survey, marks, numberOf, options.stray, label);
  for (const [cell, part] of firm) if (mayTake(cell)) label[cell] = part;

  // Through openings, those least like a gap first.
  const openings = openingsOf(survey);
  const parent = Int32Array.from({ length: count }, (_, k) => k);
  const softOf = new Map<number, Map<number, number>>(soft);
  const join = (one: number, two: number): void => {
    const [a, b] = [findRoot(parent, one), findRoot(parent, two)];
    if (a === b) return;
    const [keep, gone] = a < b ? [a, b] : [b, a];
    parent[gone] = keep;
    if (label[keep]! < 0) label[keep] = label[gone]!;
    const more = softOf.get(gone);
    if (more === undefined) return;
    const known = softOf.get(keep) ?? new Map<number, number>();
    for (const [part, px] of more) known.set(part, (known.get(part) ?? 0) + px);
    softOf.set(keep, known);
  };
  joinAdopted(survey, openings, join);
  const order = [...openings].sort((p, q) => p.hold - q.hold || q.widthPx - p.widthPx || p.a - q.a || p.b - q.b);
  for (const { a, b, hold } of order) {
    if (hold >= options.holdFrom) break;
    if (!mayTake(a) || !mayTake(b)) continue;
    const [one, two] = [label[findRoot(parent, a)]!, label[findRoot(parent, b)]!];
    if (one < 0 || two < 0 || one === two) join(a, b);
  }
  // What only the ends of marks touch.
  for (const [cell, ofPart] of softOf) {
    const root = findRoot(parent, cell);
    if (root !== cell || label[root]! >= 0 || !mayTake(cell)) continue;
    label[root] = [...ofPart].reduce((best, one) => (one[1] > best[1] ? one : best))[0];
  }

  const looks: SpreadLook[] = sharedCells.map((cell) => ({ cell, why: 'shared' }));
  const anyMark = label.some((part) => part >= 0);
  if (anyMark) {
    const areaOf = graph.cells.areaPx;
    const atEdge = groupsAtEdge(survey, parent);
    const takeFrom = (pairs: Iterable<{ a: number; b: number; px: number }>, why: 'across' | 'around'): void => {
      const list = [...pairs];
      for (;;) {
        const all = new Map<number, number>();
        // For each open group the part with the longest border to it, all at once, so that no order decides.
        const wants = new Map<number, Map<number, number>>();
        for (const { a, b, px } of list) {
          const [one, two] = [findRoot(parent, a), findRoot(parent, b)];
          for (const [open, other] of [
            [one, two],
            [two, one],
          ] as const) {
            if (open === other || label[open]! >= 0 || !mayTake(open)) continue;
            all.set(open, (all.get(open) ?? 0) + px);
            if (label[other]! < 0) continue;
            const ofPart = wants.get(open) ?? new Map<number, number>();
            ofPart.set(label[other]!, (ofPart.get(label[other]!) ?? 0) + px);
            wants.set(open, ofPart);
          }
        }
        let taken = false;
        for (const [open, ofPart] of wants) {
          const known = [...ofPart.values()].reduce((sum, px) => sum + px, 0);
          if (why === 'around' && (atEdge[open] === 1 || known < SURROUNDED * all.get(open)!)) continue;
          taken = true;
          label[open] = [...ofPart].reduce((best, one) =>
            one[1] > best[1] || (one[1] === best[1] && one[0] < best[0]) ? one : best,
          )[0];
          if (areaOf[open]! > 0) looks.push({ cell: open, why });
        }
        if (!taken) return;
      }
    };
    takeFrom(
      openings.map(({ a, b, widthPx }) => ({ a, b, px: widthPx })),
      'across',
    );
    takeFrom(
      Array.from({ length: borders.count }, (_, k) => ({ a: borders.a[k]!, b: borders.b[k]!, px: borders.px[k]! })),
      'around',
    );
  }

  const final = Int32Array.from(parent, (_, cell) => (held[cell]! >= 0 ? held[cell]! : label[findRoot(parent, cell)]!));
  return {
    partOfCell: Array.from(final, (part) => (part < 0 ? null : parts[part]!)),
    looks,
    shared,
    closures: cutsBetween(survey, final),
  };
}

interface Seeds {
  readonly firm: ReadonlyMap<number, number>;
  /** Length of marks of each part in cells that none of them stays in. */
  readonly soft: ReadonlyMap<number, Map<number, number>>;
  readonly shared: readonly SharedCell[];
  readonly sharedCells: readonly number[];
}

/** Which cells the marks belong to: by the share of a mark in a cell, strays left out. */
function seedsOf(
  { width, height, field, regions, lineWidthPx }: SpreadInput['survey'],
  marks: readonly Mark[],
  numberOf: ReadonlyMap<string, number>,
  stray: number,
  held: Int32Array,
): Seeds {
  /** For each cell what the marks of each part say of it. */
  const meant = new Map<number, Map<number, Meant>>();
  const soft = new Map<number, Map<number, number>>();
  const touch = (cell: number, part: number, px: number): void => {
    const ofPart = soft.get(cell) ?? new Map<number, number>();
    ofPart.set(part, (ofPart.get(part) ?? 0) + px);
    soft.set(cell, ofPart);
  };
  /** Regions that some mark stays in. */
  const marked = new Set<number>();
  const longest = LONGEST_STRAY * lineWidthPx.median;
  for (const mark of marks) {
    const part = numberOf.get(mark.part)!;
    for (const { cell, px, at, strays, passes } of stretchesOf(mark, width, height, field, stray, longest)) {
      if (held[cell]! >= 0) continue;
      if (strays) {
        touch(cell, part, px);
        continue;
      }
      if (!passes) marked.add(regions.ofCell[cell]!);
      const ofPart = meant.get(cell) ?? new Map<number, Meant>();
      const known = ofPart.get(part) ?? { px: 0, stayedPx: 0, at };
      ofPart.set(part, { ...known, px: known.px + px, stayedPx: known.stayedPx + (passes ? 0 : px) });
      meant.set(cell, ofPart);
    }
  }
  const firm = new Map<number, number>();
  const shared: SharedCell[] = [];
  const sharedCells: number[] = [];
  for (const [cell, ofPart] of meant) {
    const ranked = [...ofPart].sort((a, b) => b[1].stayedPx - a[1].stayedPx || b[1].px - a[1].px || a[0] - b[0]);
    // A mark that only passes on its way to another shape claims nothing of what is marked otherwise.
    if (ranked[0]![1].stayedPx === 0 && marked.has(regions.ofCell[cell]!)) {
      for (const [part, { px }] of ranked) touch(cell, part, px);
      continue;
    }
    firm.set(cell, ranked[0]![0]);
    const total = ranked.reduce((sum, [, { px }]) => sum + px, 0);
    const second = ranked[1];
    if (second === undefined || second[1].stayedPx < REAL_SHARE * total) continue;
    shared.push({ from: ranked[0]![1].at, to: second[1].at });
    sharedCells.push(cell);
  }
  return { firm, soft, shared, sharedCells };
}

/** A hand slips by so many line widths at most: what is longer is meant. */
const LONGEST_STRAY = 25;

/** A piece of a mark between two lines. */
interface Stretch {
  readonly cell: number;
  readonly px: number;
  /** Its middle. */
  readonly at: readonly [number, number];
  /** A short end over a line. */
  readonly strays: boolean;
  /** A short piece between two others. */
  readonly passes: boolean;
}

/** What the marks of a part say of a cell. */
interface Meant {
  readonly px: number;
  /** Without marks that only pass. */
  readonly stayedPx: number;
  /** Where it was marked first. */
  readonly at: readonly [number, number];
}

/** Goes along a way through its points, and tells of each pixel of paper on it. */
function alongPaper(
  points: Mark['points'],
  width: number,
  height: number,
  field: Int32Array,
  onPaper: (cell: number, x: number, y: number) => void,
): void {
  for (let k = 0; k < points.length; k++) {
    const [ax, ay] = points[Math.max(0, k - 1)]!;
    const [bx, by] = points[k]!;
    const steps = Math.max(1, Math.abs(bx - ax), Math.abs(by - ay));
    for (let s = k === 0 ? steps : 1; s <= steps; s++) {
      const x = Math.round(ax + ((bx - ax) * s) / steps);
      const y = Math.round(ay + ((by - ay) * s) / steps);
      if (x < 0 || y < 0 || x >= width || y >= height) continue;
      const cell = field[y * width + x]!;
      if (cell >= 0) onPaper(cell, x, y);
    }
  }
}

/** Whether a mark lies over any paper: on ink alone it means nothing. */
export function marksPaper(
  { width, height, field }: Pick<Survey, 'width' | 'height' | 'field'>,
  { points }: Pick<Mark, 'points'>,
): boolean {
  let any = false;
  alongPaper(points, width, height, field, () => (any = true));
  return any;
}

/** A mark cut up where it crosses lines; its ends are strays where they are short against the whole. */
function stretchesOf(
  { points }: Mark,
  width: number,
  height: number,
  field: Int32Array,
  stray: number,
  longest: number,
): Stretch[] {
  const runs: { cell: number; way: (readonly [number, number])[] }[] = [];
  let total = 0;
  alongPaper(points, width, height, field, (cell, x, y) => {
    total++;
    const last = runs.at(-1);
    if (last?.cell === cell) last.way.push([x, y]);
    else runs.push({ cell, way: [[x, y]] });
  });
  return runs.map(({ cell, way }, k) => {
    const atEnd = k === 0 || k === runs.length - 1;
    const short = runs.length > 1 && way.length < Math.min(longest, stray * total) && !isRubbed(way);
    return { cell, px: way.length, at: way[way.length >> 1]!, strays: short && atEnd, passes: short && !atEnd };
  });
}

/** A pen that slips or passes goes on; one that goes so many times as far as it comes means the place. */
const RUBBED = 2;

function isRubbed(way: readonly (readonly [number, number])[]): boolean {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of way) {
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x);
    bottom = Math.max(bottom, y);
  }
  return way.length >= RUBBED * (Math.max(right - left, bottom - top) + 1);
}

/** 1 for groups that lie on the page's edge: nothing is around them. */
function groupsAtEdge({ graph, width, height }: SpreadInput['survey'], parent: Int32Array): Uint8Array {
  const { count, box } = graph.cells;
  const atEdge = new Uint8Array(count);
  for (let c = 0; c < count; c++) {
    const b = c * 4;
    if (box[b] === 0 || box[b + 1] === 0 || box[b + 2] === width || box[b + 3] === height)
      atEdge[findRoot(parent, c)] = 1;
  }
  return atEdge;
}
