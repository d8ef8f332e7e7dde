import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { DEFAULT_PREP } from '@jumble/core';
import { Engine, type KeySeen } from './Engine.ts';
import type { DrawRequest, ReadFrom, SurveyRequest } from './messages.ts';

/** A worker that keeps what it is told; the test answers for it. */
class FakeWorker {
  static made: FakeWorker[] = [];
  readonly told: (SurveyRequest | DrawRequest)[] = [];
  onmessage: ((event: { data: unknown }) => void) | null = null;
  onerror: ((event: { message: string }) => void) | null = null;
  ended = false;

  constructor() {
    FakeWorker.made.push(this);
  }
  postMessage(message: SurveyRequest | DrawRequest): void {
    this.told.push(message);
  }
  terminate(): void {
    this.ended = true;
  }
  answer(data: object): void {
    this.onmessage!({ data });
  }
}

let engine: Engine;
let computing: FakeWorker;
let drawing: FakeWorker;
let steps: [string, number][];
const before = globalThis.Worker;
beforeEach(() => {
  FakeWorker.made = [];
  globalThis.Worker = FakeWorker as unknown as typeof Worker;
  steps = [];
  engine = new Engine({
    onStep: (text, share) => steps.push([text, share]),
    onMeasuring: ({ text, share }) => steps.push([text, share]),
  });
  [computing, drawing] = FakeWorker.made as [FakeWorker, FakeWorker];
});
afterEach(() => {
  globalThis.Worker = before;
});

const by = { maxGapPx: 'auto' as const, rulings: new Map<string, 'closed' | 'open'>(), drawn: [] };
const from = (width: number, height: number): ReadFrom => ({
  url: '/grey',
  width,
  height,
  prep: DEFAULT_PREP,
  ownBounds: true,
  others: [],
  solids: [],
});

describe('the engine', () => {
  test('reads a page with progress, and hands it to the drawing worker', async () => {
    const reading = engine.survey(from(10, 20), by, null);
    const [request] = computing.told as [Extract<SurveyRequest, { kind: 'survey' }>];
    expect(request).toMatchObject({ kind: 'survey', from: { url: '/grey', width: 10, height: 20 } });
    computing.answer({ kind: 'step', id: request.id, text: 'The ink is read', share: 0.25 });
    computing.answer({ kind: 'step', id: 999, text: 'stale', share: 1 });
    computing.answer({ kind: 'surveyed', id: request.id, survey: { name: 'survey', cellCount: 7 }, levels: [] });
    expect(await reading).toMatchObject({ name: 'survey' });
    expect(steps).toEqual([['The ink is read', 0.25]]);
    expect(drawing.told.at(-1)).toMatchObject({ kind: 'page', survey: { cellCount: 7 } });
  });

  test('says what went wrong in a worker, and when a worker stops', async () => {
    const failing = engine.survey(from(1, 1), by, null);
    computing.answer({
      kind: 'failed',
      id: (computing.told[0] as { id: number }).id,
      message: 'The line art could not be fetched.',
    });
    await expect(failing).rejects.toThrow('The line art could not be fetched.');
    const stopped = engine.divide(by);
    computing.onerror!({ message: '' });
    await expect(stopped).rejects.toThrow('The computing worker stopped.');
  });

  test('tells how far measuring is, and that it was left', async () => {
    const measuring = engine.describe(null, []);
    const { id } = computing.told[0] as { id: number };
    computing.answer({ kind: 'measuring', id, text: 'Strokes', share: 0.35 });
    expect(steps).toEqual([['Strokes', 0.35]]);
    engine.stopDescribing();
    expect(computing.told.at(-1)).toMatchObject({ kind: 'stopDescribing' });
    computing.answer({ kind: 'dropped', id });
    await expect(measuring).rejects.toMatchObject({ name: 'AbortError' });
  });

  test('tells how far a key is read, and what is known of it, and has it left', async () => {
    const shares: number[] = [];
    const seen: KeySeen[] = [];
    const key = { width: 1, height: 1, rgb: new Uint8Array(3) };
    const reading = engine.readKey(
      key,
      null,
      [],
      (share) => shares.push(share),
      (one) => seen.push(one),
    );
    const { id, stop } = computing.told[0] as { id: number; stop: SharedArrayBuffer };
    computing.answer({ kind: 'step', id, text: 'The key is read', share: 0.4 });
    expect(shares).toEqual([0.4]);
    computing.answer({ kind: 'keySeen', id, match: null, reading: { proposals: [], unknown: [], isWhole: false } });
    expect(seen).toMatchObject([{ reading: { isWhole: false } }]);
    expect(steps).toEqual([]);
    expect(new Int32Array(stop)[0]).toBe(0);
    engine.stopReadingKey();
    expect(new Int32Array(stop)[0]).toBe(1);
    computing.answer({ kind: 'dropped', id });
    await expect(reading).rejects.toMatchObject({ name: 'AbortError' });
  });

  test('draws anew what differs from what is shown, previews too, and all of it where much does', () => {
    const last = () => drawing.told.at(-1) as unknown as { kind: string; regions?: Int32Array; colours: Uint32Array };
    engine.paint(Uint32Array.of(1, 2, 3), 9);
    expect(last().kind).toBe('paint');
    engine.paint(Uint32Array.of(1, 5, 3), 9);
    expect(last()).toMatchObject({ kind: 'patch', regions: Int32Array.of(1), colours: Uint32Array.of(5) });
    engine.patch(Int32Array.of(2), Uint32Array.of(7));
    engine.paint(Uint32Array.of(1, 5, 3), 9);
    expect(last()).toMatchObject({ kind: 'patch', regions: Int32Array.of(2), colours: Uint32Array.of(3) });
    engine.paint(Uint32Array.of(1, 5, 3), 4);
    expect(last().kind).toBe('paint');
    engine.showDivision({} as never);
    engine.paint(Uint32Array.of(1, 5, 3), 4);
    expect(last().kind).toBe('paint');
    engine.paint(new Uint32Array(1000), 4);
    engine.paint(new Uint32Array(1000).fill(6), 4);
    expect(last().kind).toBe('paint');
  });

  test('gives the answers to whom they belong, in any order', async () => {
    const [one, two] = [engine.divide(by), engine.touching()];
    const [first, second] = computing.told as unknown as [{ id: number }, { id: number }];
    computing.answer({ kind: 'touching', id: second.id, pairs: Int32Array.of(1, 2) });
    computing.answer({ kind: 'divided', id: first.id, survey: { name: 'divided' } });
    expect([...(await two)]).toEqual([1, 2]);
    expect(await one).toEqual({ name: 'divided' });
  });

  test('asks for one small picture at a time, so that the page comes in between', async () => {
    const crops = [
      engine.crop({ region: 1 }, 60, 44),
      engine.crop({ x: 5, y: 5, span: 80 }, 60, 44),
      engine.crop({ region: 2 }, 60, 44),
    ];
    const asked = (): unknown[] =>
      drawing.told.filter((one) => one.kind === 'crop').map((one) => (one as { of: unknown }).of);
    expect(asked()).toEqual([{ region: 1 }]);
    for (let k = 0; k < 3; k++) drawing.answer({ kind: 'crop', pixels: new ArrayBuffer(k), width: 60, height: 44 });
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
    drawing.answer({ kind: 'presented', seq: 4, at: 70 });
    expect(await presented[0]).toBe(70);
    drawing.answer({ kind: 'presented', seq: 6, at: 90 });
    expect(await presented[1]).toBe(90);
  });

  test('closed ends its workers and drops what was asked', async () => {
    const waiting = engine.divide(by);
    engine.close();
    await expect(waiting).rejects.toMatchObject({ name: 'AbortError' });
    expect([computing.ended, drawing.ended]).toEqual([true, true]);
  });
});
