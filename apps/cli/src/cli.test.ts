import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { cp, mkdir, mkdtemp, readdir, readFile, rm, symlink, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readOpenRaster, type OraLayer, type OraStack } from '@jumble/formats';
import sharp from 'sharp';
import { main } from './main.ts';

const PAGE = `<svg xmlns="http://www.w3.org/2000/svg" width="120" height="90"><rect width="100%" height="100%" fill="#fff"/>
  <g fill="none" stroke="#000" stroke-width="4"><rect x="10" y="10" width="40" height="40"/><rect x="70" y="10" width="40" height="40"/></g></svg>`;

let folder: string;
let errors: string[];
const at = (name: string): string => join(folder, name);
const jumble = async (...args: string[]): Promise<number> => {
  errors = [];
  const spy = jest.spyOn(process.stderr, 'write').mockImplementation((text) => errors.push(String(text)) > 0);
  try {
    return await main(['node', 'jumble', ...args]);
  } finally {
    spy.mockRestore();
  }
};
const pixels = async (path: string) => sharp(path).ensureAlpha().raw().toBuffer({ resolveWithObject: true });

const pixelsOf = async (png: Uint8Array): Promise<Buffer> => sharp(png).ensureAlpha().raw().toBuffer();

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'jumble-cli-'));
  await sharp(Buffer.from(PAGE)).png().withMetadata({ density: 300 }).toFile(at('page.v1.png'));
  await writeFile(at('notes.png'), 'no picture');
  const fills = (part: string, x = 20) => ({
    parts: [
      { id: 'coat', name: 'Coat', colour: '#336699' },
      { id: 'sky', name: 'Sky', colour: '#aaccee' },
    ],
    fills: [
      { x, y: 20, part },
      { x: 2, y: 2, part: 'sky' },
    ],
  });
  await writeFile(at('fills.json'), JSON.stringify(fills('coat')));
  await writeFile(at('unknown.json'), JSON.stringify(fills('hat')));
  await writeFile(at('on-ink.json'), JSON.stringify(fills('coat', 10)));
  await writeFile(at('outside.json'), JSON.stringify(fills('coat', 500)));
  await writeFile(at('broken.json'), '{"parts": [');
  await writeFile(
    at('colour.json'),
    JSON.stringify({ parts: [{ id: 'coat', name: 'Coat', colour: 'blue' }], fills: [] }),
  );
});
afterAll(() => rm(folder, { recursive: true }));

describe('jumble regions', () => {
  test('lists panels and balloons when it is asked to', async () => {
    await sharp(
      Buffer.from(
        '<svg xmlns="http://www.w3.org/2000/svg" width="600" height="400"><rect width="100%" height="100%" fill="#fff"/><g fill="none" stroke="#000" stroke-width="5"><rect x="30" y="30" width="250" height="340"/><rect x="310" y="30" width="260" height="340"/></g></svg>',
      ),
    )
      .png()
      .toFile(at('panels.png'));
    expect(await jumble('regions', at('panels.png'), '--out', at('panels'), '--no-labels', '--panels')).toBe(0);
    const report = JSON.parse(await readFile(at('panels/panels.regions.json'), 'utf8')) as {
      panels: { points: number[][]; verdict: string }[];
      balloons: unknown[];
    };
    expect(report.panels.map((panel) => panel.verdict)).toEqual(['holds', 'holds']);
    expect(report.panels[1]!.points.every(([x]) => x! > 290)).toBe(true);
    expect(report.balloons).toEqual([]);
  });

  test('writes labels and a report that agree, pixel for pixel', async () => {
    expect(await jumble('regions', at('page.v1.png'), '--out', at('out'), '--repeat', '2')).toBe(0);
    const report = JSON.parse(await readFile(at('out/page.v1.regions.json'), 'utf8')) as {
      regions: { id: number; areaPx: number; bbox: number[]; anchor: [number, number]; touchesEdge: boolean }[];
      [key: string]: unknown;
    };
    expect(report).toMatchObject({
      width: 120,
      height: 90,
      dpi: 300,
      closures: expect.any(Array) as unknown,
      lineWidthPx: { median: expect.any(Number) as unknown },
    });
    expect(Object.keys(report.timingsMs as object)).toEqual(
      expect.arrayContaining(['decode', 'ink', 'gaps', 'label', 'trap']),
    );
    expect(report.regions.map((region) => [region.id, region.touchesEdge])).toEqual([
      [1, true],
      [2, false],
      [3, false],
    ]);
    const { data } = await pixels(at('out/page.v1.labels.png'));
    const idAt = (i: number): number => data[i * 4]! + 256 * data[i * 4 + 1]! + 65536 * data[i * 4 + 2]!;
    for (const { id, areaPx, bbox, anchor } of report.regions) {
      const own = Array.from({ length: 120 * 90 }, (_, i) => i).filter((i) => idAt(i) === id);
      const xs = own.map((i) => i % 120);
      const ys = own.map((i) => Math.floor(i / 120));
      expect(own).toHaveLength(areaPx);
      expect(bbox).toEqual([
        Math.min(...xs),
        Math.min(...ys),
        Math.max(...xs) - Math.min(...xs) + 1,
        Math.max(...ys) - Math.min(...ys) + 1,
      ]);
      expect(idAt(anchor[1] * 120 + anchor[0])).toBe(id);
    }
    expect(idAt(20 * 120 + 10)).toBe(0);
  });

  test('names a bad file in one line, does the others, and ends with 2', async () => {
    expect(
      await jumble('regions', at('notes.png'), at('gone.png'), at('page.v1.png'), '--out', at('some'), '--no-labels'),
    ).toBe(2);
    expect(errors).toHaveLength(2);
    for (const [k, name] of ['notes.png', 'gone.png'].entries()) {
      expect(errors[k]).toContain(name);
      expect(errors[k]!.trim().split('\n')).toHaveLength(1);
    }
    expect(await readdir(at('some'))).toEqual(['page.v1.regions.json']);
  });

  test.each([
    [['regions', 'x.png']],
    [['regions', '--out', 'x']],
    [['regions', 'x.png', '--out', 'x', '--repeat', '0']],
    [['regions', 'x.png', '--out', 'x', '--max-gap', '-3']],
    ...['deep', '-1', '201', '21mm', 'max-', 'max-1mm', '1e2', ''].map((trap): [string[]] => [
      ['flat', 'x.png', '--out', 'x', '--fills', 'scratch', '--trap', trap],
    ]),
    [['flat', 'x.png', '--out', 'x', '--fills', 'scratch', '--underlap', '-1']],
    [['flat', 'x.png', '--out', 'x', '--fills', 'scratch', '--underlap', '2', '--layers', 'single']],
    [['flat', 'x.png', '--out', 'x', '--fills', 'scratch', '--layers', 'many']],
    [['paint']],
  ])('refuses %j with 2', async (args) => {
    expect(await jumble(...args)).toBe(2);
    expect(errors.join('')).toMatch(/jumble: .+/);
  });

  test('runs as it stands from the repository', () => {
    const root = join(import.meta.dirname, '..', '..', '..');
    const bin = join(root, 'apps', 'cli', 'bin', 'jumble.js');
    const { status, stdout } = spawnSync(process.execPath, [bin, '--help'], { cwd: root, encoding: 'utf8' });
    expect(status).toBe(0);
    expect(stdout).toMatch(/regions.*\n[\s\S]*flat/);
  });
});

describe('what is written', () => {
  const flat = (out: string, fills = at('fills.json'), page = at('page.v1.png')) =>
    jumble('flat', page, '--fills', fills, '--out', out);
  /** One line that names the file, code 2. */
  const refused = (code: number, name: string, words: RegExp): void => {
    expect(code).toBe(2);
    expect(errors).toHaveLength(1);
    expect(errors[0]!.trim().split('\n')).toHaveLength(1);
    expect(errors[0]).toContain(name);
    expect(errors[0]).toMatch(words);
  };

  test('where nothing can be made is told at once', async () => {
    refused(await jumble('regions', at('page.v1.png'), '--out', '/proc/x'), '/proc/x', /cannot be made/);
    refused(await flat('/proc/x/'), '/proc/x', /cannot be made/);
    refused(await flat('/proc/x.ora'), '/proc/x.ora', /cannot be written/);
    await writeFile(at('file'), 'x');
    refused(await jumble('regions', at('page.v1.png'), '--out', at('file')), 'file', /ENOTDIR/);
    refused(await flat(at('file')), 'file', /ENOTDIR/);
  });

  test('goes beside the good file first: when the disk is full, that one is whole and nothing else is left', async () => {
    await writeFile(at('keep.ora'), 'the good one');
    const before = (await readdir(folder)).sort();
    // As a full disk: the file may not become larger than a few kB.
    const bin = join(import.meta.dirname, '..', 'bin', 'jumble.js');
    const run = `ulimit -f 1; exec '${process.execPath}' '${bin}' flat '${at('page.v1.png')}' --fills '${at('fills.json')}' --out '${at('keep.ora')}'`;
    const { status, stderr } = spawnSync('bash', ['-c', run], { encoding: 'utf8' });
    expect(stderr.trim().split('\n')).toEqual([expect.stringMatching(/^jumble: .*keep\.ora: it cannot be written/)]);
    expect(status).toBe(2);
    expect(await readFile(at('keep.ora'), 'utf8')).toBe('the good one');
    expect((await readdir(folder)).sort()).toEqual(before);
    expect(await flat(at('keep.ora'))).toBe(0);
    expect(readOpenRaster(await readFile(at('keep.ora'))).width).toBe(120);
  });

  test('is never an input, by whatever name', async () => {
    await mkdir(at('mine'));
    const page = await readFile(at('page.v1.png'));
    for (const name of ['ink.png', 'x.png', 'x.labels.png']) await writeFile(at(`mine/${name}`), page);
    await symlink(at('mine'), at('alias'));
    refused(await flat(at('alias'), at('fills.json'), at('mine/ink.png')), 'ink.png', /over the input/);
    const both = [at('mine/x.png'), at('mine/x.labels.png')];
    expect(await jumble('regions', ...both, '--out', at('mine'))).toBe(2);
    expect(errors).toEqual([expect.stringMatching(/x\.labels\.png: it would be written over the input/)]);
    await cp(at('fills.json'), at('mine/fills.ora'));
    refused(await flat(at('mine/fills.ora'), at('mine/fills.ora')), 'fills.ora', /over the input/);
    for (const name of ['ink.png', 'x.png', 'x.labels.png']) expect(await readFile(at(`mine/${name}`))).toEqual(page);
    // The rest of the batch was done.
    expect(await readdir(at('mine'))).toContain('x.labels.regions.json');
  });

  test('has an ending that is known, or is a folder', async () => {
    for (const out of ['page.png', 'page.jpg', 'page.xyz', 'page.orra'])
      refused(await flat(at(out)), out, /ends in \.ora, \.tif, \.svg or \.pdf, or a folder/);
    for (const out of ['flats.v2', 'plain', 'odd.png/']) {
      expect(await flat(at(out))).toBe(0);
      expect(await readdir(at(out))).toContain('flats.png');
    }
  });

  test('is written from a file of fills with a byte order mark, and refused from one with too many parts', async () => {
    await writeFile(at('bom.json'), `\uFEFF${await readFile(at('fills.json'), 'utf8')}`);
    expect(await flat(at('bom'), at('bom.json'))).toBe(0);
    const parts = Array.from({ length: 70_000 }, (_, k) => ({ id: String(k), name: `P${k}`, colour: '#123456' }));
    await writeFile(at('many.json'), JSON.stringify({ parts, fills: [] }));
    refused(await flat(at('many.ora'), at('many.json')), 'many.json', /70000 parts; at most 65534/);
  });

  test('has names without control characters, which its reader would choke on', async () => {
    const parts = [{ id: 'a', name: 'Co\u0000at\u001b\u0007 of\nred', colour: '#123456' }];
    await writeFile(at('control.json'), JSON.stringify({ parts, fills: [{ x: 20, y: 20, part: 'a' }] }));
    expect(await flat(at('control.ora'), at('control.json'))).toBe(0);
    const names = JSON.stringify(readOpenRaster(await readFile(at('control.ora'))).children.map((one) => one));
    expect(names).toContain('"Coat of red"');
  });
});

describe('jumble flat', () => {
  test('writes an OpenRaster file with a layer per part', async () => {
    expect(await jumble('flat', at('page.v1.png'), '--fills', at('fills.json'), '--out', at('page.ora'))).toBe(0);
    const image = readOpenRaster(await readFile(at('page.ora')));
    expect([image.width, image.height, image.dpi]).toEqual([120, 90, 300]);
    expect(JSON.stringify(image.children.map(({ name }) => name))).toBe('["Line art","Flats","Paper"]');
  });

  test("writes a folder, every picture of the page's size and hard-edged", async () => {
    expect(
      await jumble('flat', at('page.v1.png'), '--fills', at('fills.json'), '--out', at('layers'), '--trap', '1'),
    ).toBe(0);
    expect((await readdir(at('layers'))).sort()).toEqual([
      'coat.png',
      'flats.png',
      'ink.png',
      'manifest.json',
      'sky.png',
    ]);
    const coat = await pixels(at('layers/coat.png'));
    expect([coat.info.width, coat.info.height]).toEqual([120, 90]);
    for (let i = 3; i < coat.data.length; i += 4) expect([0, 255]).toContain(coat.data[i]);
    const flats = await pixels(at('layers/flats.png'));
    expect([...flats.data.subarray((20 * 120 + 20) * 4, (20 * 120 + 20) * 4 + 4)]).toEqual([0x33, 0x66, 0x99, 255]);
    expect(flats.data[(20 * 120 + 90) * 4 + 3]).toBe(0);
  });

  test('traps to the middle, a depth in px or mm, and as deep as the line allows', async () => {
    const columns = async (trap: string, ...more: string[]): Promise<number> => {
      const out = at(`trap-${trap}`);
      const code = await jumble('flat', at('page.v1.png'), '--fills', at('fills.json'), '--out', out, '--trap', trap, ...more); // prettier-ignore
      expect(errors).toEqual([]);
      expect(code).toBe(0);
      const { data } = await pixels(join(out, 'coat.png'));
      return data.filter((value, k) => k % 4 === 3 && value > 0).length;
    };
    const [middle, half, deep] = [await columns('middle'), await columns('0.5'), await columns('max-1')];
    expect(half).toBeLessThan(middle);
    expect(deep).toBeGreaterThan(middle);
    // 0.17 mm at the file's 300 dpi are two px.
    expect(await columns('0.17mm')).toBe(await columns('2'));
  });

  test('says in one line which trap a page cannot have', async () => {
    const flat = (trap: string, page = 'page.v1.png'): Promise<number> =>
      jumble('flat', at(page), '--fills', 'scratch', '--out', at('none'), '--trap', trap);
    expect(await flat('max-90')).toBe(2);
    expect(errors.splice(0).join('')).toMatch(/page\.v1\.png: a margin of 90 px is wider than any line .*\n$/);
    const { data, info } = await pixels(at('page.v1.png'));
    await sharp(data, { raw: { width: info.width, height: info.height, channels: 4 } })
      .png()
      .toFile(at('plain.png'));
    expect(await flat('0.3mm', 'plain.png')).toBe(2);
    expect(errors.splice(0).join('')).toMatch(/plain\.png: it states no resolution, so 0\.3 mm cannot be worked out/);
    await expect(readdir(at('none'))).rejects.toThrow();
  });

  test('lets layers run under those in front of them, and their picture stays the same', async () => {
    const colourOf = async (folder: string): Promise<Buffer[]> =>
      Promise.all(['coat', 'sky', 'flats'].map(async (name) => (await pixels(at(`${folder}/${name}.png`))).data));
    await jumble('flat', at('page.v1.png'), '--fills', at('fills.json'), '--out', at('plain/'));
    await jumble('flat', at('page.v1.png'), '--fills', at('fills.json'), '--out', at('slack/'), '--underlap', '3');
    const [coat, sky, flats] = await colourOf('plain');
    const [coatToo, skyToo, flatsToo] = await colourOf('slack');
    const count = (layer: Buffer): number => layer.filter((value, k) => k % 4 === 3 && value > 0).length;
    expect(Buffer.compare(coat!, coatToo!)).toBe(0);
    expect(count(skyToo!)).toBeGreaterThan(count(sky!));
    expect(Buffer.compare(flats!, flatsToo!)).toBe(0);
  });

  test('colours lines by rules, with the alpha of the ink pixel for pixel', async () => {
    const rules = [
      { lines: { all: true }, colour: { darken: 0.3 } },
      { lines: { within: [[5, 5], [55, 5], [55, 55], [5, 55]] }, colour: '#2040c0' },
      { lines: { inside: 'sky' }, colour: '#ff0000' },
    ]; // prettier-ignore
    await writeFile(at('holds.json'), JSON.stringify({ rules }));
    const flat = (out: string): Promise<number> =>
      jumble('flat', at('page.v1.png'), '--fills', at('fills.json'), '--holds', at('holds.json'), '--out', at(out));
    expect(await flat('held/')).toBe(0);
    expect(errors.splice(0).join('')).toMatch(/holds\.json: rule 3 takes no line of this page/);
    const [lines, ink] = await Promise.all(
      ['lines', 'ink'].map(async (name) => (await pixels(at(`held/${name}.png`))).data),
    );
    for (let k = 3; k < ink!.length; k += 4) expect(lines![k]).toBe(ink![k]);
    const left = (30 * 120 + 10) * 4;
    expect([...lines!.subarray(left, left + 4)]).toEqual([0x20, 0x40, 0xc0, 255]);
    const right = (30 * 120 + 70) * 4;
    expect([...lines!.subarray(right, right + 3)]).not.toEqual([0, 0, 0]);

    // In a file they are clipped to the untouched line art, and the picture is what the layers give.
    expect(await flat('held.ora')).toBe(0);
    const image = readOpenRaster(await readFile(at('held.ora')));
    const [stack] = image.children as [OraStack];
    expect([stack.kind, stack.name]).toEqual(['stack', 'Lines']);
    const [holds, art] = stack.children as [OraLayer, OraLayer];
    expect([holds, art].map((one) => [one.name, one.compositeOp, one.editLocked])).toEqual([
      ['Holds', 'svg:src-atop', false],
      ['Line art', 'svg:src-over', true],
    ]);
    const merged = await pixelsOf(image.merged);
    const flats = (await pixels(at('held/flats.png'))).data;
    for (let k = 0; k < merged.length; k += 4) {
      const alpha = ink![k + 3]! / 255;
      for (let c = 0; c < 3; c++) {
        const under = flats[k + 3] === 0 ? 255 : flats[k + c]!;
        expect(Math.abs(merged[k + c]! - (lines![k + c]! * alpha + under * (1 - alpha)))).toBeLessThanOrEqual(1);
      }
    }
  });

  test.each([
    [{ rules: [{ lines: { inside: 'nobody' }, colour: '#000000' }] }, /rule 1 names the part "nobody"/],
    [{ rules: [{ lines: { within: [[1, 1], [9, 9]] }, colour: '#000000' }] }, /rule 1.*3 to 5000 corners/],
    [{ rules: [{ lines: { all: true }, colour: 'blue' }] }, /rule 1.*#a0b1c2/],
    [{ lines: [] }, /a list, "rules"/],
  ])('refuses rules of lines like %j', async (holds, words) => {
    await writeFile(at('wrong.json'), JSON.stringify(holds));
    expect(
      await jumble('flat', at('page.v1.png'), '--fills', at('fills.json'), '--holds', at('wrong.json'), '--out', at('no/')),
    ).toBe(2);
    expect(errors.join('')).toMatch(words);
    expect(errors.join('').trim().split('\n')).toHaveLength(1);
    await expect(readdir(at('no'))).rejects.toThrow();
  }); // prettier-ignore

  test('in scratch colours gives every region a colour of its own', async () => {
    expect(
      await jumble('flat', at('page.v1.png'), '--fills', 'scratch', '--layers', 'single', '--out', at('loud')),
    ).toBe(0);
    const { data } = await pixels(at('loud/flats.png'));
    const colourAt = (x: number, y: number): string =>
      data.subarray((y * 120 + x) * 4, (y * 120 + x) * 4 + 3).toString('hex');
    expect(new Set([colourAt(2, 2), colourAt(20, 20), colourAt(90, 20)]).size).toBe(3);
  });

  test.each([
    ['unknown.json', /part "hat", which is not in "parts"/],
    ['on-ink.json', /\(10, 20\) lies on ink/],
    ['outside.json', /outside the page of 120 x 90/],
    ['broken.json', /not JSON/],
    ['colour.json', /"coat".*#a0b1c2/],
    ['gone.json', /cannot be opened/],
  ])('refuses the fills %s, naming the file and what is wrong, and writes nothing', async (name, words) => {
    expect(await jumble('flat', at('page.v1.png'), '--fills', at(name), '--out', at('never.ora'))).toBe(2);
    expect(errors).toHaveLength(1);
    expect(errors[0]).toContain(name);
    expect(errors[0]).toMatch(words);
    expect(await readdir(folder)).not.toContain('never.ora');
  });
});

describe('jumble check', () => {
  const planted = async (name: string, plant: (data: Buffer, width: number) => void): Promise<string> => {
    const { data, info } = await pixels(at('checked/flats.png'));
    plant(data, info.width);
    const { width, height } = info;
    await sharp(data, { raw: { width, height, channels: 4 } })
      .png()
      .toFile(at(name));
    return at(name);
  };
  const findings = async (): Promise<{ kind: string; x: number; y: number; areaPx: number; message: string }[]> =>
    (JSON.parse(await readFile(at('report.json'), 'utf8')) as { findings: [] }).findings;
  const check = (flats: string, ...args: string[]): Promise<number> =>
    jumble('check', at('page.v1.png'), flats, '--report', at('report.json'), ...args);
  /** Every region filled: both boxes and what is around them. */
  beforeAll(async () => {
    const fills = { parts: [{ id: 'coat', name: 'Coat', colour: '#336699' }, { id: 'sky', name: 'Sky', colour: '#aaccee' }], fills: [{ x: 20, y: 20, part: 'coat' }, { x: 90, y: 20, part: 'coat' }, { x: 2, y: 2, part: 'sky' }] }; // prettier-ignore
    await writeFile(at('all.json'), JSON.stringify(fills));
    expect(await jumble('flat', at('page.v1.png'), '--fills', at('all.json'), '--out', `${at('checked')}/`)).toBe(0);
    expect(await jumble('flat', at('page.v1.png'), '--fills', at('all.json'), '--out', at('checked.ora'))).toBe(0);
  });

  test('finds nothing in what was filled completely, as a picture or in layers, and says so by its exit code', async () => {
    expect(await check(at('checked/flats.png'), '--palette', at('all.json'))).toBe(0);
    expect(await findings()).toEqual([]);
    expect(await check(at('checked.ora'))).toBe(0);
    expect(await findings()).toEqual([]);
  });

  test('lists planted faults with their kind and place; white is paper where nothing is transparent', async () => {
    const stray = await planted('stray.png', (data, width) => data.set([0xaa, 0xcc, 0xee], (30 * width + 30) * 4));
    expect(await check(stray)).toBe(1);
    expect(await findings()).toMatchObject([{ kind: 'stray', x: 30, y: 30, areaPx: 1 }]);
    const half = await planted('half.png', (data, width) => void (data[(30 * width + 30) * 4 + 3] = 99));
    expect(await check(half)).toBe(1);
    expect(await findings()).toMatchObject([{ kind: 'soft', x: 30, y: 30, areaPx: 1 }]);
    const holed = await planted('holed.png', (data, width) => {
      for (let y = 20; y < 25; y++) data.fill(255, (y * width + 80) * 4, (y * width + 86) * 4);
    });
    await sharp(holed).flatten().png().toFile(at('white.png'));
    expect(await check(at('white.png'))).toBe(1);
    expect(await findings()).toMatchObject([{ kind: 'missed-corner', x: 80, y: 20, areaPx: 30 }]);
  });

  test('goes by the palette and the rules it is given', async () => {
    await writeFile(at('cast.csv'), 'scene,group,part,key,colour\nDay,Ana,Coat,c,#336699\n');
    expect(await check(at('checked/flats.png'), '--palette', at('cast.csv'))).toBe(1);
    expect(await findings()).toMatchObject([{ kind: 'off-palette', x: 0, y: 0 }]);
    await writeFile(at('rules.json'), JSON.stringify({ off: ['off-palette'], minDpi: 600 }));
    expect(await check(at('checked/flats.png'), '--palette', at('cast.csv'), '--rules', at('rules.json'))).toBe(1);
    expect(await findings()).toMatchObject([{ kind: 'resolution', message: '300 dpi; 600 are asked for' }]);
    // A TIFF file in layers states its resolution too.
    expect(await jumble('flat', at('page.v1.png'), '--fills', at('all.json'), '--out', at('checked.tif'))).toBe(0);
    await writeFile(at('dpi.json'), JSON.stringify({ minDpi: 300, mode: 'rgb' }));
    expect(await check(at('checked.tif'), '--rules', at('dpi.json'))).toBe(0);
    await writeFile(at('ink.json'), JSON.stringify({ inkLimitPercent: 100 }));
    expect(await check(at('checked/flats.png'), '--rules', at('ink.json'))).toBe(1);
    expect(await findings()).toMatchObject([
      { kind: 'ink-limit', message: expect.stringMatching(/^#336699 takes 1\d\d % ink; at most 100 %/) },
    ]);
  });

  test('refuses another size, a file that is none, and rules that are none, in one line', async () => {
    await sharp({ create: { width: 10, height: 10, channels: 4, background: '#336699' } }).png().toFile(at('small.png')); // prettier-ignore
    await writeFile(at('bad-rules.json'), JSON.stringify({ off: ['everything'] }));
    await writeFile(at('torn.ora'), (await readFile(at('checked.ora'))).subarray(0, 900));
    const cases: [string[], RegExp][] = [
      [[at('small.png')], /10 x 10 px, the line art 120 x 90/],
      [[at('notes.png')], /not a picture/],
      [[at('torn.ora')], /cannot be read/],
      [[at('nowhere.ora')], /cannot be opened/],
      [[at('checked.ora'), '--rules', at('bad-rules.json')], /"rules.off.0" must be/],
      [[at('checked.ora'), '--palette', at('notes.png')], /no cast sheet/],
    ];
    for (const [args, why] of cases) {
      expect(await check(args[0]!, ...args.slice(1))).toBe(2);
      expect(errors.join('')).toMatch(why);
      expect(errors.join('').trim().split('\n')).toHaveLength(1);
    }
  });
});

describe('jumble flat into other formats', () => {
  const flat = (out: string, ...args: string[]): Promise<number> =>
    jumble('flat', at('page.v1.png'), '--fills', at('grouped.json'), '--out', at(out), ...args);
  beforeAll(
    () =>
    writeFile(at('grouped.json'), JSON.stringify({ parts: [{ id: 'coat', name: 'Coat', colour: '#336699', group: 'Ana' }, { id: 'hat', name: 'Hat', colour: '#aa3311', group: 'Ana' }, { id: 'sky', name: 'Sky', colour: '#aaccee' }], fills: [{ x: 20, y: 20, part: 'coat' }, { x: 90, y: 20, part: 'hat' }, { x: 2, y: 2, part: 'sky' }] })), // prettier-ignore
  );

  test('writes TIFF, SVG and PDF, and checks clean as each of the layered ones', async () => {
    for (const out of ['o.tif', 'o.svg', 'o.pdf', 'o-folder']) expect(await flat(out)).toBe(0);
    expect((await sharp(at('o.tif')).metadata()).pages).toBe(5);
    expect(Buffer.compare((await pixels(at('o.svg'))).data, (await pixels(at('o-folder/flats.png'))).data)).toBe(0);
    expect((await readFile(at('o.pdf'))).subarray(0, 5).toString()).toBe('%PDF-');
    expect(await jumble('check', at('page.v1.png'), at('o.tif'), '--report', at('r.json'))).toBe(0);
    const manifest = JSON.parse(await readFile(at('o-folder/manifest.json'), 'utf8')) as { layers: { file: string; name: string; group: string }[] }; // prettier-ignore
    expect(manifest.layers.map(({ file, name, group }) => [file, name, group])).toEqual([['coat.png', 'Coat', 'Ana'], ['hat.png', 'Hat', 'Ana'], ['sky.png', 'Sky', 'Parts']]); // prettier-ignore
  });

  test('makes layers by character, colour or panel', async () => {
    const names = async (split: string): Promise<string[]> => {
      expect(await flat(`by-${split}/`, '--layers', split)).toBe(0);
      return ((await JSON.parse(await readFile(at(`by-${split}/manifest.json`), 'utf8'))) as { layers: { name: string }[] }).layers.map(({ name }) => name); // prettier-ignore
    };
    expect(await names('group')).toEqual(['Ana', 'Parts']);
    expect(await names('colour')).toEqual(['#336699', '#aa3311', '#aaccee']);
    expect((await names('panel')).length).toBeGreaterThan(0);
  });

  test('prints colours in TIFF and PDF alone, by a profile that is one', async () => {
    expect(await flat('c.tif', '--cmyk')).toBe(0);
    expect((await sharp(at('c.tif')).metadata()).space).toBe('cmyk');
    expect(await flat('c.pdf', '--cmyk')).toBe(0);
    // The generic profile, given as a file, makes the same of them.
    const { icc } = await sharp(await sharp({ create: { width: 1, height: 1, channels: 3, background: '#fff' } }).withIccProfile('cmyk').toColourspace('cmyk').tiff().toBuffer()).metadata(); // prettier-ignore
    await writeFile(at('generic.icc'), icc!);
    expect(await flat('c3.tif', '--cmyk', '--profile', at('generic.icc'))).toBe(0);
    expect(Buffer.compare(await readFile(at('c3.tif')), await readFile(at('c.tif')))).toBe(0);
    for (const args of [
      ['c.ora', '--cmyk'],
      ['c.svg', '--cmyk'],
      ['c2.tif', '--profile', at('notes.png')],
      ['c2.tif', '--cmyk', '--profile', at('notes.png')],
      ['c2.tif', '--cmyk', '--profile', at('none.icc')],
    ] as [string, ...string[]][]) {
      // prettier-ignore
      expect(await flat(...args)).toBe(2);
      expect(errors.join('').trim().split('\n')).toHaveLength(1);
    }
  });
});

describe('jumble diff', () => {
  const report = async (): Promise<Record<string, unknown[]>> => JSON.parse(await readFile(at('diff.json'), 'utf8')) as Record<string, unknown[]>; // prettier-ignore
  const diff = (sent: string, returned: string): Promise<number> => jumble('diff', at(sent), at(returned), '--report', at('diff.json')); // prettier-ignore
  beforeAll(async () => {
    for (const out of ['sent.ora', 'sent.tif', 'sent/'])
      expect(await jumble('flat', at('page.v1.png'), '--fills', at('all.json'), '--out', at(out))).toBe(0);
    await cp(at('sent'), at('back'), { recursive: true });
    // A part in another colour, and the edge of another one moved.
    const { data, info } = await pixels(at('sent/coat.png'));
    for (let k = 0; k < data.length; k += 4) if (data[k + 3] === 255) data.set([0xcc, 0x22, 0x11], k);
    for (let y = 20; y < 24; y++) data.fill(0, (y * info.width + 20) * 4, (y * info.width + 26) * 4);
    await sharp(data, { raw: { width: info.width, height: info.height, channels: 4 } }).png().toFile(at('back/coat.png')); // prettier-ignore
  });

  test('finds nothing between a file and itself, whatever its format', async () => {
    expect(await diff('sent.ora', 'sent.ora')).toBe(0);
    expect(await diff('sent.tif', 'sent')).toBe(0);
    expect(await diff('sent.ora', 'sent.tif')).toBe(0);
    expect(await report()).toEqual({ recoloured: [], moved: [], added: [], removed: [] });
  });

  test('tells a new colour, a moved edge, and layers that came or went', async () => {
    expect(await diff('sent', 'back')).toBe(1);
    expect(await report()).toEqual({
      recoloured: [{ part: 'Coat', from: '#336699', to: '#cc2211' }],
      moved: [{ x: 20, y: 20, width: 6, height: 4, areaPx: 24, from: 'Coat', to: null }],
      added: [],
      removed: [],
    });
    const manifest = JSON.parse(await readFile(at('back/manifest.json'), 'utf8')) as { layers: { name: string }[] };
    manifest.layers = manifest.layers.map((layer) => (layer.name === 'Sky' ? { ...layer, name: 'Glow' } : layer));
    await writeFile(at('back/manifest.json'), JSON.stringify(manifest));
    await diff('sent', 'back');
    expect(await report()).toMatchObject({ added: ['Glow'], removed: ['Sky'] });
  });

  test('refuses another size, a torn file and a manifest that points outside, in one line', async () => {
    await writeFile(at('torn.tif'), (await readFile(at('sent.tif'))).subarray(0, 300));
    await mkdir(at('evil'));
    await writeFile(at('evil/manifest.json'), JSON.stringify({ width: 120, height: 90, layers: [{ file: '../page.v1.png', name: 'x' }] })); // prettier-ignore
    await sharp({ create: { width: 60, height: 45, channels: 3, background: '#fff' } })
      .png()
      .toFile(at('half.v1.png'));
    await jumble('flat', at('half.v1.png'), '--fills', 'scratch', '--out', at('half.ora'));
    for (const returned of ['torn.tif', 'evil', 'half.ora', 'nowhere.ora', 'notes.png']) {
      expect(await diff('sent.ora', returned)).toBe(2);
      expect(errors.join('').trim().split('\n')).toHaveLength(1);
    }
  });
});
