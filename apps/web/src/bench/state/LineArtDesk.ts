import {
  assignRegions,
  degreesOfSlope,
  editBalloon,
  editPanels,
  editPrep,
  editSeen,
  editSolid,
  regionAt,
  straightenDocument,
  type PagePanel,
  type Prep,
  type RecordEdit,
} from '@jumble/core';
import type { Engine } from '../engine/Engine.ts';
import type { Overlay, OverlayShape } from '../engine/messages.ts';
import type { BenchState } from './benchState.ts';
import { changeKey, lineDecisions, type LineDecision } from './lineDecisions.ts';
import type { Looking } from './Looking.ts';
import type { PendingStep } from './SyncQueue.ts';

type Box = readonly [number, number, number, number];

/** What the Line art stage keeps in the bench's state. */
export type LineArtState = Pick<
  BenchState,
  'facts' | 'measuring' | 'skew' | 'changes' | 'lineDecisions' | 'lineKey' | 'panelPicked' | 'speckPreviewPx2'
>;

/** What the line art desk needs of its bench. */
export interface LineArtPorts {
  readonly state: BenchState;
  readonly engine: Pick<Engine, 'describe' | 'stopDescribing' | 'overlay' | 'greyAt' | 'changesSince'>;
  showLineArt(part: Partial<LineArtState>): void;
  readonly looking: Pick<Looking, 'showBox'>;
  readonly reading: { settleRevision(): Promise<void> };
  push(step: PendingStep): void;
  fail(error: Error): void;
}

/** Pointed-at paper counts as paper down to this much darker, ink up to this much lighter. */
const POINT_MARGIN = 4;

/** The Line art stage of one page: what is measured, and what the decisions on it do. */
export class LineArtDesk {
  /** What was measured belongs to this reading of the page. */
  private measured: unknown = null;
  /** And to these panels. */
  private measuredPanels: string | null = null;
  /** The revision whose changes are being settled. */
  private settling: string | null = null;
  /** A panel being drawn. */
  private draft: Box | null = null;

  constructor(private readonly bench: LineArtPorts) {}

  // --- measuring -----------------------------------------------------------------------------

  /** Measures the page as it was read last. */
  async measure(): Promise<void> {
    const { survey, document: page, page: view } = this.bench.state;
    if (survey === null || page === null || view === null) return;
    const reading = (this.measured = {});
    this.measuredPanels = JSON.stringify(page.panels);
    this.bench.showLineArt({ measuring: { text: 'Pieces of ink', share: 0 } });
    try {
      const { facts, skew } = await this.bench.engine.describe(page.panels, [...page.solids.keys()].map(pointOf));
      if (this.measured !== reading) return;
      this.bench.showLineArt({ facts, skew, measuring: null });
      this.list();
      if (view.previousGreyHash !== null && this.bench.state.changes === null) {
        const changes = await this.bench.engine.changesSince(`/api/pages/${view.id}/grey/${view.previousGreyHash}`);
        this.bench.showLineArt({ changes });
        this.list();
      }
    } catch (error) {
      if (this.measured === reading) this.bench.showLineArt({ measuring: null });
      if (!(error instanceof DOMException && error.name === 'AbortError')) this.bench.fail(error as Error);
    }
  }

  /** Leaves measuring: it can be begun again. */
  stopMeasuring(): void {
    this.bench.engine.stopDescribing();
  }

  /** Lists the open decisions by what is measured and decided now. */
  list(): void {
    const { survey, document, page, facts, skew, changes, resolved, lineKey } = this.bench.state;
    if (survey === null || document === null || page === null || facts === null) return;
    if (this.measuredPanels !== JSON.stringify(document.panels)) void this.measure();
    const hasPart = (region: number): boolean => (resolved?.partOfRegion[region] ?? null) !== null;
    const decisions = lineDecisions({ page, survey, document, facts, skew, changes, hasPart });
    const kept = decisions.some((one) => one.key === lineKey) ? lineKey : null;
    this.bench.showLineArt({ lineDecisions: decisions, lineKey: kept });
    // A file that changed nothing is settled as well.
    if (changes !== null && page.previousGreyHash !== null) {
      const settled = changes.every((change) => document.seen.has(changeKey(page, change)));
      if (settled && this.settling !== page.greyHash) {
        this.settling = page.greyHash;
        void this.bench.reading.settleRevision();
      }
    }
    this.draw();
  }

  // --- deciding ------------------------------------------------------------------------------

  go(direction: 1 | -1): void {
    const { lineDecisions: list, lineKey } = this.bench.state;
    if (list.length === 0) return this.stand(null);
    const at = list.findIndex((one) => one.key === lineKey);
    const next = at < 0 ? (direction === 1 ? 0 : list.length - 1) : (at + direction + list.length) % list.length;
    this.stand(list[next]!);
  }

  stand(decision: LineDecision | null, show = true): void {
    this.bench.showLineArt({ lineKey: decision?.key ?? null });
    if (decision !== null && show) this.bench.looking.showBox(decision.box);
    this.draw();
  }

  /** Says yes or no to the decision the worklist stands at, and goes on. */
  ruleCurrent(yes: boolean): void {
    const { lineDecisions: list, lineKey, facts } = this.bench.state;
    // While a page is measured anew the old decisions stand for nothing.
    if (facts === null) return;
    const at = list.findIndex((one) => one.key === lineKey);
    if (at < 0) return this.go(1);
    const after = list[at + 1]?.key;
    this.rule([list[at]!], yes);
    const left = this.bench.state.lineDecisions;
    this.stand(left.find((one) => one.key === after) ?? left[0] ?? null);
  }

  /** Says yes or no to decisions of one kind, as one step. */
  rule(decisions: readonly LineDecision[], yes: boolean): void {
    const [first] = decisions;
    if (first === undefined || (!yes && first.no === null)) return;
    const edits = decisions.flatMap((one) => this.editsOf(one, yes));
    if (edits.length === 0) return;
    const many = decisions.length > 1 ? ` (${decisions.length})` : '';
    this.bench.push({ label: `${first.title}: ${yes ? first.yes : first.no!}${many}`, edits });
    this.list();
  }

  private editsOf(decision: LineDecision, yes: boolean): RecordEdit[] {
    const { document: page, page: view, facts, skew } = this.bench.state;
    const { prep } = page!;
    switch (decision.kind) {
      case 'skew':
        return straightenDocument(page!, yes ? skew!.slopePpm : 0, view!.width, view!.height);
      case 'specks':
        return [editPrep({ ...prep, speckLimitPx2: yes ? facts!.speckLimitPx2 : 0 })];
      case 'panel':
      case 'change':
        return [editSeen(decision.key, true)];
      case 'solid':
        return [editSolid(decision.key, yes)];
      case 'balloon':
        return [editBalloon(decision.key, yes ? 'empty' : 'drawing'), ...(yes ? this.leaveEmpty(decision.key) : [])];
    }
  }

  /** Gives the region of a balloon to the part that stays empty. */
  private leaveEmpty(key: string): RecordEdit[] {
    const { survey, document: page, resolved, cast } = this.bench.state;
    const empty = cast?.parts.find((part) => part.empty);
    if (empty === undefined) {
      this.bench.fail(
        new Error('The cast sheet has no part that is left empty. Add one, then rule on the balloon again.'),
      );
      return [];
    }
    const [x, y] = pointOf(key);
    const region = regionAt(survey!, x, y);
    if (region === null) return [];
    let stamp = 0;
    for (const fill of page!.fills.values()) stamp = Math.max(stamp, fill.stamp + 1);
    return assignRegions(survey!, page!.fills, resolved!, [region], empty.id, stamp);
  }

  // --- clean-up ------------------------------------------------------------------------------

  /** Changes how the line art is read. */
  setPrep(label: string, change: Partial<Prep>): void {
    const page = this.bench.state.document;
    if (page !== null) this.bench.push({ label, edits: [editPrep({ ...page.prep, ...change })] });
  }

  /** Turns the page to a slope, with everything on it. */
  setSlope(slopePpm: number | null): void {
    const { document: page, page: view } = this.bench.state;
    if (page === null || view === null) return;
    const label =
      slopePpm === null || slopePpm === 0
        ? 'Leave the page as it lies'
        : `Straighten the page by ${degreesOfSlope(slopePpm).toFixed(2)}°`;
    this.bench.push({ label, edits: straightenDocument(page, slopePpm, view.width, view.height) });
  }

  /** What is at a point is paper, or is ink, from now on. @returns what was wrong with the place, if anything. */
  async pointAt(what: 'paper' | 'ink', x: number, y: number): Promise<string | null> {
    const { survey } = this.bench.state;
    if (survey === null) return null;
    const grey = await this.bench.engine.greyAt(x, y);
    const { blackPoint, whitePoint } = survey.inkPoints;
    const next =
      what === 'paper'
        ? { blackPoint, whitePoint: Math.max(1, Math.min(255, grey - POINT_MARGIN)) }
        : { blackPoint: Math.min(254, grey + POINT_MARGIN), whitePoint };
    if (next.blackPoint >= next.whitePoint) {
      return what === 'paper'
        ? `This is as dark as ink (grey ${grey}). Point at bare paper.`
        : `This is as light as paper (grey ${grey}). Point at ink.`;
    }
    this.setPrep(what === 'paper' ? `Set grey ${grey} as paper` : `Set grey ${grey} as ink`, { inkPoints: next });
    return null;
  }

  /** Shows which specks a limit would take, without deciding it; null shows none. */
  previewSpecks(limitPx2: number | null): void {
    this.bench.showLineArt({ speckPreviewPx2: limitPx2 });
    this.draw();
  }

  // --- panels --------------------------------------------------------------------------------

  /** Panels as they stand, corrected or found. */
  panels(): readonly PagePanel[] {
    const { document: page, facts } = this.bench.state;
    return page?.panels ?? (facts?.panels ?? []).map(({ points }) => ({ points, scene: null }));
  }

  setPanels(label: string, panels: readonly PagePanel[] | null): void {
    this.bench.push({ label, edits: [editPanels(panels)] });
  }

  pickPanel(index: number | null): void {
    this.bench.showLineArt({ panelPicked: index });
    this.draw();
  }

  movePanel(index: number, by: 1 | -1): void {
    const panels = [...this.panels()];
    const [moved] = panels.splice(index, 1);
    if (moved === undefined || index + by < 0 || index + by > panels.length) return;
    panels.splice(index + by, 0, moved);
    this.bench.showLineArt({ panelPicked: index + by });
    this.setPanels('Change the reading order', panels);
  }

  removePanel(index: number): void {
    this.bench.showLineArt({ panelPicked: null });
    this.setPanels(
      `Delete panel ${index + 1}`,
      this.panels().filter((_, k) => k !== index),
    );
  }

  /** Adds a panel after the picked one, or at the end. */
  addPanel([x0, y0, x1, y1]: Box): void {
    const { panelPicked } = this.bench.state;
    const panels = [...this.panels()];
    const at = panelPicked === null ? panels.length : panelPicked + 1;
    const points = [
      [x0, y0],
      [x1, y0],
      [x1, y1],
      [x0, y1],
    ] as const;
    panels.splice(at, 0, { points, scene: null });
    this.bench.showLineArt({ panelPicked: at });
    this.setPanels('Draw a panel', panels);
  }

  moveCorner(index: number, corner: number, to: readonly [number, number]): void {
    const panels = this.panels().map((panel, k) =>
      k === index ? { ...panel, points: panel.points.map((point, n) => (n === corner ? to : point)) } : panel,
    );
    this.setPanels(`Move a corner of panel ${index + 1}`, panels);
  }

  setScene(index: number, scene: string | null): void {
    const panels = this.panels().map((panel, k) => (k === index ? { ...panel, scene } : panel));
    this.setPanels(`Set the scene of panel ${index + 1}`, panels);
  }

  // --- looking -------------------------------------------------------------------------------

  setDraft(draft: Box | null): void {
    this.draft = draft;
    this.draw();
  }

  /** Puts the marks of this stage over the page; `moved` shows a corner where it is dragged to. */
  draw(moved?: { readonly corner: number; readonly to: readonly [number, number] }): void {
    const { stage, lineDecisions: list, lineKey, panelPicked, facts, speckPreviewPx2 } = this.bench.state;
    if (stage !== 'lineart') return;
    const shapes: OverlayShape[] = [...this.trimShapes()];
    this.panels().forEach(({ points }, k) => {
      const picked = k === panelPicked;
      const shown = picked && moved !== undefined ? points.map((p, n) => (n === moved.corner ? moved.to : p)) : points;
      shapes.push({ points: shown, look: picked ? 'chosen' : 'panel', label: String(k + 1), handles: picked });
    });
    for (const one of list) {
      if (one.kind !== 'balloon' && one.kind !== 'solid' && one.kind !== 'change') continue;
      if (one.key !== lineKey) shapes.push({ points: corners(one.box), look: one.kind });
    }
    const current = list.find((one) => one.key === lineKey);
    if (current !== undefined && current.kind !== 'skew' && current.kind !== 'specks')
      shapes.push({ points: corners(current.box), look: 'chosen' });
    if (this.draft !== null) shapes.push({ points: corners(this.draft), look: 'chosen' });
    const limit = speckPreviewPx2 ?? (current?.kind === 'specks' ? (facts?.speckLimitPx2 ?? null) : null);
    const overlay: Overlay = {
      closures: new Float32Array(0),
      current: -1,
      draft: null,
      leak: null,
      narrowest: null,
      shapes,
      specks: limit === null || facts === null ? new Float32Array(0) : specksBelow(facts.speckAt, limit),
    };
    this.bench.engine.overlay(overlay);
  }

  /** Trim and bleed of the job, in the middle of the file. */
  private trimShapes(): OverlayShape[] {
    const { trim, page } = this.bench.state;
    if (trim === null || page === null || page.dpi === null) return [];
    const px = (mm: number): number => (mm / 25.4) * page.dpi!;
    const around = (extraMm: number): readonly (readonly [number, number])[] => {
      const [w, h] = [px(trim.widthMm + 2 * extraMm), px(trim.heightMm + 2 * extraMm)];
      const [x, y] = [(page.width - w) / 2, (page.height - h) / 2];
      return corners([x, y, x + w, y + h]);
    };
    return [
      { points: around(0), look: 'trim' },
      { points: around(trim.bleedMm), look: 'bleed' },
    ];
  }
}

function pointOf(key: string): readonly [number, number] {
  return key.split(',').map(Number) as unknown as readonly [number, number];
}

function corners([x0, y0, x1, y1]: Box): readonly (readonly [number, number])[] {
  return [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
  ];
}

function specksBelow(speckAt: Float32Array, limitPx2: number): Float32Array {
  const shown: number[] = [];
  for (let k = 0; k < speckAt.length; k += 3) {
    if (speckAt[k + 2]! <= limitPx2) shown.push(speckAt[k]!, speckAt[k + 1]!, Math.sqrt(speckAt[k + 2]! / Math.PI));
  }
  return Float32Array.from(shown);
}
