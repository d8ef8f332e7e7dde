import {
  colourOfPart,
  editFill,
  editMark,
  fillsWith,
  marksPaper,
  partFinder,
  resolveFills,
  type CastSheet,
  type Mark,
  type PageDocument,
  type RecordEdit,
} from '@jumble/core';
import type { Engine } from '../engine/Engine.ts';
import type { OverlayMark } from '../engine/messages.ts';
import type { BenchState, FlatsState } from './benchState.ts';
import type { GapDesk } from './GapDesk.ts';
import type { PendingStep } from './SyncQueue.ts';
import { counted } from '../../measures.ts';

type Point = readonly [number, number];

/** What the mark desk needs of its bench. */
export interface MarkPorts {
  readonly state: BenchState;
  readonly engine: Pick<Engine, 'spreadMarks' | 'markDraft'>;
  readonly gaps: Pick<GapDesk, 'inTurn' | 'settle'>;
  /** Who puts marks over the page. */
  readonly flats: { draw(): void };
  push(step: PendingStep): void;
  previewGiven(regions: Iterable<number>, partId: string | null): number;
  /** Shows what is decided, without previews. */
  refresh(): void;
  showFlats(part: Partial<FlatsState>): void;
}

/** Marks: loose strokes of parts, and what they come to when they are spread. */
export class MarkDesk {
  private previewing = false;
  private wantsPreview = false;

  constructor(private readonly bench: MarkPorts) {}

  /** The marks that show over the page. */
  overlay(): OverlayMark[] {
    const { flats, document: page } = this.bench.state;
    if (page === null || flats.way !== 'marks' || !flats.marksShown) return [];
    const shown = this.painter();
    return [...page.marks.values()].flatMap((mark) => shown(mark) ?? []);
  }

  /** Shows the mark that is being drawn; null for none any more. */
  setDraft(mark: Mark | null): void {
    this.bench.engine.markDraft(mark === null ? null : this.painter()(mark));
  }

  /** How marks look, by their part; null for those of a part that is no more. */
  private painter(): (mark: Mark) => OverlayMark | null {
    const { document: page, cast } = this.bench.state;
    if (page === null || cast === null) return () => null;
    const partOf = partFinder(cast);
    const parts = new Map(cast.parts.map((part) => [part.id, part]));
    return (mark) => {
      const part = parts.get(partOf(mark.part) ?? '');
      if (part === undefined) return null;
      return { points: mark.points, colour: colourOfPart(cast, part.id, page.scene), empty: part.empty };
    };
  }

  /** @returns false where it lies on ink alone, and is not kept. */
  addMark(mark: Mark): boolean {
    this.setDraft(null);
    const { survey } = this.bench.state;
    if (survey !== null && !marksPaper(survey, mark)) return false;
    this.bench.push({ label: `Mark ${this.nameOf(mark.part)}`, edits: [editMark(crypto.randomUUID(), mark)] });
    this.bench.showFlats({ unspread: true });
    return true;
  }

  /** The mark nearest to a point within a reach, in page px. */
  markAt([x, y]: Point, reachPx: number): string | null {
    let best = reachPx * reachPx;
    let found: string | null = null;
    for (const [id, { points }] of this.bench.state.document?.marks ?? []) {
      points.forEach((b, k) => {
        const a = points[Math.max(0, k - 1)]!;
        const length2 = (b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2 || 1;
        const t = Math.max(0, Math.min(1, ((x - a[0]) * (b[0] - a[0]) + (y - a[1]) * (b[1] - a[1])) / length2));
        const d = (x - a[0] - (b[0] - a[0]) * t) ** 2 + (y - a[1] - (b[1] - a[1]) * t) ** 2;
        if (d >= best) return;
        best = d;
        found = id;
      });
    }
    return found;
  }

  eraseMarks(ids: readonly string[]): void {
    if (ids.length === 0) return;
    const what = counted(ids.length, 'mark');
    this.bench.push({ label: `Erase ${what}`, edits: ids.map((id) => editMark(id, null)) });
    this.bench.showFlats({ unspread: true });
  }

  /** All marks of one part, or of all parts (null), in one go. */
  eraseMarksOf(partId: string | null): void {
    const marks = this.bench.state.document?.marks ?? new Map<string, Mark>();
    this.eraseMarks([...marks].flatMap(([id, mark]) => (partId === null || mark.part === partId ? [id] : [])));
  }

  /** Gives a mark to the chosen part. */
  recolourMark(id: string): void {
    const { document: page, partId } = this.bench.state;
    const mark = page?.marks.get(id);
    if (mark === undefined || partId === null || mark.part === partId) return;
    this.bench.push({
      label: `Assign a mark to ${this.nameOf(partId)}`,
      edits: [editMark(id, { ...mark, part: partId })],
    });
    this.bench.showFlats({ unspread: true });
  }

  /** Spreads the marks over the page, or over the panel the worklist keeps to. */
  async spread(): Promise<void> {
    const { document: page, flats } = this.bench.state;
    this.wantsPreview = false;
    if (page === null || flats.spreading || !hasMarks(page)) return;
    this.bench.showFlats({ spreading: true });
    try {
      const edits = await this.solve(false);
      const count = page.marks.size;
      if (edits.length > 0) await this.bench.gaps.settle(`Spread ${counted(count, 'mark')}`, edits);
      this.bench.showFlats({ unspread: false });
    } finally {
      this.bench.showFlats({ spreading: false });
    }
  }

  /** Shows what spreading would come to now, without doing it. While it is worked out, the latest asked for wins. */
  async previewSpread(): Promise<void> {
    const { document: page } = this.bench.state;
    const idle = !this.previewing;
    this.wantsPreview = true;
    if (!idle || page === null || !hasMarks(page)) return;
    this.previewing = true;
    try {
      while (this.wantsPreview) {
        this.wantsPreview = false;
        const edits = await this.solve(true);
        // Spreading itself, asked for meanwhile, shows what it did.
        if (!this.bench.state.flats.spreading) this.showSpread(edits);
      }
    } finally {
      this.previewing = false;
    }
  }

  private async solve(preview: boolean): Promise<readonly RecordEdit[]> {
    let edits: readonly RecordEdit[] = [];
    await this.bench.gaps.inTurn(async () => {
      const { document: now, panelShown, facts, cast, flats } = this.bench.state;
      const panel = panelShown === null ? null : ((now!.panels ?? facts?.panels ?? [])[panelShown]?.points ?? null);
      edits = await this.bench.engine.spreadMarks(asNow(now!, cast!), flats.spread, panel, preview);
    });
    return edits;
  }

  /** Colours regions as edits would; pieces that a cut would part show the part of the last one. */
  private showSpread(edits: readonly RecordEdit[]): void {
    const { survey, document: page } = this.bench.state;
    if (survey === null || page === null) return;
    this.bench.refresh();
    const fills = fillsWith(page.fills, edits);
    const ofPart = new Map<string | null, number[]>();
    resolveFills(survey, fills, partFinder(this.bench.state.cast!)).partOfRegion.forEach((part, region) => {
      if (part === this.bench.state.resolved?.partOfRegion[region]) return;
      const list = ofPart.get(part);
      if (list === undefined) ofPart.set(part, [region]);
      else list.push(region);
    });
    for (const [part, regions] of ofPart) this.bench.previewGiven(regions, part);
  }

  /** What the marks came to becomes fills like any other, and the marks go. */
  marksToFills(): void {
    const page = this.bench.state.document;
    if (page === null) return;
    const edits = [...page.marks.keys()].map((id) => editMark(id, null));
    for (const [key, { by, ...fill }] of page.fills) if (by === 'mark') edits.push(editFill(key, fill));
    if (edits.length === 0) return;
    this.bench.push({ label: 'Turn marks into plain fills', edits });
    this.bench.showFlats({ unspread: false });
  }

  private nameOf(partId: string): string {
    return this.bench.state.cast?.parts.find((part) => part.id === partId)?.name ?? '';
  }
}

/** Whether there is anything to spread, or to take back. */
function hasMarks(page: PageDocument): boolean {
  return page.marks.size > 0 || [...page.fills.values()].some((fill) => fill.by === 'mark');
}

/** Marks and fills by the parts they mean now; those of a part that is no more count for nothing. */
function asNow(page: PageDocument, cast: CastSheet): PageDocument {
  const partOf = partFinder(cast);
  const mapped = <T extends { readonly part: string }>(all: ReadonlyMap<string, T>, keep: (one: T) => boolean) =>
    new Map(
      [...all].flatMap(([key, one]) => {
        const part = partOf(one.part);
        return part === null && !keep(one) ? [] : [[key, { ...one, part: part ?? one.part }] as const];
      }),
    );
  return {
    ...page,
    marks: mapped(page.marks, () => false),
    // What marks gave before has to be known to make way.
    fills: mapped(page.fills, (fill) => fill.by === 'mark'),
  };
}
