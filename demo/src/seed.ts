import { DEFAULT_PREP, editCastScene, editColour, editFill, editGroup, editPart, type RecordEdit } from '@jumble/core';
import { DEMO_CAST } from './castOfDemo.ts';
import { PAGE_COUNT, renderInk, renderInkPng, renderTruth } from './renderPage.ts';
import { truthFills, type TrueFill } from './truthFills.ts';

export const DEMO_JOB = 'The Understory Line';

/**
 * Puts the demo into a running Jumble, through the same doors as everybody: a job, its cast sheet,
 * its pages; the first page is flatted in part. Does nothing when the job is there already.
 */
export async function seedDemo(address: string): Promise<void> {
  const send = async <T>(method: string, path: string, body?: unknown): Promise<T> => {
    const form = body instanceof FormData;
    const response = await fetch(`${address}${path}`, {
      method,
      ...(body === undefined ? {} : { body: form ? body : JSON.stringify(body) }),
      ...(form || body === undefined ? {} : { headers: { 'Content-Type': 'application/json' } }),
    });
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
    return (await response.json()) as T;
  };
  const jobs = await send<{ name: string; pages: unknown[] }[]>('GET', '/api/jobs');
  if (jobs.some((job) => job.name === DEMO_JOB)) return;

  const due = new Date(Date.now() + 12 * 86_400_000).toISOString().slice(0, 10);
  const job = await send<{ id: string }>('POST', '/api/jobs', { name: DEMO_JOB, dueOn: due });
  const cast = await send<{ revision: number; records: [string, unknown][] }>('GET', `/api/jobs/${job.id}/cast`);
  await send('POST', `/api/jobs/${job.id}/cast/edits`, {
    baseRevision: cast.revision,
    label: 'Bring in the cast of The Understory Line',
    edits: [...cast.records.map(([key]): RecordEdit => ({ key, value: null })), ...demoCastEdits()],
  });
  // Worked out first: a connection that rests too long while this computes would be closed.
  const { fills } = truthFills(await renderInk(1), await renderTruth(1), DEFAULT_PREP);
  for (let number = 1; number <= PAGE_COUNT; number++) {
    const form = new FormData();
    form.append('file', new Blob([(await renderInkPng(number)) as Uint8Array<ArrayBuffer>]), `Page ${number}.png`);
    const page = await send<{ id: string }>('POST', `/api/jobs/${job.id}/pages`, form);
    if (number === 1) await flatUpperHalf(send, page.id, fills);
  }
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

/** Gives the regions of the upper panels their parts, figure by figure, as a flatter would have done by now. */
async function flatUpperHalf(
  send: <T>(method: string, path: string, body?: unknown) => Promise<T>,
  pageId: string,
  fills: readonly TrueFill[],
): Promise<void> {
  let revision = 0;
  for (const group of DEMO_CAST) {
    for (const part of group.parts) {
      const chosen = fills.filter((fill) => fill.part === part.id && fill.y < 2120);
      if (chosen.length === 0) continue;
      const what = chosen.length === 1 ? '1 region' : `${chosen.length} regions`;
      await send('POST', `/api/pages/${pageId}/edits`, {
        baseRevision: revision,
        label: `Assign ${what} to ${part.name}`,
        edits: chosen.map(({ x, y }) => editFill(`${x},${y}`, { part: part.id, anchors: [[x, y]], stamp: revision })),
      });
      revision++;
    }
  }
}
