import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { JobPlan, LogEntryView, WorkTimeView } from '@jumble/contracts';
import { JobEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { handOff } from '../tests/handOff.ts';
import { boxesPng, jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';
import { waitUntil } from '../tests/waitUntil.ts';

let server: TestServer;
let jobId: string;
let pageId: string;
let second: string;
const TODAY = '2026-11-30';

beforeAll(async () => {
  server = await startServer();
  ({ jobId, pageId } = await jobWithPage(server));
  const added = await server.ask
    .post(`/api/jobs/${jobId}/pages`)
    .attach('file', await boxesPng(), 'page 2.png')
    .expect(201);
  second = (added.body as { id: string }).id;
});
afterAll(() => server.stop());

const plan = async (): Promise<JobPlan> =>
  (await server.ask.get(`/api/jobs/${jobId}/plan?today=${TODAY}`).expect(200)).body as JobPlan;
const work = (page: string, body: object, person = 'Ada') =>
  server.ask.post(`/api/pages/${page}/time`).send({ person, stage: 'flats', day: TODAY, ...body });

describe('what is sent for a plan', () => {
  const ODD = [null, [], {}, 'x'.repeat(100_000), -1, 1e308, 'NaN', true, [null]];
  // A job of its own: some of it is taken.
  let own: { jobId: string; pageId: string };
  beforeAll(async () => {
    own = await jobWithPage(server);
  });
  const who = { person: 'Odd', stage: 'flats', day: TODAY };
  test.each<[string, 'post' | 'patch', () => string, () => object]>([
    [
      'of a job',
      'patch',
      () => `jobs/${own.jobId}/plan`,
      () => ({ series: '', client: '', rate: null, calendar: { weekdays: [1], hoursADay: 6, daysOff: [] } }),
    ],
    [
      'of pages',
      'patch',
      () => `jobs/${own.jobId}/pages/plan`,
      () => ({ pageIds: [own.pageId], bookNumber: '', isSpread: false, dueOn: null, person: '', agreed: '' }),
    ],
    ['of the job itself', 'patch', () => `jobs/${own.jobId}`, () => ({ name: 'Odd', dueOn: null, trim: null })],
    ['of time', 'post', () => `pages/${own.pageId}/time`, () => ({ ...who, fromMs: 1, toMs: 2 })],
    ['of a correction', 'post', () => `pages/${own.pageId}/time/corrections`, () => ({ ...who, minutes: 1, note: '' })],
  ])(
    '%s is taken or refused in words, whatever a field holds, and plans are read after it',
    async (_, method, url, body) => {
      const failed: unknown[] = [];
      for (const field of Object.keys(body())) {
        for (const value of ODD) {
          const { status } = await server.ask[method](`/api/${url()}`).send({ ...body(), [field]: value });
          if (status >= 500) failed.push([field, JSON.stringify(value).slice(0, 20), status]);
        }
      }
      expect(failed).toEqual([]);
      await plan();
    },
  );

  test('is refused where it is null or a list, and null takes away what may be none', async () => {
    const send = (body: object) => server.ask.patch(`/api/jobs/${own.jobId}/plan`).send(body);
    for (const body of [{ calendar: null }, { calendar: [] }, { rate: [] }, { series: null }])
      await send(body).expect(400);
    const day = { weekdays: [1], hoursADay: 6, daysOff: ['9999-99-99'] };
    await send({ calendar: day }).expect(400);
    await send({ rate: null }).expect((answer) => expect(answer.status).toBeLessThan(300));
  });

  test('that was stored broken hides no other job', async () => {
    const queue = server.app.get(WriteQueue, { strict: false });
    const store = (calendar: string | null) => queue.run((manager) => manager.update(JobEntity, { id: jobId }, { calendar })); // prettier-ignore
    for (const broken of ['null', '{}', '{"weekdays":']) {
      await store(broken);
      expect((await plan()).calendar.weekdays.length).toBeGreaterThan(0);
    }
    await store(null);
  });
});

describe('time', () => {
  const now = Date.now();
  test('of two tabs of one person counts once, and of two persons twice', async () => {
    const span = { fromMs: now - 60_000, toMs: now };
    expect((await work(pageId, span).expect(201)).body).toEqual({ seconds: 60 });
    expect((await work(second, { fromMs: now - 30_000, toMs: now + 10_000 }).expect(201)).body).toEqual({
      seconds: 10,
    });
    expect((await work(pageId, span).expect(201)).body).toEqual({ seconds: 0 });
    expect((await work(pageId, { ...span, stage: 'gaps' }, 'Béla').expect(201)).body).toEqual({ seconds: 60 });
    const { pages } = await plan();
    expect(pages.map(({ seconds }) => seconds)).toEqual([{ flats: 60, gaps: 60 }, { flats: 10 }]);
  });
  test('corrected by hand stands apart, and is billed with it', async () => {
    const correction = { person: 'Ada', stage: 'flats', day: TODAY, minutes: 30, note: 'on paper, on the train' };
    await server.ask.post(`/api/pages/${pageId}/time/corrections`).send(correction).expect(204);
    const list = (await server.ask.get(`/api/jobs/${jobId}/time`)).body as WorkTimeView[];
    expect(list).toContainEqual({ pageId, pageName: 'page 1', stage: 'flats', person: 'Ada', day: TODAY, byHand: true, seconds: 1800, note: 'on paper, on the train' }); // prettier-ignore
    const csv = await server.ask.get(`/api/jobs/${jobId}/time-sheet.csv`).expect(200);
    expect(csv.text).toContain(`${TODAY},Ada,page 1,flats,30,yes,"on paper, on the train"`);
  });
  test.each([
    [{ fromMs: now, toMs: now - 1 }, /fromMs/],
    [{ fromMs: now - 3_600_000, toMs: now }, /quarter of an hour/],
    [{ fromMs: now, toMs: now + 3_600_000 }, /not yet to come/],
    [{ fromMs: now, toMs: now, stage: 'lunch' }, /stage/],
    [{ fromMs: now, toMs: now, person: '' }, /person/],
  ])('is refused as %j', async (body, why) => {
    expect(((await work(pageId, body).expect(400)).body as { detail: string }).detail).toMatch(why);
  });
});

describe('the plan', () => {
  test('keeps what is agreed about jobs and pages, several at once', async () => {
    await server.ask
      .patch(`/api/jobs/${jobId}/plan`)
      .send({
        series: 'The Understory Line 4',
        client: 'Fern & Root',
        rate: { per: 'page', amount: 40, currency: 'EUR' },
        calendar: { weekdays: [1, 2, 3, 4], hoursADay: 4, daysOff: ['2026-12-24'] },
      })
      .expect(200);
    const pages = { pageIds: [pageId, second], dueOn: '2026-12-04', person: 'Ada', agreed: 'lamplight in all panels' };
    await server.ask.patch(`/api/jobs/${jobId}/pages/plan`).send(pages).expect(204);
    await server.ask.patch(`/api/jobs/${jobId}/pages/plan`).send({ pageIds: [second], bookNumber: '12-13', isSpread: true }).expect(204); // prettier-ignore
    const now = await plan();
    expect(now).toMatchObject({ series: 'The Understory Line 4', client: 'Fern & Root', rate: { amount: 40 }, calendar: { hoursADay: 4 } }); // prettier-ignore
    expect(now.pages.map(({ bookNumber, isSpread, dueOn, person }) => [bookNumber, isSpread, dueOn, person])).toEqual([
      [null, false, '2026-12-04', 'Ada'],
      ['12-13', true, '2026-12-04', 'Ada'],
    ]);
    await server.ask
      .patch(`/api/jobs/${jobId}/pages/plan`)
      .send({ pageIds: ['none'], person: 'x' })
      .expect(404);
    await server.ask
      .patch(`/api/jobs/${jobId}/plan`)
      .send({ rate: { per: 'day', amount: 1, currency: '' } })
      .expect(400);
  });

  test('estimates pages from what was measured, and says when the job is done and what it pays', async () => {
    let now = await plan();
    await waitUntil(async () => (now = await plan()).pages.every(({ facts }) => facts !== null));
    expect(now.pages[0]!.facts).toMatchObject({ regions: 4, isCertified: false });
    const [first] = now.pages;
    expect(first!.estimate!.minutes).toBeGreaterThan(5);
    expect(now.forecast).toMatchObject({ minutesADay: 240, pace: 'calendar', doneOn: TODAY });
    expect(now.pay!.total).toBe(80);
    expect(now.pay!.perHourSoFar).toBe(0);
    await handOff(server, jobId, [pageId], { format: 'png' });
    now = await plan();
    expect(now.pages.map(({ handedOff }) => handedOff)).toEqual(['now', null]);
    // A certificate changes nothing of what went out; a fill does.
    const { revision } = (await server.ask.get(`/api/pages/${pageId}/document`)).body as { revision: number };
    const step = async (at: number, key: string, value: unknown): Promise<JobPlan> => {
      await server.ask.post(`/api/pages/${pageId}/edits`).send({ baseRevision: at, label: 'x', edits: [{ key, value }] }).expect(201); // prettier-ignore
      return plan();
    };
    await step(revision, 'certificate', null);
    expect((await plan()).pages[0]!.handedOff).toBe('now');
    await step(revision + 1, 'notes', 'One more');
    expect((await plan()).pages[0]!.handedOff).toBe('before');
    await handOff(server, jobId, [pageId], { format: 'png' });
    now = await plan();
    // What went out is done; of the other page, with all of its regions open, everything is left.
    expect(now.forecast.minutesLeft).toBeCloseTo(now.pages[1]!.estimate!.minutes);
    expect(now.pay!.perHourSoFar).toBeGreaterThan(0);
    await server.ask.get('/api/plans?today=yesterday').expect(400);
  });
});

describe('the logbook', () => {
  test('tells what was decided and what happened, by whom, and why where somebody says so', async () => {
    const { revision } = (await server.ask.get(`/api/pages/${pageId}/document`)).body as { revision: number };
    const edits = [{ key: 'waiver/halo/10,10', value: { reason: 'printed on grey' } }];
    await server.ask
      .post(`/api/pages/${pageId}/edits`)
      .set('X-Jumble-Person', encodeURIComponent('Béla'))
      .send({ baseRevision: revision, label: 'Let a halo stay', edits })
      .expect(201);
    const fill = [{ key: 'fill/20,20', value: { part: 'x', anchors: [[20, 20]], stamp: 0 } }];
    await server.ask.post(`/api/pages/${pageId}/edits`).send({ baseRevision: revision + 1, label: 'Give a region', edits: fill }).expect(201); // prettier-ignore
    await server.ask
      .put(`/api/pages/${second}/file`)
      .attach('file', await boxesPng(130), 'page 2 v2.png')
      .expect(200);
    const log = async (search = ''): Promise<LogEntryView[]> =>
      (await server.ask.get(`/api/jobs/${jobId}/logbook?search=${encodeURIComponent(search)}`).expect(200)).body as LogEntryView[]; // prettier-ignore
    const all = await log();
    expect(all[0]).toMatchObject({ kind: 'revised', what: 'Replaced its line art by page 2 v2.png', pageId: second });
    expect(all[1]).toMatchObject({ kind: 'decision', what: 'Let a halo stay', who: 'Béla', pageName: 'page 1' });
    expect(all.map(({ what }) => what)).not.toContain('Give a region');
    expect(all.map(({ kind }) => kind)).toEqual(expect.arrayContaining(['handoff', 'page', 'cast']));
    await server.ask.put(`/api/jobs/${jobId}/logbook/${all[1]!.entry}/why`).send({ why: 'the editor asked for it' }).expect(204); // prettier-ignore
    expect((await log('editor halo')).map(({ why }) => why)).toEqual(['the editor asked for it']);
    expect(await log('nobody')).toEqual([]);
    const csv = (await server.ask.get(`/api/jobs/${jobId}/logbook.csv?search=halo`).expect(200)).text;
    expect(csv).toContain('decision,page 1,Let a halo stay,Béla,the editor asked for it');
    for (const name of ['logbook', 'time-sheet']) {
      const pdf = await server.ask.get(`/api/jobs/${jobId}/${name}.pdf`).responseType('blob').expect(200);
      expect((pdf.body as Buffer).subarray(0, 5).toString()).toBe('%PDF-');
    }
    await server.ask.put(`/api/jobs/${jobId}/logbook/else/1/why`).send({ why: 'x' }).expect(400);
  });

  test('holds what somebody writes down, for a day gone by too, and nothing that is yet to come', async () => {
    const write = (body: object): ReturnType<typeof server.ask.post> =>
      server.ask.post(`/api/jobs/${jobId}/logbook`).set('X-Jumble-Person', 'Pim').send(body);
    await write({ what: 'Told on the telephone: blacks stay black', at: '2026-01-05T09:15:00Z', pageId: second, why: 'printed on grey' }).expect(204); // prettier-ignore
    await write({ what: 'Agreed on a price' }).expect(204);
    const all = (await server.ask.get(`/api/jobs/${jobId}/logbook`).expect(200)).body as LogEntryView[];
    expect(all[0]).toMatchObject({ kind: 'note', what: 'Agreed on a price', who: 'Pim', pageId: null, why: null });
    expect(all.at(-1)).toMatchObject({ at: '2026-01-05T09:15:00.000Z', pageId: second, why: 'printed on grey' });
    await write({ what: '' }).expect(400);
    await write({ what: 'x', at: '2999-01-01T00:00:00Z' }).expect(400);
    await write({ what: 'x', at: 'yesterday' }).expect(400);
    await write({ what: 'x', pageId: 'else' }).expect(404);
  });
});
