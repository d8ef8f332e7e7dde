import type { AddTimeDto, TimeStage } from '@jumble/contracts';
import dayjs from 'dayjs';
import { request } from '../api/http.ts';
import { person } from '../api/person.ts';

/** Longest piece that the server takes at once, in ms. */
const PIECE_MS = 10 * 60_000;

/** Where somebody works. */
export interface WorkPlace {
  readonly pageId: string;
  readonly stage: TimeStage;
}

interface Span {
  readonly url: string;
  readonly body: AddTimeDto;
}

/** Sends spans of time one after the other, in their order: the server counts each person's clock forwards. */
export class TimeSender {
  private readonly waiting: Span[] = [];
  private isHeld = false;
  private draining: Promise<void> | null = null;

  /** @param onRefused is told what the server does not take: it is not tried again. */
  constructor(private readonly onRefused: (error: unknown) => void) {}

  add(place: WorkPlace, fromMs: number, toMs: number): void {
    this.waiting.push(...spansOf(place, fromMs, toMs));
    void this.send();
  }

  /** Keeps all that comes back until {@link release}: something earlier may still be counted. */
  hold(): void {
    this.isHeld = true;
  }

  /** Goes on, with an earlier span first, or without. */
  release(earlier: { readonly place: WorkPlace; readonly fromMs: number; readonly toMs: number } | null): void {
    if (earlier !== null) this.waiting.unshift(...spansOf(earlier.place, earlier.fromMs, earlier.toMs));
    this.isHeld = false;
    void this.send();
  }

  /** Resolves once nothing is under way; what could not be sent waits for the next span. */
  send(): Promise<void> {
    this.draining ??= this.drain().finally(() => (this.draining = null));
    return this.draining;
  }

  private async drain(): Promise<void> {
    while (!this.isHeld && this.waiting.length > 0) {
      const { url, body } = this.waiting[0]!;
      try {
        await request('POST', url, body, { keepalive: true });
      } catch (error) {
        if ((error as Error).name === 'ConnectionLost') return;
        this.onRefused(error);
      }
      this.waiting.shift();
    }
  }
}

function spansOf({ pageId, stage }: WorkPlace, fromMs: number, toMs: number): Span[] {
  const spans: Span[] = [];
  for (let from = Math.round(fromMs); from < toMs; from += PIECE_MS) {
    const body = {
      person: person(),
      stage,
      fromMs: from,
      toMs: Math.min(Math.round(toMs), from + PIECE_MS),
      day: dayjs(from).format('YYYY-MM-DD'),
    };
    spans.push({ url: `/api/pages/${pageId}/time`, body });
  }
  return spans;
}
