import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { AddTimeDto } from '@jumble/contracts';
import { TimeSender } from './TimeSender.ts';

const place = { pageId: 'p', stage: 'flats' } as const;
let sent: { url: string; body: AddTimeDto }[];
let answer: () => Promise<{ ok: boolean; status: number; json: () => Promise<unknown> }>;
const real = globalThis.fetch;

beforeEach(() => {
  sent = [];
  answer = () => Promise.resolve({ ok: true, status: 201, json: () => Promise.resolve({ seconds: 1 }) });
  globalThis.fetch = (async (url: string, { body }: { body: string }) => {
    const answered = await answer();
    sent.push({ url, body: JSON.parse(body) as AddTimeDto });
    return answered;
  }) as unknown as typeof fetch;
});
afterEach(() => void (globalThis.fetch = real));
const spans = (): number[][] => sent.map(({ body }) => [body.fromMs, body.toMs]);

test('spans go one after the other, long ones in pieces', async () => {
  const sender = new TimeSender(() => undefined);
  sender.add(place, 0, 25 * 60_000);
  sender.add({ ...place, stage: 'gaps' }, 25 * 60_000, 26 * 60_000);
  await sender.send();
  expect(spans()).toEqual([[0, 600_000], [600_000, 1_200_000], [1_200_000, 1_500_000], [1_500_000, 1_560_000]]); // prettier-ignore
  expect(sent[3]).toMatchObject({ url: '/api/pages/p/time', body: { stage: 'gaps', person: 'Me' } });
});

test('time away that was work is counted before what came after it', async () => {
  const sender = new TimeSender(() => undefined);
  sender.hold();
  sender.add(place, 900, 1000);
  await sender.send();
  expect(sent).toEqual([]);
  sender.release({ place, fromMs: 100, toMs: 900 });
  await sender.send();
  expect(spans()).toEqual([[100, 900], [900, 1000]]); // prettier-ignore
});

test('what the server is not there for waits; what it refuses is told, and the rest goes on', async () => {
  const refused: string[] = [];
  const sender = new TimeSender((error) => refused.push((error as Error).message));
  answer = () => Promise.reject(new TypeError('failed to fetch'));
  sender.add(place, 0, 10);
  await sender.send();
  expect([sent, refused]).toEqual([[], []]);
  answer = () =>
    Promise.resolve({ ok: false, status: 404, json: () => Promise.resolve({ detail: 'There is no such page.' }) });
  await sender.send();
  answer = () => Promise.resolve({ ok: true, status: 201, json: () => Promise.resolve({}) });
  sender.add(place, 10, 20);
  await sender.send();
  expect(refused).toEqual(['There is no such page.']);
  expect(spans().at(-1)).toEqual([10, 20]);
});
