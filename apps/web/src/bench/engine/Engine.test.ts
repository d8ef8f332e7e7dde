/** @jest-environment node */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { DEFAULT_PREP, uniformTrap, type RegionTrap } from '@jumble/core';
import { computeHere, FakeDrawing } from '../tests/testBench.ts';
import { hut } from '../tests/testPages.ts';
import { isAbort } from './abort.ts';
import type { Computing } from './Computing.ts';
import { Engine } from './Engine.ts';
import type { DrawAnswer, GuideSeen, ReadFrom } from './messages.ts';

let engine: Engine;
let computing: { -readonly [K in keyof Computing]: Computing[K] };
let drawing: FakeDrawing;
let computer: { onerror: Worker['onerror']; terminate: () => void };
let ended: boolean;
const fetchBefore = globalThis.fetch;
const answer = (data: DrawAnswer): void => drawing.onmessage!.call({} as Worker, { data } as MessageEvent);

const depthOf = (depthPx: number, regions = 3): RegionTrap => uniformTrap(regions, { rule: 'depth', depthPx });
const art = hut(12);
const by = { maxGapPx: 'auto' as const, rulings: new Map<string, 'closed' | 'open'>(), drawn: [] };
const from: ReadFrom = {
  url: '/grey',
  width: art.width,
  height: art.height,
  prep: DEFAULT_PREP,
  ownBounds: true,
  others: [],
  solids: [],
};
const noStep = (): void => undefined;

beforeEach(() => {
  ended = false;
  drawing = new FakeDrawing();
  computer = { onerror: null, terminate: () => (ended = true) };
  // What is asked of it can be replaced by the test, method by method.
  const here = computeHere();
  computing = new Proxy({} as Computing, {
    get: (own, name) => own[name as keyof Computing] ?? here[name as keyof Computing],
  });
  engine = new Engine({ computing, computer, drawing });
  globalThis.fetch = (() =>
    Promise.resolve({ ok: true, arrayBuffer: () => Promise.resolve(art.data.slice().buffer) })) as never;
});
afterEach(() => {
  globalThis.fetch = fetchBefore;
});

describe('the engine', () => {
  test('reads a page with progress, and hands it to the drawing worker', async () => {
    const steps: [string, number][] = [];
    const survey = await engine.survey(from, by, null, (text, share) => steps.push([text, share]));
    expect(survey.regions.count).toBe(2);
    expect(survey).not.toHaveProperty('graph');
    expect(steps[0]).toEqual(['The line art is fetched', 0.05]);
    expect(steps.map(([, share]) => share)).toEqual(steps.map(([, share]) => share).sort((a, b) => a - b));
    const [page] = drawing.all('page');
    expect([page!.survey.cellCount, page!.original.length]).toEqual([survey.cellCount, art.data.length]);
  });

  test('says what went wrong in a worker, and when a worker stops', async () => {
    globalThis.fetch = (() =>
      Promise.resolve({
        ok: false,
        status: 404,
        json: () => Promise.resolve({ detail: 'The line art is gone.' }),
      })) as never;
    await expect(engine.survey(from, by, null, noStep)).rejects.toThrow('The line art is gone.');
    await expect(engine.divide(by)).rejects.toThrow('The page is not read yet.');
    computing.touching = () => new Promise(() => undefined);
    const stopped = engine.touching();
    computer.onerror!.call({} as Worker, { message: '' } as never);
    await expect(stopped).rejects.toThrow('The computing worker stopped.');
  });

  test('tells how far measuring is, and that it was left', async () => {
    await engine.survey(from, by, null, noStep);
    const told: string[] = [];
    const measuring = engine.describe(null, [], ({ text }) => {
      told.push(text);
      engine.stopDescribing();
    });
    const failure: unknown = await measuring.catch((error: unknown) => error);
    expect(isAbort(failure)).toBe(true);
    expect(told).toHaveLength(1);
    const { facts } = await engine.describe(null, [], noStep);
    expect(facts.panels).toBeDefined();
  });

  test('tells how far a key is read, and what is known of it, and has it left', async () => {
    await engine.survey(from, by, null, noStep);
    const raster = { width: 26, height: 22, rgb: new Uint8Array(26 * 22 * 3).fill(200) };
    const parts = [{ id: 'coat', group: 'wren', rgb: 0xc8c8c8 }];
    const shares: number[] = [];
    const read = await engine.readGuide(raster, null, parts, (share) => shares.push(share), noStep as never);
    expect(read.reading.isWhole).toBe(true);
    expect(shares[0]).toBe(0);
    const left = engine.readGuide(raster, null, parts, noStep, noStep as never);
    engine.stopReadingGuide();
    expect(isAbort(await left.catch((error: unknown) => error))).toBe(true);
  });

  test('is told nothing more of what is answered: progress comes another way, and may come later', async () => {
    const seen: GuideSeen[] = [];
    let tell: (one: GuideSeen) => void = () => undefined;
    computing.readGuide = (...args) => {
      tell = args[5] as typeof tell;
      return Promise.resolve({ splits: [] } as never);
    };
    await engine.readGuide({} as never, null, [], noStep, (one) => seen.push(one));
    tell({} as GuideSeen);
    expect(seen).toEqual([]);
  });

  test('divides a page, and tells the drawing worker which paper has other cells', async () => {
    const survey = await engine.survey(from, by, null, noStep);
    const cut = await engine.divide({ ...by, drawn: ['120,45-120,180'] });
    expect(cut.regions.count).toBe(survey.regions.count + 1);
    engine.showDivision(cut);
    const [division] = drawing.all('division');
    expect(division!.changed).not.toBeNull();
    engine.showDivision(await engine.divide({ ...by, drawn: ['120,45-120,180'] }));
    expect(drawing.all('division').at(-1)!.changed).toBeNull();
  });

  test('draws anew what differs from what is shown, previews too, and all of it where much does', () => {
    const last = () => drawing.told.at(-1) as unknown as { kind: string; regions?: Int32Array; colours: Uint32Array };
    engine.paint(Uint32Array.of(1, 2, 3), depthOf(3));
    expect(last().kind).toBe('paint');
    engine.paint(Uint32Array.of(1, 5, 3), depthOf(3));
    expect(last()).toMatchObject({ kind: 'patch', regions: Int32Array.of(1), colours: Uint32Array.of(5) });
    engine.patch(Int32Array.of(2), Uint32Array.of(7));
    engine.paint(Uint32Array.of(1, 5, 3), depthOf(3));
    expect(last()).toMatchObject({ kind: 'patch', regions: Int32Array.of(2), colours: Uint32Array.of(3) });
    engine.paint(Uint32Array.of(1, 5, 3), depthOf(2));
    expect(last().kind).toBe('paint');
    engine.showDivision({} as never);
    engine.paint(Uint32Array.of(1, 5, 3), depthOf(2));
    expect(last().kind).toBe('paint');
    engine.paint(new Uint32Array(1000), depthOf(2, 1000));
    engine.paint(new Uint32Array(1000).fill(6), depthOf(2, 1000));
    expect(last().kind).toBe('paint');
  });

  test('asks for one small picture at a time, so that the page comes in between', async () => {
    const crops = [
      engine.crop({ region: 1 }, 60, 44),
      engine.crop({ x: 5, y: 5, span: 80 }, 60, 44),
      engine.crop({ region: 2 }, 60, 44),
    ];
    const asked = (): unknown[] => drawing.all('crop').map((one) => one.of);
    expect(asked()).toEqual([{ region: 1 }]);
    for (let k = 0; k < 3; k++) answer({ kind: 'crop', pixels: new ArrayBuffer(k), width: 60, height: 44 });
    expect(asked()).toEqual([{ region: 1 }, { x: 5, y: 5, span: 80 }, { region: 2 }]);
    expect((await Promise.all(crops)).map((crop) => crop.pixels.byteLength)).toEqual([0, 1, 2]);
  });

  test('numbers what changes the picture, and tells when it is presented', async () => {
    const view = { x: 0, y: 0, scale: 1, width: 10, height: 10 };
    const numbers = [
      engine.view(view, { markMissing: true, showInk: true, showFlats: true, paper: 0xffffffff }),
      engine.patch(Int32Array.of(1), Uint32Array.of(2)),
      engine.point(null, null, 3),
      engine.overlay(null),
    ];
    expect(numbers).toEqual([1, 2, 3, 4]);
    expect(drawing.told.at(-2)).toMatchObject({ kind: 'point', hovered: -1, current: 3 });
    const presented = [3, 5].map((seq) => engine.whenPresented(seq));
    answer({ kind: 'presented', seq: 4, at: 70 });
    expect(await presented[0]).toBe(70);
    answer({ kind: 'presented', seq: 6, at: 90 });
    expect(await presented[1]).toBe(90);
  });

  test('closed ends its workers and drops what was asked', async () => {
    computing.touching = () => new Promise(() => undefined);
    const waiting = engine.touching();
    engine.close();
    expect(isAbort(await waiting.catch((error: unknown) => error))).toBe(true);
    expect([ended, drawing.onmessage]).toEqual([true, null]);
  });
});
