import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';

interface Document {
  revision: number;
  records: [string, unknown][];
}

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());

describe('the cast sheet', () => {
  const change = (jobId: string, edits: object[], baseRevision = 0) =>
    server.ask.post(`/api/jobs/${jobId}/cast/edits`).send({ baseRevision, label: 'Change', edits });
  const recordsOf = async (jobId: string): Promise<[string, unknown][]> =>
    ((await server.ask.get(`/api/jobs/${jobId}/cast`).expect(200)).body as Document).records;
  const wren = [
    { key: 'group/wren', value: { name: 'Wren', order: 5 } },
    { key: 'part/coat', value: { groupId: 'wren', name: 'coat', order: 0, slot: '1', empty: false } },
  ];

  test('takes parts with colours per scene, and exports them', async () => {
    const { jobId } = await jobWithPage(server);
    const records = ((await server.ask.get(`/api/jobs/${jobId}/cast`)).body as Document).records;
    const scene = records.find(([key]) => key.startsWith('scene/'))![0].slice('scene/'.length);
    await change(jobId, [...wren, { key: `colour/${scene}/coat`, value: '#336699' }]).expect(201);
    const csv = await server.ask.get(`/api/jobs/${jobId}/cast/colours.csv`).expect(200);
    expect(csv.text).toMatch(/Wren.*coat.*#336699/i);
    const tokens = await server.ask.get(`/api/jobs/${jobId}/cast/colours.json`).expect(200);
    expect(JSON.stringify(tokens.body)).toMatch(/#336699/);
  });

  test('keeps what the pages of the job are checked by, and refuses what is no rule', async () => {
    const { jobId } = await jobWithPage(server);
    const checks = { severities: { halo: 'note', 'lone-part': 'off' }, nearColours: 2.5, minDpi: 600 };
    await change(jobId, [{ key: 'checks', value: checks }]).expect(201);
    expect(new Map(await recordsOf(jobId)).get('checks')).toEqual(checks);
    for (const wrong of [
      { ...checks, severities: { halo: 'loud' } },
      { ...checks, severities: { dust: 'must' } },
      { ...checks, nearColours: -1 },
    ])
      await change(jobId, [{ key: 'checks', value: wrong }], 1).expect(400);
    await change(jobId, [{ key: 'checks', value: null }], 1).expect(201);
    expect(new Map(await recordsOf(jobId)).has('checks')).toBe(false);
  });

  test('keeps the trap of the job and of its parts, and takes it back', async () => {
    const { jobId } = await jobWithPage(server);
    const trap = { rule: { rule: 'depth', depthMm: 0.2 }, solids: { rule: 'edge' }, pinholePx2: 'auto', underlapPx: 2 };
    const [group, part] = wren as [(typeof wren)[0], { key: string; value: object }];
    const coat = { ...part, value: { ...part.value, trap: { rule: 'max', marginPx: 1.5 } } };
    await change(jobId, [group, coat, { key: 'trap', value: trap }]).expect(201);
    const kept = new Map(await recordsOf(jobId));
    expect(kept.get('trap')).toEqual(trap);
    expect(kept.get('part/coat')).toEqual(coat.value);
    await change(jobId, [part, { key: 'trap', value: null }], 1).expect(201);
    const after = new Map(await recordsOf(jobId));
    expect([after.has('trap'), after.get('part/coat')]).toEqual([false, part.value]);
    for (const wrong of [
      { ...trap, underlapPx: -1 },
      { ...trap, rule: { rule: 'depth', depthPx: -3 } },
      { ...trap, rule: { rule: 'depth', depthPx: 2, depthMm: 1 } },
      { ...trap, rule: { rule: 'max' } },
      { ...trap, solids: { rule: 'depth' } },
    ])
      await change(jobId, [{ key: 'trap', value: wrong }], 2).expect(400);
  });

  test.each<[string, object[]]>([
    [
      'a part of no character',
      [{ key: 'part/x', value: { groupId: 'nobody', name: 'x', order: 0, slot: null, empty: false } }],
    ],
    ['a bad colour', [...wren, { key: 'colour/day/coat', value: 'blue' }]],
    ['a colour in no scene', [...wren, { key: 'colour/nowhere/coat', value: '#112233' }]],
    [
      'a part without a name',
      [wren[0]!, { key: 'part/coat', value: { groupId: 'wren', name: '', order: 0, slot: null, empty: false } }],
    ],
  ])('refuses %s and stores nothing of it', async (_what, edits) => {
    const { jobId } = await jobWithPage(server);
    const before = ((await server.ask.get(`/api/jobs/${jobId}/cast`)).body as Document).records;
    const refused = await change(jobId, edits);
    expect([400, 409, 422]).toContain(refused.status);
    expect((refused.body as { detail: string }).detail.length).toBeGreaterThan(10);
    expect(((await server.ask.get(`/api/jobs/${jobId}/cast`)).body as Document).records).toEqual(before);
  });

  test.each<[string, (job: string) => object[]]>([
    [
      'the part first',
      () => [
        { key: 'part/coat', value: null },
        { key: 'scratch/coat', value: null },
      ],
    ],
    [
      'its scratch colour first',
      () => [
        { key: 'scratch/coat', value: null },
        { key: 'part/coat', value: null },
      ],
    ],
  ])('gives a deleted part back with its scratch colour, %s', async (_, edits) => {
    const { jobId, pageId } = await jobWithPage(server);
    // In a step, too, the colour may stand before what it belongs to.
    await change(jobId, [{ key: 'scratch/coat', value: '#ff00aa' }, ...[...wren].reverse()]).expect(201);
    const before = await recordsOf(jobId);
    expect(before).toContainEqual(['scratch/coat', '#ff00aa']);
    await change(jobId, edits(jobId), 1).expect(201);
    expect(JSON.stringify(await recordsOf(jobId))).not.toContain('coat');
    await server.ask.post(`/api/pages/${pageId}/history`).send({ direction: 'undo' }).expect(201);
    expect(await recordsOf(jobId)).toEqual(before);
  });

  test('writes the same tables in whatever order a step has its records', async () => {
    const { jobId } = await jobWithPage(server);
    const edits = [
      ...wren,
      { key: 'scene/dusk', value: { name: 'Dusk', order: 9 } },
      { key: 'colour/dusk/coat', value: '#123456' },
      { key: 'scratch/coat', value: '#ff00aa' },
      { key: 'alias/cape', value: 'coat' },
      { key: 'palette', value: 'scratch' },
    ];
    await change(jobId, edits).expect(201);
    const all = await recordsOf(jobId);
    let seed = 5;
    for (let round = 0; round < 6; round++) {
      const shuffled = [...edits].sort(() => ((seed = (seed * 16807) % 2147483647) % 2 === 0 ? 1 : -1));
      const gone = shuffled.map(({ key }) => ({ key, value: null }));
      await change(jobId, gone, 1 + 2 * round).expect(201);
      expect((await recordsOf(jobId)).length).toBe(all.length - edits.length);
      await change(jobId, shuffled, 2 + 2 * round).expect(201);
      expect(await recordsOf(jobId)).toEqual(all);
    }
  });

  test('is read whole while others write to it', async () => {
    const { jobId } = await jobWithPage(server);
    await change(jobId, wren).expect(201);
    const writes = (async () => {
      for (let k = 1; k <= 20; k++) {
        const value = { groupId: 'wren', name: `coat ${k}`, order: 0, slot: null, empty: false };
        const edits = [
          { key: 'group/wren', value: { name: `Wren ${k}`, order: 5 } },
          { key: 'part/coat', value },
        ];
        await change(jobId, edits, k).expect(201);
      }
    })();
    for (let k = 0; k < 30; k++) {
      const { revision, records } = (await server.ask.get(`/api/jobs/${jobId}/cast`).expect(200)).body as Document;
      const named = new Map(records as [string, { name: string }][]);
      const ends = revision === 1 ? '' : ` ${revision - 1}`;
      expect([named.get('group/wren')!.name, named.get('part/coat')!.name]).toEqual([`Wren${ends}`, `coat${ends}`]);
    }
    await writes;
  });

  test('refuses control characters in names that are typed, strips them from files, and knows every name', async () => {
    const { jobId } = await jobWithPage(server);
    for (const name of ['Wr\u0001en', 'Wren\nof the roots', '\ud800'])
      await change(jobId, [{ key: 'group/wren', value: { name, order: 5 } }]).expect(400);
    const text =
      'scene,group,part,key,colour,notes\nDa\u0000y,Wr\u001ben,__proto__,,#112233,"a\u0002\nb"\nDay,Wren,constructor,,#445566,\n';
    await server.ask.post(`/api/jobs/${jobId}/cast/import`).send({ text }).expect(201);
    const { text: exported } = await server.ask.get(`/api/jobs/${jobId}/cast/colours.json`).expect(200);
    const day = (JSON.parse(exported) as Record<string, Record<string, object>>)['Day']!['Wren']!;
    expect(Object.keys(day)).toEqual(['__proto__', 'constructor']);
    expect(Object.entries(day)[0]![1]).toMatchObject({ $value: '#112233' });
    // What was written is read again.
    await server.ask.post(`/api/jobs/${jobId}/cast/import`).send({ text: exported }).expect(201);
    const names = (await recordsOf(jobId)).map(([, value]) => (value as { name?: string }).name);
    expect(names).toEqual(expect.arrayContaining(['Day', 'Wren', '__proto__', 'constructor']));
  });

  test('has its limits, which are told at once', async () => {
    const { jobId } = await jobWithPage(server);
    const lines = (scenes: number): string =>
      `scene,group,part,key,colour\n${Array.from({ length: scenes }, (_, k) => `S${k},W,c,,#112233`).join('\n')}`;
    const started = performance.now();
    for (const [count, words] of [
      [130_000, /130000 lines; a cast sheet holds at most 50000/],
      [5_000, /would hold 500\d scenes; at most 100 fit/],
    ] as const) {
      const answer = await server.ask
        .post(`/api/jobs/${jobId}/cast/import`)
        .send({ text: lines(count) })
        .expect(422);
      expect((answer.body as { detail: string }).detail).toMatch(words);
    }
    expect(performance.now() - started).toBeLessThan(5000);
    const groups = Array.from({ length: 1001 }, (_, k) => ({ key: `group/g${k}`, value: { name: `G${k}`, order: k } }));
    const scenes = Array.from({ length: 101 }, (_, k) => ({ key: `scene/s${k}`, value: { name: `S${k}`, order: k } }));
    for (const edits of [groups, scenes]) {
      const answer = await change(jobId, edits).expect(422);
      expect(answer.body).toMatchObject({ code: 'cast-too-large' });
    }
  });

  test('of a large size comes in and goes out while others are answered', async () => {
    const { jobId } = await jobWithPage(server);
    const line = (k: number): string =>
      `Scene ${k % 8},Group ${Math.floor(k / 8) % 90},Part ${Math.floor(k / 720)},,#11${(k % 7919).toString(16).padStart(4, '0')}`;
    const text = `scene,group,part,key,colour\n${Array.from({ length: 12_000 }, (_, k) => line(k)).join('\n')}`;
    await server.ask.post(`/api/jobs/${jobId}/cast/import`).send({ text }).expect(201);
    let slowest = 0;
    let done = false;
    const others = (async () => {
      while (!done) {
        const from = performance.now();
        await server.ask.get('/api/scanner').expect(200);
        slowest = Math.max(slowest, performance.now() - from);
      }
    })();
    const pdf = await server.ask.get(`/api/jobs/${jobId}/cast/sheet.pdf`).expect(200).responseType('blob');
    const csv = await server.ask.get(`/api/jobs/${jobId}/cast/colours.csv`).expect(200);
    done = true;
    await others;
    expect((pdf.body as Buffer).subarray(0, 5).toString()).toBe('%PDF-');
    expect(csv.text.split('\n').length).toBeGreaterThan(12_000);
    // Writing the PDF takes several seconds.
    expect(slowest).toBeLessThan(2000);
  });
});
