import {
  assignRegions,
  editFill,
  partFinder,
  regionAt,
  type ExamplePage,
  type ExampleProposal,
  type Fill,
  type RecordEdit,
  stampAfter,
} from '@jumble/core';
import { getJson } from '../../../api/http.ts';
import { counted } from '../../../measures.ts';
import { previewPart } from '../../page/parts.ts';
import { refresh } from '../../page/show.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';
import { mayPropose } from './colourGuide.ts';
import { setFlats } from './setFlats.ts';

/** Proposals less likely than this are not made: looking at them costs more than pointing. */
const LEAST_CONFIDENCE = 0.3;

// Proposals by what is done already: on other pages of the job, or in other panels of this one.

/**
 * Proposes parts for regions without one.
 *
 * @param from `pages`: the done pages of the job; `panels`: the other panels of this page, for the panel the
 * worklist keeps to.
 */
export async function proposeExamples(bench: Bench, from: 'pages' | 'panels'): Promise<void> {
  const { page, cast, resolved, document, panelShown, panelOfRegion } = bench.state;
  if (page === null || cast === null || resolved === null || document === null) return;
  setFlats(bench, { examples: { from, pages: 0, proposals: null } });
  try {
    const partOf = partFinder(cast);
    const inPanel = (region: number): boolean => panelShown === null || panelOfRegion?.[region] === panelShown;
    const pages = from === 'pages' ? await getJson<readonly ExamplePage[]>(`/api/pages/${page.id}/examples`) : [];
    const examples = pages.map(({ traits, parts }) => ({
      traits,
      parts: parts.map((part) => (part === null ? null : partOf(part))),
    }));
    const own =
      from === 'panels'
        ? resolved.partOfRegion.map((part, region) => (inPanel(region) || resolved.looks.has(region) ? null : part))
        : null;
    const wanted = resolved.partOfRegion.flatMap((part, region) => (part === null && inPanel(region) ? [region] : []));
    await bench.turns.run(async () => {
      const all = await bench.engine.proposeFromExamples(document.panels, wanted, examples, own);
      const proposals = all.filter((one) => one.confidence >= LEAST_CONFIDENCE);
      setFlats(bench, { examples: { from, pages: pages.length, proposals } });
      refresh(bench);
    });
  } catch (error) {
    setFlats(bench, { examples: null });
    bench.fail(error as Error);
  }
}

/** Regions with lettering in them that Line art asks about: they are nobody's coat. */
function openBalloons({ survey, lineDecisions }: BenchState): ReadonlySet<number | null> {
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
export function examplesProposed(state: BenchState): readonly ExampleProposal[] {
  const { flats, resolved } = state;
  if (resolved === null) return [];
  // The line art may have been measured only since.
  const balloons = openBalloons(state);
  return (flats.examples?.proposals ?? []).filter(
    ({ region }) => region < resolved.partOfRegion.length && mayPropose(region, resolved) && !balloons.has(region),
  );
}

/** Shows what is proposed, as if it was taken. */
export function previewExamples(bench: Bench): void {
  if (bench.state.flats.way !== 'key') return;
  for (const { region, part } of examplesProposed(bench.state)) previewPart(bench, [region], part);
}

/** Takes the proposals: every one of them is listed to be looked at. */
export function takeExamples(bench: Bench): void {
  const { survey, document, resolved } = bench.state;
  const proposals = examplesProposed(bench.state);
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
  const from = bench.state.flats.examples?.from === 'panels' ? 'other panels' : 'done pages';
  bench.push({ label: `Accept ${what} from ${from}`, edits: [...edits.values()] });
  dropExamples(bench);
}

export function dropExamples(bench: Bench): void {
  setFlats(bench, { examples: null });
  refresh(bench);
}
