import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { ForeignCheckView, JobView, PageView, ReturnedView } from '@jumble/contracts';
import type { RecordEdit } from '@jumble/core';
import { readOpenRaster, writeOpenRaster, type OraNode } from '@jumble/formats';
import sharp from 'sharp';
import { handOff } from '../tests/handOff.ts';
import { boxesPng, jobWithPage, startServer, type TestServer } from '../tests/startServer.ts';

let server: TestServer;
let jobId: string;
let pageId: string;
let sceneId: string;

beforeAll(async () => {
  server = await startServer();
  ({ jobId, pageId } = await jobWithPage(server));
  const records = ((await server.ask.get(`/api/jobs/${jobId}/cast`)).body as { records: [string, unknown][] }).records;
  sceneId = records.find(([key]) => key.startsWith('scene/'))![0].slice('scene/'.length);
  const edits = [
    { key: 'group/wren', value: { name: 'Wren', order: 5 } },
    { key: 'part/coat', value: { groupId: 'wren', name: 'coat', order: 0, slot: null, empty: false } },
    { key: 'part/hair', value: { groupId: 'wren', name: 'hair', order: 1, slot: null, empty: false } },
    { key: `colour/${sceneId}/coat`, value: '#336699' },
    { key: `colour/${sceneId}/hair`, value: '#cc3311' },
  ];
  await server.ask
    .post(`/api/jobs/${jobId}/cast/edits`)
    .send({ baseRevision: 0, label: 'Add Wren', edits })
    .expect(201);
  const fills = [
    [20, 20, 'coat'],
    [80, 20, 'hair'],
  ].map(([x, y, part]) => ({ key: `fill/${x},${y}`, value: { part, anchors: [[x, y]], stamp: 0 } }));
  await server.ask
    .post(`/api/pages/${pageId}/edits`)
    .send({ baseRevision: 0, label: 'Give', edits: fills })
    .expect(201);
});
afterAll(() => server.stop());

/** The page as OpenRaster, with each layer of flats changed as RGBA words by `change`, and a layer on top. */
async function sentBack(change: (name: string, words: Uint32Array, width: number) => void): Promise<Uint8Array> {
  const pack = await handOff(server, jobId, [pageId]);
  const file = await server.ask.get(`/api/handoffs/${pack.files[0]!.id}/file`).responseType('blob').expect(200);
  const image = readOpenRaster(file.body as Buffer);
  const redo = async (node: OraNode): Promise<OraNode> => {
    if (node.kind === 'stack') return { ...node, children: await Promise.all(node.children.map(redo)) };
    if (node.name !== 'coat' && node.name !== 'hair') return node;
    // On the whole page, so that a layer can grow.
    const { data } = await sharp({
      create: { width: image.width, height: image.height, channels: 4, background: '#0000' },
    })
      .composite([{ input: Buffer.from(node.png), left: node.x, top: node.y }])
      .raw()
      .toBuffer({ resolveWithObject: true });
    const words = new Uint32Array(data.buffer, data.byteOffset, data.length / 4);
    change(node.name, words, image.width);
    const png = await sharp(data, { raw: { width: image.width, height: image.height, channels: 4 } })
      .png()
      .toBuffer();
    return { ...node, png, x: 0, y: 0 };
  };
  const glow = await sharp({ create: { width: 120, height: 90, channels: 4, background: '#ff00ff' } })
    .png()
    .toBuffer();
  const own: OraNode = { kind: 'layer', name: 'Glow', png: glow, x: 0, y: 0, compositeOp: 'svg:src-over', editLocked: false, selected: false }; // prettier-ignore
  return writeOpenRaster({ ...image, children: [own, ...(await Promise.all(image.children.map(redo)))] });
}
const WORD = { gold: 0xff20b0e0, coat: 0xff996633, hair: 0xff1133cc };

describe('a file that came back', () => {
  test('says which parts have new colours, what moved, and which layers are not ours; it is kept as it is', async () => {
    const bytes = await sentBack((name, words, width) => {
      for (let at = 0; at < words.length; at++) {
        const [x, y] = [at % width, Math.floor(at / width)];
        const isPatch = x >= 20 && x < 26 && y >= 30 && y < 34;
        // The coat is gold now; a patch of it belongs to the hair.
        if (name === 'coat' && words[at] !== 0) words[at] = isPatch ? 0 : WORD.gold;
        if (name === 'hair' && isPatch) words[at] = WORD.hair;
      }
    });
    const view = (
      await server.ask.post(`/api/pages/${pageId}/returned`).attach('file', Buffer.from(bytes), 'back.ora').expect(201)
    ).body as ReturnedView;
    expect(view.report).toMatchObject({
      recoloured: [{ partId: 'coat', sceneId: null, from: '#336699', to: '#e0b020' }],
      moved: [{ x: 20, y: 30, width: 6, height: 4, areaPx: 24, from: 'coat', to: 'hair' }],
      movedPx: 24,
      ownLayers: ['Glow'],
      removedLayers: [],
      unknownPx: 0,
    });
    const { edits } = (await server.ask.get(`/api/returned/${view.id}/corrections`).expect(200)).body as {
      edits: RecordEdit[];
    };
    expect(edits.map(({ key }) => key)).toEqual(['tile/0,0']);
    const { revision } = (await server.ask.get(`/api/pages/${pageId}/document`)).body as { revision: number };
    await server.ask
      .post(`/api/pages/${pageId}/edits`)
      .send({ baseRevision: revision, label: 'Take what moved', edits })
      .expect(201);
    // Taken over, nothing is left that moved.
    const again = (
      await server.ask.post(`/api/pages/${pageId}/returned`).attach('file', Buffer.from(bytes), 'back.ora').expect(201)
    ).body as ReturnedView;
    expect(again.report).toMatchObject({ movedCount: 0, recoloured: [{ partId: 'coat' }] });
    expect((await server.ask.get(`/api/pages/${pageId}/returned`)).body).toHaveLength(2);
    const kept = await server.ask.get(`/api/returned/${view.id}/file`).responseType('blob').expect(200);
    expect(Buffer.compare(kept.body as Buffer, Buffer.from(bytes))).toBe(0);
    await server.ask.delete(`/api/returned/${view.id}`).expect(204);
    await server.ask.get(`/api/returned/${view.id}/file`).expect(404);
  });

  test('says nothing of what was changed on the page since it went out', async () => {
    const bytes = await sentBack((_, words) => void words);
    const { revision, records } = (await server.ask.get(`/api/pages/${pageId}/document`)).body as { revision: number; records: [string, unknown][] }; // prettier-ignore
    // The right box is a coat's now, and the coat has another colour.
    const value = { part: 'coat', anchors: [[80, 20]], stamp: 9 };
    await server.ask.post(`/api/pages/${pageId}/edits`).send({ baseRevision: revision, label: 'Change', edits: [{ key: 'fill/80,20', value }] }).expect(201); // prettier-ignore
    const cast = (await server.ask.get(`/api/jobs/${jobId}/cast`)).body as { revision: number };
    const colour = { key: `colour/${sceneId}/coat`, value: '#101010' };
    await server.ask.post(`/api/jobs/${jobId}/cast/edits`).send({ baseRevision: cast.revision, label: 'Black', edits: [colour] }).expect(201); // prettier-ignore
    const view = (
      await server.ask.post(`/api/pages/${pageId}/returned`).attach('file', Buffer.from(bytes), 'back.ora').expect(201)
    ).body as ReturnedView;
    expect(view.report).toMatchObject({ recoloured: [], movedCount: 0, unknownPx: 0, ownLayers: ['Glow'] });
    const before = records.find(([key]) => key === 'fill/80,20')![1];
    await server.ask.post(`/api/pages/${pageId}/edits`).send({ baseRevision: revision + 1, label: 'Back', edits: [{ key: 'fill/80,20', value: before }] }).expect(201); // prettier-ignore
  });

  test.each([
    ['another page', async () => boxesPng(200, 90), /200 x 90 px, the page 120 x 90/],
    ['a torn archive', async () => Buffer.from((await sentBack(() => undefined)).slice(0, 900)), /cannot be read/],
    ['a text', async () => Buffer.from('hello'), /Nothing was changed/],
  ])('that is %s is refused, and nothing is kept', async (_, bytes, why) => {
    const answer = await server.ask
      .post(`/api/pages/${pageId}/returned`)
      .attach('file', await bytes(), 'back.ora')
      .expect(400);
    expect((answer.body as { detail: string }).detail).toMatch(why);
  });
});

/** Flats of the boxes: the left one gold but for a spot of hair's colour, the right one in hair's colour. */
async function boxFlats(): Promise<Buffer> {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="120" height="90" shape-rendering="crispEdges">
    <rect x="10" y="10" width="40" height="40" fill="#e0b020"/><rect x="22" y="22" width="6" height="6" fill="#cc3311"/>
    <rect x="70" y="10" width="40" height="40" fill="#cc3311"/></svg>`;
  return sharp(Buffer.from(svg)).png().toBuffer();
}

describe('a page from elsewhere', () => {
  test('is checked without being taken over, and taken over becomes a page with its parts', async () => {
    const { id } = (
      await server.ask
        .post(`/api/jobs/${jobId}/foreign`)
        .attach('file', await boxesPng(), 'their ink.png')
        .expect(201)
    ).body as { id: string };
    const view = (
      await server.ask
        .put(`/api/foreign/${id}/flats`)
        .attach('file', await boxFlats(), 'their flats.png')
        .expect(200)
    ).body as ForeignCheckView;
    expect(view).toMatchObject({ inkName: 'their ink.png', width: 120, height: 90 });
    expect(view.colours.map(({ colour }) => colour).sort()).toEqual(['#cc3311', '#e0b020']);
    expect(view.findings.map(({ kind }) => kind)).toContain('empty');
    expect((await server.ask.get(`/api/foreign/${id}/picture`).expect(200)).headers['content-type']).toBe('image/png');
    const before = (await server.ask.get(`/api/jobs/${jobId}`)).body as JobView;

    const page = (await server.ask.post(`/api/foreign/${id}/take`).expect(201)).body as PageView;
    expect(page).toMatchObject({ name: 'their ink', filledCount: 2 });
    expect(((await server.ask.get(`/api/jobs/${jobId}`)).body as JobView).pages).toHaveLength(before.pages.length + 1);
    const { records } = (await server.ask.get(`/api/jobs/${jobId}/cast`)).body as { records: [string, { name?: string }][] }; // prettier-ignore
    expect(records.filter(([key, value]) => key.startsWith('part/') && value.name === '#e0b020')).toHaveLength(1);
    const pack = await handOff(server, jobId, [page.id], { format: 'png' });
    const file = await server.ask.get(`/api/handoffs/${pack.files[0]!.id}/file`).responseType('blob').expect(200);
    const { data } = await sharp(file.body as Buffer)
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const at = (x: number, y: number): string =>
      data.subarray((y * 120 + x) * 4, (y * 120 + x) * 4 + 3).toString('hex');
    expect([at(16, 16), at(24, 24), at(80, 30)]).toEqual(['e0b020', 'cc3311', 'cc3311']);
    await server.ask.get(`/api/foreign/${id}`).expect(404);
  });

  test('is judged by the colours of the job and by a colour mode, where that is asked for', async () => {
    const { id } = (
      await server.ask
        .post(`/api/jobs/${jobId}/foreign`)
        .attach('file', await boxesPng(), 'ink.png')
        .expect(201)
    ).body as { id: string };
    const svg = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="120" height="90"><rect width="120" height="90" fill="#123456"/></svg>'); // prettier-ignore
    const flats = await sharp(svg).png().toBuffer();
    const kinds = async (query: string): Promise<string[]> => {
      const answer = await server.ask
        .put(`/api/foreign/${id}/flats${query}`)
        .attach('file', flats, 'f.png')
        .expect(200);
      return [...new Set((answer.body as ForeignCheckView).findings.map(({ kind }) => kind))];
    };
    expect(await kinds('')).not.toContain('off-palette');
    expect(await kinds('?cast=job&mode=cmyk')).toEqual(expect.arrayContaining(['off-palette', 'mode']));
    await server.ask.put(`/api/foreign/${id}/flats?mode=lab`).attach('file', flats, 'f.png').expect(400);
  });

  test('whose files do not fit, or are none, is refused in words', async () => {
    const { id } = (
      await server.ask
        .post(`/api/jobs/${jobId}/foreign`)
        .attach('file', await boxesPng(130, 90), 'ink.png')
        .expect(201)
    ).body as { id: string };
    const answer = await server.ask
      .put(`/api/foreign/${id}/flats`)
      .attach('file', await boxFlats(), 'flats.png')
      .expect(400);
    expect((answer.body as { detail: string }).detail).toMatch(/120 x 90 px, the line art 130 x 90/);
    await server.ask.post(`/api/foreign/${id}/take`).expect(404);
    await server.ask.delete(`/api/foreign/${id}`).expect(204);
    const torn = (
      await server.ask.post(`/api/jobs/${jobId}/foreign`).attach('file', Buffer.from('nothing'), 'ink.png').expect(201)
    ).body as { id: string };
    await server.ask
      .put(`/api/foreign/${torn.id}/flats`)
      .attach('file', await boxFlats(), 'flats.png')
      .expect(400);
  });
});
