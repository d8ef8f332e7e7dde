import {
  assignRegions,
  editFill,
  partFinder,
  regionAt,
  type ExamplePage,
  type ExampleProposal,
  type Fill,
  type RecordEdit,
} from '@jumble/core';
import { getJson } from '../../api/http.ts';
import type { Engine } from '../engine/Engine.ts';
import { stampAfter, type BenchState, type FlatsState } from './benchState.ts';
import { mayPropose } from './KeyDesk.ts';
import type { GapDesk } from './GapDesk.ts';
import type { PendingStep } from './SyncQueue.ts';
import { counted } from '../../measures.ts';

/** What the example desk needs of its bench. */
export interface ExamplePorts {
  readonly state: BenchState;
  readonly engine: Pick<Engine, 'proposeFromExamples'>;
  readonly gaps: Pick<GapDesk, 'inTurn'>;
  push(step: PendingStep): void;
  previewGiven(regions: Iterable<number>, partId: string | null): number;
  refresh(): void;
  showFlats(part: Partial<FlatsState>): void;
  fail(error: Error): void;
}

/** Proposals less likely than this are not made: looking at them costs more than pointing. */
const LEAST_CONFIDENCE = 0.3;

/** Proposals by what is done already: on other pages of the job, or in other panels of this one. */
export class ExampleDesk {
  constructor(
    private readonly bench: ExamplePorts,
    private readonly fetchExamples = (pageId: string): Promise<readonly ExamplePage[]> =>
      getJson<readonly ExamplePage[]>(`/api/pages/${pageId}/examples`),
  ) {}

  /**
   * Proposes parts for regions without one.
   *
   * @param from `pages`: the done pages of the job; `panels`: the other panels of this page, for the panel the
   * worklist keeps to.
   */
  async propose(from: 'pages' | 'panels'): Promise<void> {
    const { page, cast, resolved, document, panelShown, panelOfRegion } = this.bench.state;
    if (page === null || cast === null || resolved === null || document === null) return;
    this.bench.showFlats({ examples: { from, pages: 0, proposals: null } });
    try {
      const partOf = partFinder(cast);
      const inPanel = (region: number): boolean => panelShown === null || panelOfRegion?.[region] === panelShown;
      const pages = from === 'pages' ? await this.fetchExamples(page.id) : [];
      const examples = pages.map(({ traits, parts }) => ({
        traits,
        parts: parts.map((part) => (part === null ? null : partOf(part))),
      }));
      const own =
        from === 'panels'
          ? resolved.partOfRegion.map((part, region) => (inPanel(region) || resolved.looks.has(region) ? null : part))
          : null;
      const wanted = resolved.partOfRegion.flatMap((part, region) =>
        part === null && inPanel(region) ? [region] : [],
      );
      await this.bench.gaps.inTurn(async () => {
        const all = await this.bench.engine.proposeFromExamples(document.panels, wanted, examples, own);
        const proposals = all.filter((one) => one.confidence >= LEAST_CONFIDENCE);
        this.bench.showFlats({ examples: { from, pages: pages.length, proposals } });
        this.bench.refresh();
      });
    } catch (error) {
      this.bench.showFlats({ examples: null });
      this.bench.fail(error as Error);
    }
  }

  /** Regions with lettering in them that Line art asks about: they are nobody's coat. */
  private openBalloons(): ReadonlySet<number | null> {
    const { survey, lineDecisions } = this.bench.state;
    if (survey === null) return new Set();
    return new Set(
      lineDecisions
        .filter(({ kind }) => kind === 'balloon')
        .map(({ key }) => {
          const [x, y] = key.split(',').map(Number) as [number, number];
          return regionAt(survey, x, y);
        }),
    );
  }

  /** The proposals that still mean something. */
  proposed(): readonly ExampleProposal[] {
    const { flats, resolved } = this.bench.state;
    if (resolved === null) return [];
    // The line art may have been measured only since.
    const balloons = this.openBalloons();
    return (flats.examples?.proposals ?? []).filter(
      ({ region }) => region < resolved.partOfRegion.length && mayPropose(region, resolved) && !balloons.has(region),
    );
  }

  /** Shows what is proposed, as if it was taken. */
  preview(): void {
    const { stage, flats } = this.bench.state;
    if (stage !== 'flats' || flats.way !== 'key') return;
    for (const { region, part } of this.proposed()) this.bench.previewGiven([region], part);
  }

  /** Takes the proposals: every one of them is listed to be looked at. */
  take(): void {
    const { survey, document, resolved } = this.bench.state;
    const proposals = this.proposed();
    if (survey === null || document === null || resolved === null || proposals.length === 0) return;
    const stamp = stampAfter(document);
    const regions = proposals.map((one) => one.region);
    const edits = new Map<string, RecordEdit>();
    const put = (edit: RecordEdit): void => void edits.set(edit.key, edit);
    assignRegions(survey, document.fills, resolved, regions, null, stamp).forEach(put);
    for (const { region, part } of proposals) {
      const at = survey.regions.anchor[region]!;
      const x = at % survey.width;
      const y = (at - x) / survey.width;
      const fill: Fill = { part, anchors: [[x, y]], stamp, look: 'done' };
      put(editFill(`${x},${y}`, fill));
    }
    const what = counted(proposals.length, 'part');
    const from = this.bench.state.flats.examples?.from === 'panels' ? 'other panels' : 'done pages';
    this.bench.push({ label: `Accept ${what} from ${from}`, edits: [...edits.values()] });
    this.drop();
  }

  drop(): void {
    this.bench.showFlats({ examples: null });
    this.bench.refresh();
  }
}
