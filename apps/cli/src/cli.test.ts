import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readOpenRaster } from '@jumble/formats';
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
    [['flat', 'x.png', '--out', 'x', '--fills', 'scratch', '--trap', 'deep']],
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
    expect((await readdir(at('layers'))).sort()).toEqual(['coat.png', 'flats.png', 'ink.png', 'sky.png']);
    const coat = await pixels(at('layers/coat.png'));
    expect([coat.info.width, coat.info.height]).toEqual([120, 90]);
    for (let i = 3; i < coat.data.length; i += 4) expect([0, 255]).toContain(coat.data[i]);
    const flats = await pixels(at('layers/flats.png'));
    expect([...flats.data.subarray((20 * 120 + 20) * 4, (20 * 120 + 20) * 4 + 4)]).toEqual([0x33, 0x66, 0x99, 255]);
    expect(flats.data[(20 * 120 + 90) * 4 + 3]).toBe(0);
  });

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
