import {
  DEFAULT_PREP,
  editCastScene,
  editColour,
  editFill,
  editGroup,
  editPart,
  editRuling,
  gapsToRule,
  type GreyRaster,
  type RecordEdit,
} from '@jumble/core';
import { DEMO_CAST } from './castOfDemo.ts';
import { encodeInkPng, PAGE_COUNT, renderInk, renderInkPng, renderTruth } from './renderPage.ts';
import { LATE_DAY, sampleDays, sampleLogbook, type MeasuredPage } from './sampleLogbook.ts';
import { truthDecisions, truthFills, type TrueFill } from './truthFills.ts';

export const DEMO_JOB = 'The Understory Line';

/** How far each page of the demo is. */
const STATES: readonly MeasuredPage['state'][] = ['half flatted', 'fresh', 'handed off', 'in check', 'gaps', 'fresh'];
/** Panels below this are not flatted yet on the page that is half done, in px at 300 dpi. */
const HALF_DONE_PX = 2120;

const PAUSE_MS = 50;
const pause = (): Promise<void> => new Promise((go) => setTimeout(go, PAUSE_MS));

type Send = <T>(method: string, path: string, body?: unknown, person?: string) => Promise<T>;

/**
 * Puts the demo into a running Jumble, through the same doors as everybody: a job with its plan, its cast sheet and its
 * pages in different states, and a logbook of sample data. Does nothing when the job is there already.
 */
export async function seedDemo(address: string): Promise<void> {
  const send: Send = async <T>(method: string, path: string, body?: unknown, person?: string): Promise<T> => {
    const form = body instanceof FormData;
    const response = await fetch(`${address}${path}`, {
      method,
      ...(body === undefined ? {} : { body: form ? body : JSON.stringify(body) }),
      headers: {
        ...(form || body === undefined ? {} : { 'Content-Type': 'application/json' }),
        ...(person === undefined ? {} : { 'X-Jumble-Person': encodeURIComponent(person) }),
      },
    });
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
    return (response.status === 204 ? undefined : await response.json()) as T;
  };
  const jobs = await send<{ name: string; pages: unknown[] }[]>('GET', '/api/jobs');
  if (jobs.some((job) => job.name === DEMO_JOB)) return;

  const now = new Date();
  const due = new Date(now.getTime() + 12 * 86_400_000).toISOString().slice(0, 10);
  const job = await send<{ id: string }>('POST', '/api/jobs', { name: DEMO_JOB, dueOn: due });
  const cast = await send<{ revision: number; records: [string, unknown][] }>('GET', `/api/jobs/${job.id}/cast`);
  await send('POST', `/api/jobs/${job.id}/cast/edits`, {
    baseRevision: cast.revision,
    label: 'Bring in the cast of The Understory Line',
    edits: [...cast.records.map(([key]): RecordEdit => ({ key, value: null })), ...demoCastEdits()],
  });
  const pages: MeasuredPage[] = [];
  let next = pictures(1);
  for (let number = 1; number <= PAGE_COUNT; number++) {
    const state = STATES[number - 1]!;
    const { png, ink, truth } = await next;
    // The next page is rendered beside.
    if (number < PAGE_COUNT) next = pictures(number + 1);
    const form = new FormData();
    form.append('file', new Blob([png as Uint8Array<ArrayBuffer>]), `Page ${number}.png`);
    const sent = send<{ id: string }>('POST', `/api/jobs/${job.id}/pages`, form);
    // Once it is on its way, what was done on the page is worked out while the server draws it.
    await pause();
    const work = ink === null || truth === null ? null : workOn(ink, truth, state);
    const { id } = await sent;
    // A connection that rested too long meanwhile is closed by now; that has to be heard before it is used again.
    await pause();
    for (const [revision, step] of (work?.steps ?? []).entries())
      await send('POST', `/api/pages/${id}/edits`, { baseRevision: revision, ...step(revision) });
    pages.push({ id, number, state, regions: work?.regions ?? 0, gaps: work?.gaps ?? 0 });
    if (state === 'handed off')
      await send('POST', `/api/jobs/${job.id}/packages`, { pageIds: [id], deliveryId: 'colourist' });
  }
  await plan(send, job.id, pages, now);
}

interface Pictures {
  readonly png: Uint8Array;
  /** Null for a page that nobody works on yet. */
  readonly ink: GreyRaster | null;
  readonly truth: Uint8Array | null;
}

async function pictures(number: number): Promise<Pictures> {
  if (STATES[number - 1] === 'fresh') return { png: await renderInkPng(number), ink: null, truth: null };
  const [ink, truth] = await Promise.all([renderInk(number), renderTruth(number)]);
  return { png: await encodeInkPng(ink), ink, truth };
}

/** A step as the server takes it, by the revision it follows. */
type Step = (revision: number) => { readonly label: string; readonly edits: readonly RecordEdit[] };

/** What a flatter has done on a page by now, and what was measured of it. */
function workOn(
  ink: GreyRaster,
  truth: Uint8Array,
  state: MeasuredPage['state'],
): { readonly steps: readonly Step[]; readonly regions: number; readonly gaps: number } {
  if (state === 'half flatted') {
    const { survey, fills } = truthFills(ink, truth, DEFAULT_PREP);
    const steps = stepsOf(fills.filter(({ y }) => y < HALF_DONE_PX));
    return { steps, regions: survey.regions.count, gaps: gapsToRule(survey.closures).length };
  }
  const { survey, rulings, fills } = truthDecisions(ink, truth, DEFAULT_PREP);
  // A few rulings can settle many others: with the first quarter most are still open.
  const ruled = state === 'gaps' ? [...rulings].slice(0, Math.floor(rulings.size / 4)) : [...rulings];
  const rule: Step = () => ({
    label: `Rule on ${ruled.length} gaps`,
    edits: ruled.map(([key, ruling]) => editRuling(key, ruling)),
  });
  return {
    steps: [...(ruled.length === 0 ? [] : [rule]), ...(state === 'gaps' ? [] : stepsOf(fills))],
    regions: survey.regions.count,
    gaps: rulings.size,
  };
}

/** Gives regions their parts, a figure a step. */
function stepsOf(fills: readonly TrueFill[]): Step[] {
  return DEMO_CAST.flatMap((group): Step[] => {
    const parts = new Set(group.parts.map(({ id }) => id));
    const chosen = fills.filter(({ part }) => parts.has(part));
    if (chosen.length === 0) return [];
    const what = chosen.length === 1 ? '1 region' : `${chosen.length} regions`;
    return [
      (stamp) => ({
        label: `Assign ${what} to ${group.name}`,
        edits: chosen.map(({ x, y, part }) => editFill(`${x},${y}`, { part, anchors: [[x, y]], stamp })),
      }),
    ];
  });
}

/** What is agreed of the job, and what was worked on it, as sample data. */
async function plan(send: Send, jobId: string, pages: readonly MeasuredPage[], now: Date): Promise<void> {
  await send('PATCH', `/api/jobs/${jobId}/plan`, {
    series: 'The Understory Line, second book',
    client: 'Moonroot Press',
    rate: { per: 'page', amount: 24, currency: 'EUR' },
    calendar: { weekdays: [1, 2, 3, 4, 5], hoursADay: 3, daysOff: [] },
  });
  const inDays = (days: number): string => new Date(now.getTime() + days * 86_400_000).toISOString().slice(0, 10);
  for (const { id, number, state } of pages) {
    await send('PATCH', `/api/jobs/${jobId}/pages/plan`, {
      pageIds: [id],
      bookNumber: String(14 + number),
      ...(state === 'handed off' ? { dueOn: inDays(-2), person: 'Juna' } : {}),
      ...(state === 'in check' ? { dueOn: inDays(1), person: 'Juna' } : {}),
      ...(state === 'gaps'
        ? { dueOn: inDays(LATE_DAY), person: 'Pim', agreed: 'Blacks stay black, no colour in them' }
        : {}),
      ...(number === PAGE_COUNT ? { agreed: 'Splash: the coat fades out below' } : {}),
    });
  }
  for (const { pageId, ...time } of sampleDays(pages, now))
    await send('POST', `/api/pages/${pageId}/time/corrections`, time);
  for (const { person, ...entry } of sampleLogbook(pages, now))
    await send('POST', `/api/jobs/${jobId}/logbook`, entry, person);
}

export function demoCastEdits(): RecordEdit[] {
  const edits: RecordEdit[] = [
    editCastScene({ id: 'lamplight', name: 'Lamplight', order: 0 }),
    editCastScene({ id: 'night', name: 'Night', order: 1 }),
  ];
  DEMO_CAST.forEach((group, order) => {
    edits.push(editGroup({ id: group.id, name: group.name, kind: group.kind, order }));
    group.parts.forEach((part, place) => {
      edits.push(
        editPart({
          id: part.id,
          groupId: group.id,
          name: part.name,
          order: place,
          slot: part.slot,
          empty: part.empty === true,
          ...(part.on === undefined ? {} : { on: part.on }),
        }),
      );
      if (part.empty === true) return;
      edits.push(editColour('lamplight', part.id, part.lamplight), editColour('night', part.id, part.night));
    });
  });
  return edits;
}
