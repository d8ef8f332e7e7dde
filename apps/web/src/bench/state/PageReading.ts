import type { PageView } from '@jumble/contracts';
import { request } from '../../api/http.ts';
import type { Engine } from '../engine/Engine.ts';
import type { BenchState } from './benchState.ts';
import { signOf } from './divideBy.ts';
import type { GapDesk } from './GapDesk.ts';
import type { LineArtDesk } from './LineArtDesk.ts';
import { knownCuts, readFrom } from './readFrom.ts';

/** What reading a page needs of the bench. */
export interface ReadingPorts {
  readonly state: BenchState;
  readonly pageId: string;
  /** The page was left. */
  readonly isClosed: boolean;
  readonly engine: Pick<Engine, 'survey'>;
  readonly gaps: Pick<GapDesk, 'by' | 'toRule' | 'follow' | 'draw' | 'inTurn'>;
  readonly lineArt: Pick<LineArtDesk, 'measure' | 'list'>;
  set(part: Partial<BenchState>): void;
  /** What the regions on show are divided by. */
  dividedBy: string;
  /** What was proposed names regions that have other numbers now. */
  dropStaleProposals(): void;
  refresh(): void;
  fail(error: Error): void;
}

/** How a page becomes ink and regions: read when it is opened, and anew when its document or files say something else. */
export class PageReading {
  /** What the page was read from. */
  private readBy = '';

  constructor(private readonly bench: ReadingPorts) {}

  async read(page: PageView): Promise<void> {
    const from = readFrom(page, this.bench.state.document!);
    const by = this.bench.gaps.by();
    const prep = { ...from.prep, maxGapPx: this.bench.state.document!.prep.maxGapPx };
    const survey = await this.bench.engine.survey({ ...from, prep }, by, knownCuts(page, this.bench.state.document!));
    if (this.bench.isClosed) return;
    this.readBy = JSON.stringify(from);
    this.bench.dividedBy = signOf(by);
    if (this.bench.state.survey !== null) this.bench.dropStaleProposals();
    this.bench.set({
      survey,
      openGaps: this.bench.gaps.toRule(survey),
      islands: [],
      phase: 'ready',
      phaseShare: 1,
      hovered: null,
      current: null,
      leak: null,
      facts: null,
    });
    this.bench.refresh();
    this.bench.gaps.follow();
    this.bench.gaps.draw();
    void this.bench.lineArt.measure();
  }

  /** Reads the page anew when its document or its files came to say something else about the ink. */
  follow(): void {
    const { page, survey } = this.bench.state;
    if (page === null || survey === null || this.isRead(page)) return;
    void this.bench.gaps.inTurn(async () => {
      const latest = this.bench.state.page!;
      if (this.bench.isClosed || this.isRead(latest)) return;
      this.bench.set({ phase: 'again' });
      try {
        await this.read(latest);
      } finally {
        if (this.bench.state.phase === 'again') this.bench.set({ phase: 'ready' });
      }
    });
  }

  private isRead(page: PageView): boolean {
    const { document } = this.bench.state;
    return document === null || this.readBy === JSON.stringify(readFrom(page, document));
  }

  /** Takes what the server says of the page's files now. */
  takePage(page: PageView): void {
    this.bench.set({ page });
    this.follow();
  }

  /** The changes of a revised file are looked through. */
  async settleRevision(): Promise<void> {
    try {
      this.takePage(await request<PageView>('DELETE', `/api/pages/${this.bench.pageId}/revision`));
      this.bench.set({ changes: null });
      this.bench.lineArt.list();
    } catch (error) {
      this.bench.fail(error as Error);
    }
  }
}
