import {
  assignRegions,
  cutOfKey,
  editDrawn,
  editPrep,
  editRuling,
  fillsAcrossClosures,
  fillsAfterDivision,
  fillsWith,
  regionsOfCells,
  resolveFills,
  type Closure,
  type Fill,
  type LeakTrace,
  type PixelBox,
  type RecordEdit,
  type Ruling,
} from '@jumble/core';
import { counted, lengthText } from '../../measures.ts';
import type { DivideBy, Overlay, ShownSurvey } from '../engine/messages.ts';
import type { Engine } from '../engine/Engine.ts';
import { stampAfter, type BenchState } from './benchState.ts';
import { closureNear, endNear, gapsToRule, shownClosures, strokesOf, type ClosureEnd } from './closuresOnPage.ts';
import { byAfter, signOf } from './divideBy.ts';
import type { Looking } from './Looking.ts';
import type { PanelWalk } from './PanelWalk.ts';
import type { PendingStep } from './SyncQueue.ts';

const DIVIDED_MEANWHILE = 'The page came to be divided otherwise meanwhile. Nothing was changed; draw the loop again.';

/** What the gap desk needs of its bench. */
export interface GapPorts {
  readonly state: BenchState;
  readonly engine: Pick<Engine, 'divide' | 'overlay' | 'trace' | 'spread'>;
  /** What the regions on show are divided by. */
  readonly dividedBy: string;
  readonly looking: Pick<Looking, 'showBox'>;
  readonly panels: Pick<PanelWalk, 'inShown'>;
  set(part: Partial<Pick<BenchState, 'gapKey' | 'leak' | 'openGaps'>>): void;
  showSurvey(survey: ShownSurvey, by?: string, refresh?: boolean): void;
  push(step: PendingStep): void;
  /** Says what went wrong. */
  fail(error: Error): void;
}

/** The Gaps stage of one page: which closures stand to be ruled on, and what a ruling does. */
export class GapDesk {
  private dividing: Promise<void> = Promise.resolve();
  /** The latest gap that was asked to be looked at while its control moves. */
  private previewed: number | null = null;
  /** The regions as they were decided, while a preview shows others. */
  private decided: ShownSurvey | null = null;
  private draft: readonly [number, number, number, number] | null = null;
  /** Gaps that were ruled on, while the page is still being divided by it. */
  private readonly underWay = new Set<string>();

  constructor(private readonly bench: GapPorts) {}

  private shown(): readonly Closure[] {
    return shownClosures(this.bench.state.survey?.closures ?? []);
  }

  // --- looking -------------------------------------------------------------------------------

  /** Of closures to be ruled on, those in the panel the worklist keeps to. */
  listed(keys: readonly string[]): readonly string[] {
    if (this.bench.state.panelShown === null) return keys;
    return keys.filter((key) => {
      const { from, to } = cutOfKey(key);
      return this.bench.panels.inShown((from[0] + to[0]) / 2, (from[1] + to[1]) / 2);
    });
  }

  /** Goes to the next closure to be ruled on, or the one before. */
  go(direction: 1 | -1): void {
    const { gapKey } = this.bench.state;
    const openGaps = this.listed(this.bench.state.openGaps);
    if (openGaps.length === 0) {
      this.stand(null);
      return;
    }
    const at = gapKey === null ? -1 : openGaps.indexOf(gapKey);
    const next =
      at < 0 ? (direction === 1 ? 0 : openGaps.length - 1) : (at + direction + openGaps.length) % openGaps.length;
    this.stand(openGaps[next]!);
  }

  /** Stands at a closure and shows it close up. */
  stand(key: string | null, show = true): void {
    this.bench.set({ gapKey: key });
    const closure = this.bench.state.survey?.closures.find((one) => one.key === key);
    if (show && closure !== undefined) {
      const [[x0, y0], [x1, y1]] = [closure.from, closure.to];
      this.lookAt([Math.min(x0, x1), Math.min(y0, y1), Math.max(x0, x1), Math.max(y0, y1)], 60 + closure.widthPx);
    }
    this.draw();
  }

  private lookAt([left, top, right, bottom]: PixelBox, room: number): void {
    this.bench.looking.showBox([left - room, top - room, right + room, bottom + room]);
  }

  /** The shown closure nearest to a page point within a reach, in page px. */
  at(x: number, y: number, reachPx: number): Closure | null {
    return closureNear(this.shown(), x, y, reachPx);
  }

  /** The end of a closure drawn by hand that lies nearest to a point within a reach, in page px. */
  endAt(x: number, y: number, reachPx: number): ClosureEnd | null {
    return endNear(this.bench.state.document?.drawn ?? [], x, y, reachPx);
  }

  setDraft(draft: readonly [number, number, number, number] | null): void {
    this.draft = draft;
    this.draw();
  }

  private draftLength([x0, y0, x1, y1]: readonly [number, number, number, number]): string {
    return lengthText(Math.hypot(x1 - x0, y1 - y0), this.bench.state.page?.dpi ?? null);
  }

  /** Puts the marks of this stage over the page, or takes them away. */
  draw(): void {
    const { stage, gapKey, leak } = this.bench.state;
    // The Line art and Flats stages have marks of their own.
    if (stage === 'handoff') this.bench.engine.overlay(null);
    if (stage !== 'gaps') return;
    const shown = this.shown();
    const overlay: Overlay = {
      closures: strokesOf(shown),
      current: shown.findIndex((one) => one.key === gapKey),
      draft: this.draft,
      ...(this.draft === null ? {} : { draftLabel: this.draftLength(this.draft) }),
      leak: leak?.path ?? null,
      narrowest: leak?.narrowest ?? null,
      shapes: [],
      specks: new Float32Array(0),
    };
    this.bench.engine.overlay(overlay);
  }

  // --- ruling --------------------------------------------------------------------------------

  /** Rules on the closure the worklist stands at, and goes on. */
  async ruleCurrent(ruling: Ruling): Promise<void> {
    const { gapKey } = this.bench.state;
    if (gapKey === null) {
      this.go(1);
      return;
    }
    const openGaps = this.listed(this.bench.state.openGaps);
    const after = openGaps.slice(openGaps.indexOf(gapKey) + 1);
    const goOn = (): void => {
      const left = this.listed(this.bench.state.openGaps);
      this.stand(after.find((key) => left.includes(key)) ?? left[0] ?? null);
    };
    // The worklist goes on at once: a key pressed while the page is still being divided rules on the next gap.
    const done = this.rule([gapKey], ruling);
    this.underWay.add(gapKey);
    this.list();
    goOn();
    await done;
    this.underWay.delete(gapKey);
    this.list();
    // A ruling may settle others with it.
    const standing = this.bench.state.gapKey;
    if (standing !== null && after.includes(standing) && !this.bench.state.openGaps.includes(standing)) goOn();
  }

  /** Lists the gaps to be ruled on anew. */
  private list(): void {
    const { survey } = this.bench.state;
    if (survey !== null) this.bench.set({ openGaps: this.toRule(survey) });
  }

  /** Closures that stand to be ruled on, those with most at stake first. */
  toRule(survey: ShownSurvey): readonly string[] {
    return gapsToRule(survey.closures).filter((key) => !this.underWay.has(key));
  }

  /** Rules on closures, as one step. */
  rule(keys: readonly string[], ruling: Ruling | null): Promise<void> {
    const hand = keys.filter((key) => this.bench.state.document?.drawn.includes(key) === true);
    if (hand.length > 0 && ruling !== 'closed')
      return this.change(
        'Delete a closure',
        [],
        hand.map((key) => editDrawn(key, false)),
      );
    const what = counted(keys.length, 'gap');
    const label = ruling === null ? `Reset ${what}` : ruling === 'closed' ? `Close ${what}` : `Leave ${what} open`;
    return this.change(
      label,
      [],
      keys.map((key) => editRuling(key, ruling)),
    );
  }

  /** Closures to be ruled on that are at least this likely. */
  above(confidence: number): readonly string[] {
    const { survey, openGaps } = this.bench.state;
    const sure = new Set(openGaps);
    return (survey?.closures ?? [])
      .filter((one) => sure.has(one.key) && one.confidence >= confidence)
      .map((one) => one.key);
  }

  /** Draws a closure by hand between two ink pixels. */
  close(from: readonly [number, number], to: readonly [number, number]): Promise<void> {
    const key = `${from[0]},${from[1]}-${to[0]},${to[1]}`;
    return this.change('Draw a closure', [key], [editDrawn(key, true)]);
  }

  /** Cuts a region along a way of at least two pixels, as one step. @returns whether it parts anything. */
  async cut(way: readonly (readonly [number, number])[]): Promise<boolean> {
    const keys = way.slice(1).map(([x, y], k) => `${way[k]![0]},${way[k]![1]}-${x},${y}`);
    let parts = false;
    const isWorth = (before: ShownSurvey, after: ShownSurvey): boolean =>
      (parts = after.regions.count > before.regions.count);
    await this.change(
      'Cut a region',
      keys,
      keys.map((key) => editDrawn(key, true)),
      isWorth,
    );
    return parts;
  }

  /**
   * Closes gaps and gives the regions that then lie in cells a part, as one step. If the page came to be divided
   * otherwise meanwhile nothing is changed, and that is told.
   */
  closeAndGive(
    seen: ShownSurvey,
    closures: readonly string[],
    cells: ReadonlySet<number>,
    partId: string,
  ): Promise<void> {
    const name = this.bench.state.cast?.parts.find((part) => part.id === partId)?.name ?? '';
    const what = counted(closures.length, 'gap');
    return this.change(
      `Close ${what} and assign what lies inside to ${name}`,
      [],
      closures.map((key) => editRuling(key, 'closed')),
      (before) => {
        if (before !== seen) this.bench.fail(new Error(DIVIDED_MEANWHILE));
        return before === seen;
      },
      (after, fills) => {
        const regions = regionsOfCells(after, cells);
        const stamp = stampAfter(this.bench.state.document!);
        return assignRegions(
          after,
          fills,
          resolveFills(after, fills, (part) => part),
          regions,
          partId,
          stamp,
        );
      },
    );
  }

  /** Opens the closures between two regions, as one step. */
  join(keys: readonly string[]): Promise<void> {
    const drawn = new Set(this.bench.state.document?.drawn);
    return this.change(
      'Join two regions',
      [],
      keys.map((key) => (drawn.has(key) ? editDrawn(key, false) : editRuling(key, 'open'))),
    );
  }

  /** Shows what another largest gap would do, without deciding it. The latest one asked for wins. */
  preview(maxGapPx: number): void {
    const idle = this.previewed === null;
    this.previewed = maxGapPx;
    if (!idle) return;
    void this.inTurn(async () => {
      this.decided ??= this.bench.state.survey;
      try {
        for (let shown = -1; this.previewed !== null && this.previewed !== shown;) {
          shown = this.previewed;
          this.bench.showSurvey(await this.bench.engine.divide({ ...this.by(), maxGapPx: shown }));
        }
      } finally {
        this.previewed = null;
      }
    });
  }

  /** Decides the largest gap to close. */
  async setMaxGap(maxGapPx: 'auto' | number): Promise<void> {
    const page = this.bench.state.document;
    if (page === null) return;
    this.previewed = null;
    const words = maxGapPx === 'auto' ? 'by the line width' : `to ${maxGapPx} px`;
    await this.change(`Set the largest gap to close ${words}`, [], [editPrep({ ...page.prep, maxGapPx })]);
  }

  /** Divides the page as the document says, when it came to say something else (undo, another tab). */
  follow(): void {
    const { survey, document: page } = this.bench.state;
    if (survey === null || page === null || this.bench.dividedBy === signOf(this.by())) return;
    void this.inTurn(async () => {
      const by = this.by();
      if (this.bench.dividedBy === signOf(by)) return;
      const next = await this.bench.engine.divide(by);
      this.decided = null;
      this.bench.showSurvey(next, signOf(by));
    });
  }

  /**
   * Shows the widest way from one place to another, with its narrowest point.
   *
   * @returns null where there is none, undefined when the trace failed and that was said.
   */
  async trace(from: readonly [number, number], to: readonly [number, number]): Promise<LeakTrace | null | undefined> {
    let leak: LeakTrace | null | undefined;
    await this.inTurn(async () => {
      leak = await this.bench.engine.trace(from, to);
    });
    if (leak === undefined) return undefined;
    this.bench.set({ leak });
    if (leak !== null) {
      const [x, y] = leak.narrowest;
      this.lookAt([x, y, x, y], 140 + 2 * leak.widthPx);
    }
    this.draw();
    return leak;
  }

  /**
   * The leak test: colour runs from a place over everything it reaches.
   *
   * @returns its area in px, null on ink, undefined when the test failed and that was said.
   */
  async test(at: readonly [number, number]): Promise<number | null | undefined> {
    let area: number | null | undefined;
    await this.inTurn(async () => {
      area = (await this.bench.engine.spread(at))?.areaPx ?? null;
    });
    return area;
  }

  /** Moves an end of a closure that was drawn by hand, as one step. */
  moveEnd(key: string, end: 'from' | 'to', to: readonly [number, number]): Promise<void> {
    const cut = cutOfKey(key);
    const [a, b] = end === 'from' ? [to, cut.to] : [cut.from, to];
    const moved = `${a[0]},${a[1]}-${b[0]},${b[1]}`;
    if (moved === key) return Promise.resolve();
    return this.change('Move an end of a closure', [moved], [editDrawn(key, false), editDrawn(moved, true)]);
  }

  clearLeak(): void {
    void this.bench.engine.spread(null);
    this.bench.set({ leak: null });
    this.draw();
  }

  /** What divides the page, by its document. */
  by(): DivideBy {
    const page = this.bench.state.document;
    return { maxGapPx: page?.prep.maxGapPx ?? 'auto', rulings: page?.rulings ?? new Map(), drawn: page?.drawn ?? [] };
  }

  /**
   * Applies edits that divide the page anew, and lets every piece keep its part, all as one step: the
   * division is computed first, so that page and regions change together.
   *
   * @param isWorth otherwise nothing is changed.
   * @param more edits, by the fills of the divided page.
   */
  private change(
    label: string,
    drawn: readonly string[],
    edits: readonly RecordEdit[],
    isWorth: (before: ShownSurvey, after: ShownSurvey) => boolean = () => true,
    more: (after: ShownSurvey, fills: ReadonlyMap<string, Fill>) => readonly RecordEdit[] = () => [],
  ): Promise<void> {
    return this.inTurn(async () => {
      const before = this.decided ?? this.bench.state.survey;
      const drawnBefore = this.bench.state.document?.drawn.join();
      if (before === null || drawnBefore === undefined) return;
      const by = byAfter(this.by(), edits);
      const after = await this.bench.engine.divide(by);
      if (!isWorth(before, after)) {
        this.bench.showSurvey(await this.bench.engine.divide(this.by()), signOf(this.by()));
        return;
      }
      // Fills given meanwhile count.
      const given = this.bench.state.document!.fills;
      const fills =
        by.drawn.join() === drawnBefore
          ? fillsAfterDivision(
              resolveFills(before, given, (part) => part),
              after,
              given,
              (at) => regionOfPixel(before, at),
            )
          : fillsAcrossClosures(after, new Set(drawn), given);
      this.decided = null;
      this.bench.showSurvey(after, signOf(by), false);
      this.bench.push({ label, edits: [...edits, ...fills, ...more(after, fillsWith(given, fills))] });
      this.draw();
    });
  }

  /** Applies edits that say themselves which part every piece has, and divides the page by them, as one step. */
  settle(label: string, edits: readonly RecordEdit[]): Promise<void> {
    return this.inTurn(async () => {
      const by = byAfter(this.by(), edits);
      const after = await this.bench.engine.divide(by);
      this.decided = null;
      this.bench.showSurvey(after, signOf(by), false);
      this.bench.push({ label, edits });
      this.draw();
    });
  }

  /** Divisions come one after the other; one that fails is told, and the next goes on. */
  inTurn(work: () => Promise<void>): Promise<void> {
    this.dividing = this.dividing.then(work).catch((error: unknown) => {
      // A bench that was left drops what was under way.
      if (error instanceof DOMException && error.name === 'AbortError') return;
      this.bench.fail(error instanceof Error ? error : new Error(String(error)));
    });
    return this.dividing;
  }
}

function regionOfPixel(survey: ShownSurvey, at: number): number {
  const cell = survey.field[at]!;
  return cell < 0 ? -1 : survey.regions.ofCell[cell]!;
}
