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
import { counted } from '../../../measures.ts';
import type { OverlayMark } from '../../engine/messages.ts';
import { settleDivision } from '../../page/division.ts';
import { panelsOf } from '../../page/panels.ts';
import { previewPart } from '../../page/parts.ts';
import { refresh } from '../../page/show.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';
import { setFlats } from './setFlats.ts';

type Point = readonly [number, number];

/** The marks that show over the page. */
export function marksOverlay(state: BenchState): OverlayMark[] {
  const { flats, document: page } = state;
  if (page === null || flats.way !== 'marks' || !flats.marksShown) return [];
  const shown = painter(state);
  return [...page.marks.values()].flatMap((mark) => shown(mark) ?? []);
}

/** Shows the mark that is being drawn; null for none any more. */
export function setMarkDraft(bench: Bench, mark: Mark | null): void {
  bench.engine.markDraft(mark === null ? null : painter(bench.state)(mark));
}

/** How marks look, by their part; null for those of a part that is no more. */
function painter({ document: page, cast }: BenchState): (mark: Mark) => OverlayMark | null {
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
export function addMark(bench: Bench, mark: Mark): boolean {
  setMarkDraft(bench, null);
  const { survey } = bench.state;
  if (survey !== null && !marksPaper(survey, mark)) return false;
  bench.push({ label: `Mark ${nameOf(bench, mark.part)}`, edits: [editMark(crypto.randomUUID(), mark)] });
  setFlats(bench, { unspread: true });
  return true;
}

/** The mark nearest to a point within a reach, in page px. */
export function markAt({ document: page }: BenchState, [x, y]: Point, reachPx: number): string | null {
  let best = reachPx * reachPx;
  let found: string | null = null;
  for (const [id, { points }] of page?.marks ?? []) {
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

export function eraseMarks(bench: Bench, ids: readonly string[]): void {
  if (ids.length === 0) return;
  const what = counted(ids.length, 'mark');
  bench.push({ label: `Erase ${what}`, edits: ids.map((id) => editMark(id, null)) });
  setFlats(bench, { unspread: true });
}

/** All marks of one part, or of all parts (null), in one go. */
export function eraseMarksOf(bench: Bench, partId: string | null): void {
  const marks = bench.state.document?.marks ?? new Map<string, Mark>();
  eraseMarks(
    bench,
    [...marks].flatMap(([id, mark]) => (partId === null || mark.part === partId ? [id] : [])),
  );
}

/** Assigns a mark to the chosen part. */
export function recolourMark(bench: Bench, id: string): void {
  const { document: page, partId } = bench.state;
  const mark = page?.marks.get(id);
  if (mark === undefined || partId === null || mark.part === partId) return;
  bench.push({
    label: `Assign a mark to ${nameOf(bench, partId)}`,
    edits: [editMark(id, { ...mark, part: partId })],
  });
  setFlats(bench, { unspread: true });
}

/** Spreads the marks over the page, or over the panel the worklist keeps to. */
export async function spreadMarks(bench: Bench): Promise<void> {
  const { document: page, flats } = bench.state;
  if (flats.spreadPreview === 'again') setFlats(bench, { spreadPreview: 'running' });
  if (page === null || flats.spreading || !hasMarks(page)) return;
  setFlats(bench, { spreading: true });
  try {
    const edits = await solve(bench, false);
    const count = page.marks.size;
    if (edits.length > 0) await settleDivision(bench, `Spread ${counted(count, 'mark')}`, edits);
    setFlats(bench, { unspread: false });
  } finally {
    setFlats(bench, { spreading: false });
  }
}

/** Shows what spreading would come to now, without doing it. While it is worked out, the latest asked for wins. */
export async function previewSpread(bench: Bench): Promise<void> {
  const { document: page } = bench.state;
  const { spreadPreview } = bench.state.flats;
  if (spreadPreview !== 'none') {
    setFlats(bench, { spreadPreview: 'again' });
    return;
  }
  if (page === null || !hasMarks(page)) return;
  try {
    do {
      setFlats(bench, { spreadPreview: 'running' });
      const edits = await solve(bench, true);
      // Spreading itself, asked for meanwhile, shows what it did.
      if (!bench.state.flats.spreading) showSpread(bench, edits);
    } while (bench.state.flats.spreadPreview === 'again');
  } finally {
    setFlats(bench, { spreadPreview: 'none' });
  }
}

async function solve(bench: Bench, preview: boolean): Promise<readonly RecordEdit[]> {
  let edits: readonly RecordEdit[] = [];
  await bench.turns.run(async () => {
    const { document: now, panelShown, cast, flats } = bench.state;
    const panel = panelShown === null ? null : (panelsOf(bench.state)[panelShown]?.points ?? null);
    edits = await bench.engine.spreadMarks(asNow(now!, cast!), flats.spread, panel, preview);
  });
  return edits;
}

/** Colours regions as edits would; pieces that a cut would part show the part of the last one. */
function showSpread(bench: Bench, edits: readonly RecordEdit[]): void {
  const { survey, document: page } = bench.state;
  if (survey === null || page === null) return;
  refresh(bench);
  const fills = fillsWith(page.fills, edits);
  const ofPart = new Map<string | null, number[]>();
  resolveFills(survey, fills, partFinder(bench.state.cast!)).partOfRegion.forEach((part, region) => {
    if (part === bench.state.resolved?.partOfRegion[region]) return;
    const list = ofPart.get(part);
    if (list === undefined) ofPart.set(part, [region]);
    else list.push(region);
  });
  for (const [part, regions] of ofPart) previewPart(bench, regions, part);
}

/** What the marks came to becomes fills like any other, and the marks go. */
export function marksToFills(bench: Bench): void {
  const page = bench.state.document;
  if (page === null) return;
  const edits = [...page.marks.keys()].map((id) => editMark(id, null));
  for (const [key, { by, ...fill }] of page.fills) if (by === 'mark') edits.push(editFill(key, fill));
  if (edits.length === 0) return;
  bench.push({ label: 'Turn marks into plain fills', edits });
  setFlats(bench, { unspread: false });
}

function nameOf(bench: Bench, partId: string): string {
  return bench.state.cast?.parts.find((part) => part.id === partId)?.name ?? '';
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
    // What marks came to before has to be known to make way.
    fills: mapped(page.fills, (fill) => fill.by === 'mark'),
  };
}
