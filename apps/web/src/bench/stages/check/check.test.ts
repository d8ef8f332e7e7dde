/** @jest-environment node */
import { beforeEach, describe, expect, test } from '@jest/globals';
import {
  editHold,
  editJobChecks,
  editTile,
  editTrap,
  keyOfFinding,
  packTile,
  regionAt,
  rgbaWord,
  severityOf,
  TILE_AREA,
  TILE_PX,
} from '@jumble/core';
import { assignPart } from '../../page/parts.ts';
import { setStage } from '../../page/show.ts';
import { step } from '../../page/steps.ts';
import { promisesSettled } from '../../tests/promisesSettled.ts';
import { openTestBench, type TestBench } from '../../tests/testBench.ts';
import { hut } from '../../tests/testPages.ts';
import { pointOf } from '../holds/draft.ts';
import { certify } from './certificate.ts';
import { findingsListed, goToFinding, mend, mendAll, openFindings, takeWaiverBack, turnRemedy, waive } from './findings.ts'; // prettier-ignore

let bench: TestBench;
beforeEach(async () => {
  bench = await openTestBench(hut(0), { stage: 'flats' });
});

async function whenChecked(): Promise<void> {
  do await promisesSettled();
  while (
    bench.state.checking ||
    !bench.turns.isIdle ||
    bench.state.sync.state !== 'saved' ||
    (bench.state.stage === 'check' && bench.state.findings === null)
  );
}
const open = (): string[] => openFindings(bench.state).map(({ kind }) => kind);

/** The content is hashed beside: what comes of it is waited for. @throws after two seconds. */
async function untilCertified(certified: boolean): Promise<void> {
  for (let tries = 0; tries < 200 && bench.state.certified !== certified; tries++)
    await new Promise((resolve) => setTimeout(resolve, 10));
  expect(bench.state.certified).toBe(certified);
}

/** All regions get a part, and the stage is shown. */
async function checkFilled(): Promise<void> {
  const { count } = bench.state.survey!.regions;
  assignPart(bench, new Set(Array.from({ length: count }, (_, region) => region)), 'coat');
  await whenChecked();
  setStage(bench, 'check');
  await whenChecked();
}

/** Paints a square of pixels with another part. */
async function paint(part: string, places: readonly (readonly [number, number])[]): Promise<void> {
  const values = new Map<string, Uint16Array>();
  for (const [x, y] of places) {
    const square = `${Math.floor(x / TILE_PX)},${Math.floor(y / TILE_PX)}`;
    const tile = values.get(square) ?? new Uint16Array(TILE_AREA);
    values.set(square, tile);
    tile[(y % TILE_PX) * TILE_PX + (x % TILE_PX)] = 1;
  }
  bench.push({ label: 'Paint', edits: [...values].map(([square, tile]) => editTile(square, packTile(tile, () => part))) }); // prettier-ignore
  await whenChecked();
}

test('a page that was filled has nothing to settle; an empty region is given the part around it by one key', async () => {
  await checkFilled();
  expect(open()).toEqual([]);
  const room = regionAt(bench.state.survey!, 120, 113)!;
  assignPart(bench, new Set([room]), null);
  await whenChecked();
  expect(open()).toEqual(['empty']);
  goToFinding(bench, 1);
  turnRemedy(bench);
  await whenChecked();
  expect([bench.state.remedyShown, bench.previewed.at(-1)]).toEqual([true, [room, 'coat']]);
  expect(await mend(bench)).toBe(true);
  await whenChecked();
  expect([open(), bench.state.remedyShown, bench.state.resolved!.partOfRegion[room]]).toEqual([[], false, 'coat']);
  await step(bench, 'undo');
  await whenChecked();
  expect(open()).toEqual(['empty']);
});

describe('what was painted by a slip', () => {
  beforeEach(async () => {
    await checkFilled();
    await paint('hair', [[120, 113], [130, 113], [131, 113]]); // prettier-ignore
  });

  test('is wiped out at one place, or at all places of a kind once they were shown, as one step', async () => {
    expect(open()).toEqual(['stray', 'stray']);
    const steps = bench.pushed.length;
    expect(await mendAll(bench, 'stray')).toBe(0);
    expect([bench.state.mendKind, bench.pushed.length]).toEqual(['stray', steps]);
    expect(await mendAll(bench, 'stray')).toBe(2);
    await whenChecked();
    expect([open(), bench.pushed.length, bench.state.document!.tiles.size]).toEqual([[], steps + 1, 0]);
    await step(bench, 'undo');
    await whenChecked();
    goToFinding(bench, 1);
    await mend(bench);
    await whenChecked();
    expect(open()).toEqual(['stray']);
  });

  test('may stay for a reason, which is kept with the page and can be taken back', async () => {
    goToFinding(bench, 1);
    waive(bench, '  ');
    expect(open()).toHaveLength(2);
    waive(bench, 'a glint in the eye');
    await whenChecked();
    expect([open().length, findingsListed(bench.state).waived.length]).toEqual([1, 1]);
    expect([...bench.state.document!.waivers.values()]).toEqual([{ reason: 'a glint in the eye' }]);
    takeWaiverBack(bench, findingsListed(bench.state).waived[0]!);
    await whenChecked();
    expect(open()).toHaveLength(2);
  });

  test('is a note, or not looked for, where the job says so', async () => {
    const { checks } = bench.state.cast!;
    expect(severityOf(checks, 'stray')).toBe('must');
    bench.changeCast('Stray pixels: a note', [editJobChecks({ ...checks, severities: { stray: 'note' } })]);
    await whenChecked();
    expect([open(), findingsListed(bench.state).notes.filter(({ kind }) => kind === 'stray').length]).toEqual([[], 2]);
    bench.changeCast('Stray pixels: off', [editJobChecks({ ...checks, severities: { stray: 'off' } })]);
    await whenChecked();
    expect(bench.state.findings!.filter(({ kind }) => kind === 'stray')).toEqual([]);
  });
});

test('a halo is trapped to the middle, and shown so before it is', async () => {
  // Every line has a soft rim, and colour ends before it.
  const art = hut(0);
  const { width, data } = art;
  for (let at = width; at < data.length - width; at++)
    if (data[at] === 255 && [1, -1, width, -width].some((step) => data[at + step] === 0)) data[at] = 60;
  bench = await openTestBench(art, { stage: 'flats' });
  await checkFilled();
  bench.push({ label: 'Shallow', edits: [editTrap({ rule: 'depth', depthPx: 0.5 })] });
  await whenChecked();
  expect(new Set(open())).toEqual(new Set(['halo']));
  goToFinding(bench, 1);
  const painted = bench.drawing.all('paint').length;
  turnRemedy(bench);
  await whenChecked();
  expect(bench.state.remedyShown).toBe(true);
  const [shown] = bench.drawing.all('paint').slice(painted);
  expect(shown!.trap.areas).toHaveLength(1);
  expect(bench.state.document!.areas.size).toBe(0);
  await mendAll(bench, 'halo');
  await mendAll(bench, 'halo');
  await whenChecked();
  expect(open()).toEqual([]);
});

test('a line that is too faint takes the lightness proposed, and is shown so before it does', async () => {
  await checkFilled();
  const coat = bench.state.cast!.colours.get('day')!.get('coat')!;
  bench.push({ label: 'Faint', edits: [editHold('all', { lines: { all: true }, colour: coat, order: 0 })] });
  await whenChecked();
  expect(new Set(open())).toEqual(new Set(['low-contrast']));
  goToFinding(bench, 1);
  turnRemedy(bench);
  await whenChecked();
  const line = bench.state.holds!.low.find(({ piece }) => keyOfFinding({ kind: 'low-contrast', at: pointOf(bench.state, piece) }) === bench.state.findingKey)!; // prettier-ignore
  expect(bench.drawing.all('holds').at(-1)!.paint!.words[line.piece + 1]).toBe(rgbaWord(line.proposed!));
  await mendAll(bench, 'low-contrast');
  await mendAll(bench, 'low-contrast');
  await whenChecked();
  expect(open()).toEqual([]);
});

test('what no single key mends is said, and is left', async () => {
  await checkFilled();
  const { checks } = bench.state.cast!;
  bench.changeCast('Resolution', [editJobChecks({ ...checks, minDpi: 4800 })]);
  await whenChecked();
  expect(open()).toEqual(['resolution']);
  goToFinding(bench, 1);
  expect(await mend(bench)).toBe(false);
  turnRemedy(bench);
  await whenChecked();
  expect([bench.state.remedyShown, bench.failures.at(-1)]).toEqual([false, expect.stringMatching(/No single key/)]);
  expect(await certify(bench)).toBe(false);
  expect(bench.failures.at(-1)).toMatch(/1 finding to settle first/);
});

test('a certificate is for a page without open findings, says for which content, and any later edit voids it', async () => {
  await checkFilled();
  await paint('hair', [[120, 113]]);
  expect(await certify(bench)).toBe(false);
  await mendAll(bench, 'stray');
  await mendAll(bench, 'stray');
  await whenChecked();
  expect(await certify(bench)).toBe(true);
  await whenChecked();
  expect(bench.state.document!.certificate).toMatchObject({
    content: expect.stringMatching(/^[0-9a-f]{64}$/),
    waived: 0,
  });
  await untilCertified(true);
  assignPart(bench, new Set([regionAt(bench.state.survey!, 120, 113)!]), 'hair');
  await whenChecked();
  await untilCertified(false);
  await step(bench, 'undo');
  await whenChecked();
  await untilCertified(true);
});

test('on other stages a change is not checked at once: it is said that nobody has', async () => {
  await checkFilled();
  setStage(bench, 'flats');
  await whenChecked();
  expect(bench.state.findings).toEqual([]);
  assignPart(bench, new Set([regionAt(bench.state.survey!, 120, 113)!]), null);
  await whenChecked();
  expect(bench.state.findings).toBeNull();
});
