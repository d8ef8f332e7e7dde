import { expect, type Page } from '@playwright/test';
import { clickPage, onScreen, openCount, whenReady } from './bench.ts';
import { inkTeapot, TEAPOT_REGIONS } from './ownInking.ts';
import { ask, uploadPage, type RunningServer } from './runServer.ts';

export const TEAPOT_COLOURS = { glaze: '#4a7ab5', knob: '#d9a441', table: '#7c4f2e', wall: '#cfe0c8' } as const;
export type TeapotPart = keyof typeof TEAPOT_COLOURS;

export interface TeapotJob {
  readonly jobId: string;
  readonly pageId: string;
  readonly scene: string;
}

/** A job with the teapot and a cast of its own, open on the Flats stage. */
export async function openTeapot(page: Page, server: RunningServer): Promise<TeapotJob> {
  const jobId = (await ask<{ id: string }>(server, 'POST', '/api/jobs', { name: 'Teapot' })).id;
  const cast = await ask<{ revision: number; records: [string, unknown][] }>(server, 'GET', `/api/jobs/${jobId}/cast`);
  const keys = cast.records.map(([key]) => key);
  const scene = keys.find((key) => key.startsWith('scene/'))!.slice(6);
  await ask(server, 'POST', `/api/jobs/${jobId}/cast/edits`, {
    baseRevision: cast.revision,
    label: 'Cast the teapot',
    edits: [
      ...keys.filter((key) => /^(?:part|colour|group)/.test(key)).map((key) => ({ key, value: null })),
      { key: 'group/pot', value: { name: 'Teapot', order: 1 } },
      ...(Object.keys(TEAPOT_COLOURS) as TeapotPart[]).flatMap((part, k) => [
        { key: `part/${part}`, value: { groupId: 'pot', name: part, order: k, slot: String(k + 1), empty: false } },
        { key: `colour/${scene}/${part}`, value: TEAPOT_COLOURS[part] },
      ]),
    ],
  });
  const pageId = (await uploadPage(server, jobId, 'teapot.png', await inkTeapot())).id;
  await page.goto(`${server.address}/jobs/${jobId}/pages/${pageId}/flats`);
  await whenReady(page);
  return { jobId, pageId, scene };
}

export async function drag(
  page: Page,
  points: readonly (readonly [number, number])[],
  button: 'left' | 'right' = 'left',
): Promise<void> {
  const [first, ...rest] = points;
  const from = await onScreen(page, ...first!);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down({ button });
  for (const point of rest) {
    const to = await onScreen(page, ...point);
    await page.mouse.move(to.x, to.y, { steps: 8 });
  }
  await page.mouse.up({ button });
}

export const partAt = (page: Page, x: number, y: number): Promise<string | null> =>
  page.evaluate(
    ([px, py]) => {
      const { resolved } = window.jumbleBench.state;
      return resolved!.partOfRegion[window.jumbleCommands.regionAt(px!, py!)!] ?? null;
    },
    [x, y] as const,
  );

/**
 * Gives every region of the teapot its part by clicks, and what is left to the table's by keys.
 *
 * @param leave so many regions stay open, the smallest ones.
 */
export async function fillTeapot(page: Page, leave = 0): Promise<void> {
  const parts = Object.keys(TEAPOT_COLOURS) as TeapotPart[];
  for (const { x, y, part } of TEAPOT_REGIONS) {
    await page.keyboard.press(String(parts.indexOf(part) + 1));
    await clickPage(page, x, y);
  }
  await page.keyboard.press('3');
  await page.keyboard.press('.');
  for (let left = await openCount(page); left > leave; left--) {
    await page.keyboard.press('Enter');
    await expect.poll(() => openCount(page)).toBe(left - 1);
  }
}
