import type { DocumentView, PageView, StepScope, StepView } from '@jumble/contracts';
import { readCastSheet, readPageDocument, type RecordEdit, type Records } from '@jumble/core';
import { createStore, type StoreApi } from 'zustand/vanilla';
import { getJson } from '../../api/http.ts';
import type { Engine } from '../engine/Engine.ts';
import { INITIAL, type BenchState } from './benchState.ts';
import { followOncePerFrame, type Follow } from './followOncePerFrame.ts';
import type { StageHooks } from './StageHooks.ts';
import { SyncQueue, type PendingStep, type SyncEvents } from './SyncQueue.ts';
import { TurnQueue } from './TurnQueue.ts';

/** What a bench is made of. */
export interface BenchParts {
  readonly engine: Engine;
  readonly stages: readonly StageHooks[];
  /** A document came, or changed: by a step here, by another tab, by undo. */
  readonly onDocument: (bench: Bench, scope: StepScope) => void;
  readonly onProblem: (error: Error) => void;
}

/**
 * One page on the bench: its state in one store, its engine, and the way of steps to the server. What can be done to it
 * are commands: functions of a bench, in `page` and in the folders of the stages.
 */
export class Bench {
  readonly store: StoreApi<BenchState> = createStore<BenchState>(() => INITIAL);
  /** For components; the store's own subscription tells of each change at once. */
  readonly follow: Follow = followOncePerFrame(this.store);
  readonly engine: Engine;
  readonly stages: readonly StageHooks[];
  /** Divisions of the page come one after the other, and so does what is worked out on one of them. */
  readonly turns: TurnQueue = new TurnQueue((error) => this.fail(error));
  /** Undo and redo come one after the other: each shows before the server has done it. */
  readonly stepping: TurnQueue = new TurnQueue((error) => this.fail(error));
  /** The page was left. */
  isClosed = false;
  private readonly pageSync: SyncQueue;
  private castSync: SyncQueue | null = null;
  private readonly ticker: ReturnType<typeof setInterval>;

  constructor(
    readonly pageId: string,
    private readonly parts: BenchParts,
  ) {
    this.engine = parts.engine;
    this.stages = parts.stages;
    this.pageSync = new SyncQueue('page', `/api/pages/${pageId}`, this.syncEvents());
    this.ticker = setInterval(() => {
      if (globalThis.document?.visibilityState === 'visible') this.set({ secondsHere: this.state.secondsHere + 1 });
    }, 1000);
  }

  get state(): BenchState {
    return this.store.getState();
  }

  /** Takes over what commands and tools found; not once the page was left. */
  set(part: Partial<BenchState>): void {
    if (!this.isClosed) this.store.setState(part);
  }

  /** Says what went wrong, unless the bench was left meanwhile. */
  fail(error: Error): void {
    if (!this.isClosed) this.parts.onProblem(error);
  }

  // --- documents -----------------------------------------------------------------------------

  /** Fetches the page, its document, the job's cast sheet and what was done. @returns null when it was left meanwhile. */
  async load(): Promise<PageView | null> {
    const page = await getJson<PageView>(`/api/pages/${this.pageId}`);
    if (this.isClosed) return null;
    this.castSync = new SyncQueue('cast', `/api/jobs/${page.jobId}/cast`, this.syncEvents());
    this.set({ page });
    const [pageDocument, castDocument, history] = await Promise.all([
      getJson<DocumentView>(`/api/pages/${this.pageId}/document`),
      getJson<DocumentView>(`/api/jobs/${page.jobId}/cast`),
      getJson<Omit<StepView, 'edits'>[]>(`/api/pages/${this.pageId}/history`),
    ]);
    if (this.isClosed) return null;
    this.castSync.load(castDocument);
    this.pageSync.load(pageDocument);
    this.set({ history });
    return page;
  }

  /** Shows a gesture on the page and sends it. */
  push(step: PendingStep): void {
    this.pageSync.push(step);
  }

  changeCast(label: string, edits: readonly RecordEdit[]): void {
    this.castSync?.push({ label, edits });
  }

  /** Takes a step of the cast sheet that the server made by itself. */
  takeCastStep(step: StepView): void {
    this.addStep(step);
    this.castSync?.accept(step);
  }

  addStep(step: StepView): void {
    this.set({ history: [...this.state.history, step] });
  }

  /** The queue of one of the two documents; null until the page's job is known. */
  syncOf(scope: StepScope): SyncQueue | null {
    return scope === 'page' ? this.pageSync : this.castSync;
  }

  resolveClash(choice: 'mine' | 'theirs'): void {
    if (this.state.clash !== null) this.syncOf(this.state.clash.scope)?.resolveClash(choice);
  }

  /** Gestures that are not acknowledged yet. */
  get unsaved(): number {
    return this.pageSync.waiting + (this.castSync?.waiting ?? 0);
  }

  /** Resolves once every gesture is acknowledged. */
  async settled(): Promise<void> {
    await Promise.all([this.pageSync.settled(), this.castSync?.settled()]);
  }

  close(): void {
    this.isClosed = true;
    clearInterval(this.ticker);
    this.pageSync.close();
    this.castSync?.close();
    this.engine.close();
  }

  private syncEvents(): SyncEvents {
    return {
      onRecords: (scope, records) => this.takeRecords(scope, records),
      onStep: (step) => this.addStep(step),
      onState: (state, waiting) => this.set({ sync: { state, waiting } }),
      onClash: (clash) => this.set({ clash }),
      onProblem: (error) => this.fail(error),
    };
  }

  private takeRecords(scope: StepScope, records: Records): void {
    if (scope === 'page') this.set({ document: readPageDocument(records) });
    else {
      const cast = readCastSheet(records);
      const { partId } = this.state;
      this.set({ cast, partId: cast.parts.some((part) => part.id === partId) ? partId : (cast.parts[0]?.id ?? null) });
    }
    this.parts.onDocument(this, scope);
  }
}
