import {
  colourOfPart,
  correctionAt,
  MOST_PEN_PX,
  paintTiles,
  PAPER_WORD,
  parseColour,
  partFinder,
  readCorrections,
  regionUnder,
  rgbaWord,
  scenesOfPage,
  snapToInk,
  StrokeDraft,
  type CastSheet,
  type Corrections,
  type CorrectionTile,
  type PageDocument,
} from '@jumble/core';
import type { Engine } from '../engine/Engine.ts';
import type { BenchState, FlatsState } from './benchState.ts';
import type { GapDesk } from './GapDesk.ts';
import { shownWord } from './summarise.ts';
import type { PendingStep } from './SyncQueue.ts';
import type { ShownSurvey } from '../engine/messages.ts';

type Point = readonly [number, number];

/** What the pen desk needs of its bench. */
export interface PenPorts {
  readonly state: BenchState;
  readonly engine: Pick<Engine, 'corrections' | 'patchCorrections'>;
  readonly gaps: Pick<GapDesk, 'cut' | 'join'>;
  push(step: PendingStep): void;
  showFlats(part: Partial<FlatsState>): void;
}

/** Sizes that keys go through, in px. */
const SIZES = [1, 2, 3, 4, 6, 8, 12, 16, 24, 32, 48, 64, 96, 128, 200, 300, MOST_PEN_PX];
/** How far a cut's ends are drawn to ink, and how much its way is smoothed, in picture px. */
const SNAP_PX = 14;
const SMOOTH_PX = 1.5;

/** What was painted by hand over the regions: reads it, shows it, and adds to it stroke by stroke. */
export class PenDesk {
  private read: { readonly sign: readonly unknown[]; readonly corrections: Corrections } | null = null;
  private shown: readonly unknown[] = [];
  private draft: StrokeDraft | null = null;
  private draftPart: string | null = null;

  constructor(private readonly bench: PenPorts) {}

  /** What is painted on the page; read anew only where a square changed. */
  corrections(): Corrections {
    const { document: page, cast, page: view } = this.bench.state;
    const sign = [view!.width, cast, ...[...(page?.tiles ?? [])].flat()];
    if (this.read === null || !sameItems(this.read.sign, sign)) {
      const tiles: ReadonlyMap<string, CorrectionTile> = page?.tiles ?? new Map<string, CorrectionTile>();
      this.read = { sign, corrections: readCorrections(view!.width, tiles, partFinder(cast!)) };
    }
    return this.read.corrections;
  }

  /** Shows what is painted, in the colours and the way of showing of now. */
  show(): void {
    const { survey, document: page, cast, show, partId } = this.bench.state;
    if (survey === null || page === null || cast === null) return;
    const corrections = this.corrections();
    const sign = [corrections, survey, cast, page.scene, page.panels, show, show === 'part' ? partId : null];
    if (sameItems(sign, this.shown)) return;
    this.shown = sign;
    this.bench.engine.corrections(
      corrections.tiles.size === 0 ? null : paintTiles(survey, corrections, this.wordOf(survey, page, cast)),
    );
  }

  /** The part painted at a page point, null where nothing is. */
  partAt(x: number, y: number): string | null {
    return correctionAt(this.corrections(), Math.floor(x), Math.floor(y));
  }

  setSize(sizePx: number): void {
    const { pen } = this.bench.state.flats;
    this.bench.showFlats({ pen: { ...pen, sizePx: Math.max(1, Math.min(MOST_PEN_PX, Math.round(sizePx))) } });
  }

  /** The next larger or smaller size. */
  stepSize(direction: 1 | -1): void {
    const { sizePx } = this.bench.state.flats.pen;
    const next = direction === 1 ? SIZES.find((one) => one > sizePx) : SIZES.findLast((one) => one < sizePx);
    if (next !== undefined) this.setSize(next);
  }

  setNib(nib: FlatsState['pen']['nib']): void {
    this.bench.showFlats({ pen: { ...this.bench.state.flats.pen, nib } });
  }

  nextNib(): void {
    const { nib } = this.bench.state.flats.pen;
    this.setNib(nib === 'inside' ? 'pixel' : nib === 'pixel' ? 'cut' : 'inside');
  }

  // --- a stroke ------------------------------------------------------------------------------

  /**
   * Puts the pen down. @param part null wipes out what was painted.
   *
   * @returns false where there is nothing to paint on: a stroke that stays inside has to begin in a region.
   */
  begin(at: Point, part: string | null): boolean {
    const { survey, page, flats } = this.bench.state;
    if (survey === null || page === null) return false;
    const { nib, sizePx } = flats.pen;
    let allows = (_x: number, _y: number): boolean => true;
    if (nib === 'inside') {
      const own = regionUnder(survey, at[1] * survey.width + at[0]);
      if (own < 0) return false;
      allows = (x, y) => regionUnder(survey, y * survey.width + x) === own;
    }
    this.draft = new StrokeDraft(this.corrections(), page, { part, sizePx, allows });
    this.draftPart = part;
    this.lineTo(at);
    return true;
  }

  lineTo(at: Point): void {
    const { survey, document: page, cast } = this.bench.state;
    if (this.draft === null || survey === null || page === null || cast === null) return;
    const touched = this.draft.lineTo(at);
    if (touched.size === 0) return;
    const { tilesPerRow } = this.corrections();
    const tiles = new Map([...touched].map((number) => [number, this.draft!.tiles.get(number)!]));
    const drawn = { tilesPerRow, parts: this.draft.parts, tiles };
    this.bench.engine.patchCorrections(paintTiles(survey, drawn, this.wordOf(survey, page, cast)));
  }

  /** Lifts the pen: the stroke becomes one step. */
  finish(): void {
    const edits = this.draft?.edits() ?? [];
    const part = this.draftPart;
    this.draft = null;
    if (edits.length === 0) return;
    const name = this.bench.state.cast?.parts.find((one) => one.id === part)?.name ?? '';
    this.bench.push({ label: part === null ? 'Wipe out painted pixels' : `Paint ${name}`, edits });
  }

  cancel(): void {
    if (this.draft === null) return;
    this.draft = null;
    this.shown = [];
    this.show();
  }

  // --- cut and join --------------------------------------------------------------------------

  /**
   * Cuts a region along a way that was drawn; its ends go to ink where there is some near.
   *
   * @returns false where it would part nothing, so that nothing was done.
   */
  async cut(way: readonly Point[]): Promise<boolean> {
    const { survey, view } = this.bench.state;
    if (survey === null || view === null) return false;
    const snapped = ([x, y]: Point): Point =>
      snapToInk(survey, x, y, Math.ceil(Math.min(60, SNAP_PX / view.scale)))?.at ?? [x, y];
    const points = simplify(way, SMOOTH_PX / view.scale);
    const ends = [snapped(points[0]!), ...points.slice(1, -1), snapped(points.at(-1)!)];
    const distinct = ends.filter(([x, y], k) => k === 0 || x !== ends[k - 1]![0] || y !== ends[k - 1]![1]);
    return distinct.length > 1 && this.bench.gaps.cut(distinct);
  }

  /** Joins two regions that are parted by closures alone. @returns false where ink parts them. */
  join(a: number, b: number): boolean {
    const { survey } = this.bench.state;
    const [low, high] = a < b ? [a, b] : [b, a];
    const between = (survey?.closures ?? []).filter(
      (one) => one.accepted && one.regions[0] === low && one.regions[1] === high,
    );
    if (between.length === 0) return false;
    void this.bench.gaps.join(between.map((one) => one.key));
    return true;
  }

  private wordOf(survey: ShownSurvey, page: PageDocument, cast: CastSheet): (part: string, region: number) => number {
    const { scenes, ofRegion } = scenesOfPage(survey, page);
    const { show, partId } = this.bench.state;
    const words = new Map<string, number>();
    return (part, region) => {
      const scene = scenes[region < 0 ? 0 : ofRegion[region]!]!;
      const key = `${scene ?? ''}/${part}`;
      let word = words.get(key);
      if (word === undefined) {
        const empty = cast.parts.find((one) => one.id === part)?.empty === true;
        const own = empty ? PAPER_WORD : rgbaWord(parseColour(colourOfPart(cast, part, scene)));
        words.set(key, (word = shownWord(show, own, part, partId)));
      }
      return word;
    };
  }
}

function sameItems(a: readonly unknown[], b: readonly unknown[]): boolean {
  return a.length === b.length && a.every((one, k) => one === b[k]);
}

/** Leaves out points that lie within a tolerance of the way without them (Douglas and Peucker 1973). */
export function simplify(points: readonly Point[], tolerancePx: number): Point[] {
  const keep = new Uint8Array(points.length);
  keep[0] = keep[points.length - 1] = 1;
  const stack: [number, number][] = [[0, points.length - 1]];
  for (let next = stack.pop(); next !== undefined; next = stack.pop()) {
    const [from, to] = next;
    const [ax, ay] = points[from]!;
    const [bx, by] = points[to]!;
    const length = Math.hypot(bx - ax, by - ay);
    let [farthest, most] = [-1, tolerancePx];
    for (let k = from + 1; k < to; k++) {
      const [x, y] = points[k]!;
      const away =
        length === 0 ? Math.hypot(x - ax, y - ay) : Math.abs((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / length;
      if (away > most) [farthest, most] = [k, away];
    }
    if (farthest < 0) continue;
    keep[farthest] = 1;
    stack.push([from, farthest], [farthest, to]);
  }
  return points.filter((_, k) => keep[k] === 1);
}
