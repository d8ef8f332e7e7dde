import { applyEdits, clashingKeys, type RecordEdit, type Records } from '@jumble/core';
import type { AppendedView, DocumentView, StepScope, StepView } from '@jumble/contracts';
import { ConnectionLost, request, ServerProblem } from '../../api/http.ts';

/** A gesture that is not acknowledged yet. */
export interface PendingStep {
  readonly label: string;
  readonly edits: readonly RecordEdit[];
}

/** Two tabs gave the same thing different values: someone must choose. */
export interface Clash {
  readonly scope: StepScope;
  readonly mine: PendingStep;
  readonly theirs: readonly StepView[];
  readonly keys: readonly string[];
}

/** Whether everything is stored; `blocked`: the server is there, but cannot write now. */
export type SyncState = 'saved' | 'saving' | 'offline' | 'blocked';

export interface SyncEvents {
  /** The document changed, by us or by others. */
  readonly onRecords: (scope: StepScope, records: Records) => void;
  readonly onStep: (step: StepView) => void;
  readonly onState: (state: SyncState, waiting: number) => void;
  readonly onClash: (clash: Clash | null) => void;
  readonly onProblem: (error: Error) => void;
}

const RETRY_MS = 2000;
/** The server could not store anything then (a full disk, a locked database): later it may. */
const LATER = new Set([503, 507]);
/** Steps whose edits are kept, so that undoing them shows before the server has answered. */
const MOST_KNOWN = 100;

/**
 * Keeps one document in step with the server. Gestures show at once and are sent one after the
 * other; a stale one is put on top of what others did, unless both touch the same thing: then the
 * user is asked. Nothing is dropped by itself.
 */
export class SyncQueue {
  /** As the server has it. */
  private base: Records = new Map();
  private revision = 0;
  private pending: PendingStep[] = [];
  /** What undo or redo will come to, shown while the server does it. */
  private optimistic: readonly RecordEdit[] | null = null;
  private held = false;
  /** Edits of steps that were seen, with what takes them back, by their number in the log. */
  private readonly known = new Map<number, Record<'undo' | 'redo', readonly RecordEdit[]>>();
  private sending = false;
  private blocked = false;
  private clash: Clash | null = null;
  private closed = false;
  private idle: (() => void)[] = [];

  constructor(
    private readonly scope: StepScope,
    private readonly url: string,
    private readonly events: SyncEvents,
  ) {}

  load({ revision, records }: DocumentView): void {
    this.base = new Map(records);
    this.revision = revision;
    this.show();
  }

  /** The document as it is shown: as it is stored, with what is on its way. */
  get records(): Records {
    let records = this.optimistic === null ? this.base : applyEdits(this.base, this.optimistic).records;
    for (const step of this.pending) records = applyEdits(records, step.edits).records;
    return records;
  }

  /** What is not acknowledged yet: gestures, and the step that the server takes back or does again. */
  get waiting(): number {
    return this.pending.length + (this.held ? 1 : 0);
  }

  push(step: PendingStep): void {
    this.pending.push(step);
    this.show();
    void this.send();
  }

  /**
   * An optimistic update: shows what undoing or redoing a step will come to, where that is known. Gestures wait until the server
   * has done it ({@link accept}) or not ({@link rollBack}): they come after it.
   */
  showAhead(direction: 'undo' | 'redo', seq: number): void {
    this.held = true;
    this.events.onState('saving', this.waiting);
    this.optimistic = this.known.get(seq)?.[direction] ?? null;
    if (this.optimistic !== null) this.show();
  }

  /** Ends an optimistic update: what was shown ahead does not come, or is there already. */
  rollBack(): void {
    const shows = this.optimistic !== null;
    this.optimistic = null;
    this.held = false;
    if (shows) this.show();
    void this.send();
  }

  /** A step that the server made itself (undo, redo). */
  accept(step: StepView): void {
    const isShown = this.optimistic !== null && JSON.stringify(this.optimistic) === JSON.stringify(step.edits);
    if (step.revision !== this.revision + 1) return this.rollBack();
    this.optimistic = null;
    this.take(step);
    if (!isShown) this.show();
    this.rollBack();
  }

  /** Resolves once everything is acknowledged. */
  settled(): Promise<void> {
    return this.waiting === 0 ? Promise.resolve() : new Promise((resolve) => this.idle.push(resolve));
  }

  /** Answers a clash: put ours on top, or let theirs stand where both touch. */
  resolveClash(choice: 'mine' | 'theirs'): void {
    const { clash } = this;
    if (clash === null) return;
    if (choice === 'theirs') {
      const keys = new Set(clash.keys);
      const edits = clash.mine.edits.filter((edit) => !keys.has(edit.key));
      if (edits.length === 0) this.pending.shift();
      else this.pending[0] = { ...clash.mine, edits };
    }
    this.clash = null;
    this.events.onClash(null);
    this.show();
    void this.send();
  }

  close(): void {
    this.closed = true;
  }

  /** Puts a step of the server's on the base. */
  private take(step: StepView): void {
    const { records, inverse } = applyEdits(this.base, step.edits);
    this.base = records;
    this.revision = step.revision;
    if (step.kind !== 'do') return;
    this.known.set(step.seq, { undo: inverse, redo: step.edits });
    if (this.known.size > MOST_KNOWN) this.known.delete(this.known.keys().next().value!);
  }

  private show(): void {
    this.events.onRecords(this.scope, this.records);
  }

  private async send(): Promise<void> {
    if (this.sending || this.held || this.clash !== null) return;
    this.sending = true;
    try {
      while (this.pending.length > 0 && this.clash === null && !this.held && !this.closed) {
        if (!this.blocked) this.events.onState('saving', this.pending.length);
        await this.sendFirst(this.pending[0]!);
      }
    } finally {
      this.sending = false;
    }
    if (this.waiting === 0) {
      this.events.onState('saved', 0);
      this.idle.splice(0).forEach((resolve) => resolve());
    }
  }

  private async sendFirst(step: PendingStep): Promise<void> {
    try {
      const answer = await request<AppendedView>('POST', `${this.url}/edits`, { baseRevision: this.revision, ...step });
      this.acknowledge(answer.step);
    } catch (error) {
      if (error instanceof ConnectionLost) {
        this.events.onState('offline', this.pending.length);
        await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
      } else if (error instanceof ServerProblem && LATER.has(error.status)) {
        this.events.onState('blocked', this.pending.length);
        // Said once: it is tried again until it goes.
        if (!this.blocked) this.events.onProblem(new Error(whyWaiting(error.code)));
        this.blocked = true;
        await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
      } else if (error instanceof ServerProblem && error.code === 'stale-edit') {
        this.rebase(step, error.body.missed as StepView[]);
      } else {
        // The server will never take this one: say so and show the page as it is stored.
        this.pending.shift();
        this.show();
        this.events.onProblem(error as Error);
      }
    }
  }

  private acknowledge(step: StepView): void {
    this.blocked = false;
    this.pending.shift();
    this.take(step);
    this.events.onStep(step);
  }

  private rebase(step: PendingStep, missed: readonly StepView[]): void {
    const mine = JSON.stringify(step.edits);
    this.optimistic = null;
    for (const theirs of missed) {
      this.take(theirs);
      this.events.onStep(theirs);
      // Our own step, stored although its answer was lost on the way.
      if (this.pending[0] === step && theirs.label === step.label && JSON.stringify(theirs.edits) === mine)
        this.pending.shift();
    }
    if (this.pending[0] === step) {
      const keys = clashingKeys(
        step.edits,
        missed.flatMap((other) => other.edits),
      );
      if (keys.length > 0) {
        this.clash = { scope: this.scope, mine: step, theirs: missed, keys };
        this.events.onClash(this.clash);
      }
    }
    this.show();
  }
}

/** What keeps steps from being stored, by the server's code. */
function whyWaiting(code: string): string {
  const [what, remedy] =
    code === 'disk-full'
      ? ['The disk is full.', 'there is space: free some.']
      : code === 'database-locked'
        ? ['Another program holds the database.', 'it lets go: close that program.']
        : ['The disk refuses to be written.', 'it can be: check the disk.'];
  return `${what} Your steps wait here and are stored once ${remedy}`;
}
