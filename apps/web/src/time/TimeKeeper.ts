/** Spans are handed over so often, in ms. */
const SPAN_MS = 30_000;
/** Who was away longer than this did something else, in ms. */
const MOST_AWAY_MS = 60 * 60_000;

export interface TimeKeeperEvents {
  /** Somebody worked from one time to another, in ms. */
  readonly onWorked: (fromMs: number, toMs: number) => void;
  /** Somebody came back; it could have been work. */
  readonly onBack: (fromMs: number, toMs: number) => void;
}

/** Counts time while something is done, and cuts it where nothing was for a while. */
export class TimeKeeper {
  /** What is counted from; null while nobody works. */
  private from: number | null = null;
  private last: number | null = null;

  /** @param idleMs so long without doing anything is still work. */
  constructor(
    private readonly idleMs: number,
    private readonly events: TimeKeeperEvents,
  ) {}

  /** Something was done. */
  act(nowMs: number): void {
    this.tick(nowMs);
    if (this.from === null) {
      const away = this.last === null ? 0 : nowMs - this.last;
      if (this.last !== null && away > this.idleMs && away <= MOST_AWAY_MS) this.events.onBack(this.last, nowMs);
      this.from = nowMs;
    }
    this.last = nowMs;
  }

  /** Time went on. */
  tick(nowMs: number): void {
    if (this.from === null || this.last === null) return;
    if (nowMs - this.last > this.idleMs) {
      this.flush();
      this.from = null;
    } else if (this.last - this.from >= SPAN_MS) this.flush();
  }

  /** Hands over what was worked until now: the stage or the page is left. */
  flush(): void {
    if (this.from === null || this.last === null || this.last <= this.from) return;
    this.events.onWorked(this.from, this.last);
    this.from = this.last;
  }
}
