import { describe, expect, test } from '@jest/globals';
import {
  applyEdits,
  NO_GAPS_PREP,
  NO_TRAP_INK,
  middleTrap,
  uniformTrap,
  editCastScene,
  editColour,
  editGroup,
  editPart,
  findLinePieces,
  openSurvey,
  readCastSheet,
  surveyPage,
} from '@jumble/core';
import { decodeRgba, encodeRgba } from '@jumble/raster-io';
import { decode } from 'fast-png';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { PDFDocument } from 'pdf-lib';
import { castToCsv, castToTokens } from './cast/castFiles.ts';
import { castToPdf } from './cast/castToPdf.ts';
import { readCastFile } from './cast/readCastFile.ts';
import { buildOpenRaster } from './handoff/buildOpenRaster.ts';
import type { HandoffInput } from './handoff/HandoffInput.ts';
import { preparePage, type HandoffPage } from './handoff/preparePage.ts';
import { encodeFlatsPng } from './png/encodeFlatsPng.ts';
import type { OraLayer, OraNode } from './openRaster/OpenRaster.ts';
import { readOpenRaster } from './openRaster/readOpenRaster.ts';
import { setPngFacts } from './png/setPngFacts.ts';
import { rooms } from './tests/rooms.ts';

const survey = surveyPage(rooms(), NO_GAPS_PREP);
const page = (over: Partial<HandoffInput> = {}): HandoffPage =>
  preparePage({
    survey,
    partOfRegion: ['coat', 'sky'],
    groups: [
      { name: 'Ana <&>', parts: [{ id: 'coat', name: 'Coat "red"', rgb: 0xc81e28, empty: false }] },
      {
        name: 'Set',
        parts: [
          { id: 'sky', name: 'Sky', rgb: 0x3c78d2, empty: false },
          { id: 'no', name: 'Nothing', rgb: 0, empty: true },
        ],
      },
    ],
    trap: middleTrap(2),
    trapInk: NO_TRAP_INK,
    underlapPx: 0,
    split: 'part',
    dpi: 300,
    scratch: false,
    ...over,
  });
const flatsPng = (over: Partial<HandoffInput> = {}): Promise<Uint8Array> => {
  const { flats, dpi } = page(over);
  return encodeFlatsPng(flats.parts, flats.rgbOfPart, dpi, ports.encodeRgba);
};
const ports = { encodeRgba };

function layersOf(nodes: readonly OraNode[]): OraLayer[] {
  return nodes.flatMap((node) => (node.kind === 'layer' ? [node] : layersOf(node.children)));
}

/** Merges layers bottom up by their own modes, rounding to 8 bits at each. */
async function mergeByModes(layers: readonly OraLayer[], width: number, height: number): Promise<Uint8Array> {
  const out = new Uint8Array(width * height * 4);
  for (const layer of [...layers].reverse()) {
    const { data, width: w, height: h } = await decodeRgba(layer.png);
    for (let y = 0; y < h; y++) {
      for (let x = 0; x < w; x++) {
        const from = (y * w + x) * 4;
        const to = ((y + layer.y) * width + x + layer.x) * 4;
        const alpha = data[from + 3]! / 255;
        for (let c = 0; c < 3; c++) {
          const below = out[to + c]!;
          const above = layer.compositeOp === 'svg:multiply' ? (data[from + c]! * below) / 255 : data[from + c]!;
          out[to + c] = Math.round(above * alpha + below * (1 - alpha));
        }
        out[to + 3] = Math.max(out[to + 3]!, data[from + 3]!);
      }
    }
  }
  return out;
}

describe('the OpenRaster hand-off', () => {
  test('has the layers in their order, named and grouped, the line art locked on top in multiply', async () => {
    const image = readOpenRaster(await buildOpenRaster(page(), ports));
    expect([image.width, image.height, image.dpi]).toEqual([60, 40, 300]);
    expect(image.children.map((node) => node.name)).toEqual(['Line art', 'Flats', 'Paper']);
    expect(image.children[0]).toMatchObject({ compositeOp: 'svg:multiply', editLocked: true });
    const flats = image.children[1] as unknown as { children: OraNode[] };
    expect(flats.children.map((group) => [group.name, ...layersOf([group]).map((layer) => layer.name)])).toEqual([
      ['Ana <&>', 'Coat "red"'],
      ['Set', 'Sky'],
    ]);
  });

  test('of a page worked on at half its size has the colours of lines at the full one, merged as its layers are', async () => {
    const opened = openSurvey(rooms(), NO_GAPS_PREP);
    const pieces = findLinePieces(opened.base, opened.survey);
    const words = new Uint32Array(pieces.count + 1).fill(0xff2040c0, 1);
    const [width, height] = [survey.width * 2, survey.height * 2];
    const inkAlpha = new Uint8Array(width * height);
    inkAlpha.forEach((_, at) => {
      inkAlpha[at] = survey.inkAlpha[Math.floor(at / width / 2) * survey.width + Math.floor((at % width) / 2)]!;
    });
    const full = { width, height, inkAlpha };
    const holds = { pieces, paint: { ofPixel: pieces.ofPixel, words, varying: null } };
    const image = readOpenRaster(await buildOpenRaster(page({ full, holds }), ports));
    expect(image.children[0]).toMatchObject({ kind: 'stack', name: 'Lines' });
    const [colours, ink] = layersOf([image.children[0]!]);
    expect([colours!.compositeOp, ink!.compositeOp, ink!.editLocked]).toEqual(['svg:src-atop', 'svg:src-over', true]);
    const at = (40 * width + 60) * 4;
    const { data, width: layerWidth } = await decodeRgba(colours!.png);
    expect([layerWidth, ...data.subarray(at, at + 4)]).toEqual([width, 0xc0, 0x40, 0x20, 255]);
    const merged = await decodeRgba(image.merged);
    expect([...merged.data.subarray(at, at + 4)]).toEqual([0xc0, 0x40, 0x20, 255]);
    // One layer in its colours has the ink's own alpha.
    const coloured = readOpenRaster(await buildOpenRaster(page({ full, holds, lines: 'coloured' }), ports));
    const lines = await decodeRgba((coloured.children[0] as OraLayer).png);
    expect(lines.data.filter((_, k) => k % 4 === 3)).toEqual(new Uint8Array(inkAlpha));
    expect((await decodeRgba(coloured.merged)).data).toEqual(merged.data);
  });

  test('says by how much the page was straightened', async () => {
    const turned = { ...survey, slopePpm: 13_963 };
    const image = readOpenRaster(await buildOpenRaster(page({ survey: turned }), ports));
    expect(image.children[0]!.name).toBe('Line art (straightened by 0.80 degrees)');
  });

  test('has one layer for a part that shows two scenes, each panel in the colours of its own', async () => {
    const night = (rgb: number, further: number) => ({ rgb, furtherRgb: [further], empty: false });
    const shown = page({
      partOfRegion: ['coat', 'coat'],
      sceneOfRegion: Int32Array.of(0, 1),
      groups: [{ name: 'Ana', parts: [{ id: 'coat', name: 'Coat', ...night(0xc81e28, 0x203060) }] }],
    });
    const image = readOpenRaster(await buildOpenRaster(shown, ports));
    const [coat, ...others] = layersOf([image.children[1]!]);
    expect(others).toEqual([]);
    const { data, width } = await decodeRgba(coat!.png);
    const colourAt = (x: number, y: number): number[] => {
      const at = ((y - coat!.y) * width + x - coat!.x) * 4;
      return [...data.subarray(at, at + 4)];
    };
    expect(colourAt(15, 20)).toEqual([0xc8, 0x1e, 0x28, 255]);
    expect(colourAt(45, 20)).toEqual([0x20, 0x30, 0x60, 255]);
  });

  test('has flats that are fully opaque and exactly of a colour, or nothing, in cropped layers that do not overlap', async () => {
    const image = readOpenRaster(await buildOpenRaster(page(), ports));
    const owner = new Uint8Array(60 * 40);
    for (const layer of layersOf([image.children[1]!])) {
      const { data, width } = await decodeRgba(layer.png);
      expect(width).toBeLessThan(60);
      for (let i = 0; i < data.length; i += 4) {
        if (data[i + 3] === 0) continue;
        expect(data[i + 3]).toBe(255);
        expect([
          [0xc8, 0x1e, 0x28],
          [0x3c, 0x78, 0xd2],
        ]).toContainEqual([...data.subarray(i, i + 3)]);
        const at = (layer.y + Math.floor(i / 4 / width)) * 60 + layer.x + ((i / 4) % width);
        expect(owner[at]).toBe(0);
        owner[at] = 1;
      }
    }
    // To the middle: nothing is left uncoloured on a page whose regions all have parts.
    expect(owner.every((value) => value === 1)).toBe(true);
  });

  test.each(['part', 'single'] as const)('merges by its own modes to exactly its merged image (%s)', async (split) => {
    for (const trap of [middleTrap(2), uniformTrap(2, { rule: 'depth', depthPx: 1 })]) {
      const image = readOpenRaster(
        await buildOpenRaster(page({ split, trap, partOfRegion: ['coat', split === 'part' ? null : 'no'] }), ports),
      );
      const merged = await decodeRgba(image.merged);
      expect(Buffer.compare(await mergeByModes(layersOf(image.children), 60, 40), merged.data)).toBe(0);
    }
  });

  test('begins with its stored mimetype, and is the same bytes each time', async () => {
    const [one, two] = [await buildOpenRaster(page(), ports), await buildOpenRaster(page(), ports)];
    expect(Buffer.compare(one, two)).toBe(0);
    expect(Buffer.from(one.subarray(30, 54)).toString()).toBe('mimetypeimage/openraster');
    expect(one[8]).toBe(0);
  });

  test('says in every picture which resolution and colour space it has', async () => {
    const files = unzipSync(await buildOpenRaster(page(), ports));
    const pictures = Object.entries(files).filter(([name]) => name.endsWith('.png'));
    expect(pictures.length).toBe(6);
    for (const [, png] of pictures) {
      const text = Buffer.from(png).toString('latin1');
      expect(text.match(/sRGB/g)).toHaveLength(1);
      expect(decode(png).resolution).toEqual({ x: 11811, y: 11811, unit: 1 });
    }
  });

  test('says when its colours are scratch colours, and reports its progress upwards', async () => {
    const shares: number[] = [];
    const image = readOpenRaster(
      await buildOpenRaster(page({ scratch: true }), { encodeRgba, onProgress: (share) => shares.push(share) }),
    );
    expect(image.children[1]!.name).toBe('Flats (scratch colours)');
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares.at(-1)).toBe(1);
  });

  test('is refused by the reader when it is something else', async () => {
    expect(() => readOpenRaster(zipSync({ mimetype: strToU8('image/other') }))).toThrow(/not an OpenRaster file/);
    expect(() => readOpenRaster(zipSync({ mimetype: strToU8('image/openraster') }))).toThrow(/lacks stack.xml/);
    const files = unzipSync(await buildOpenRaster(page(), ports));
    delete files['data/layer001.png'];
    expect(() => readOpenRaster(zipSync(files))).toThrow(/has no picture at data\/layer001.png/);
  });
});

describe('flats as one PNG', () => {
  test('have a palette of exactly the colours used, and nothing', async () => {
    const png = decode(await flatsPng());
    expect(png.palette).toEqual([
      [0, 0, 0, 0],
      [0xc8, 0x1e, 0x28, 255],
      [0x3c, 0x78, 0xd2, 255],
    ]);
    expect(new Set(png.data)).toEqual(new Set([1, 2]));
  });

  test('are RGBA once there are more than 255 colours', async () => {
    const [width, height] = [700, 4];
    const data = new Uint8Array(width * height).fill(255);
    for (let y = 0; y < height; y++) for (let x = 1; x < width; x += 2) data[y * width + x] = 0;
    const many = surveyPage({ width, height, data }, { ...NO_GAPS_PREP, crumbLimitPx2: 0 });
    const parts = Array.from({ length: many.regions.count }, (_, k) => ({
      id: `p${k}`,
      name: `P ${k}`,
      rgb: k * 37,
      empty: false,
    }));
    const png = await flatsPng({
      survey: many,
      groups: [{ name: 'All', parts }],
      partOfRegion: parts.map(({ id }) => id),
    });
    expect(decode(png).palette).toBeUndefined();
    const { data: pixels } = await decodeRgba(png);
    expect([...pixels.subarray(8 * 300, 8 * 300 + 4)]).toEqual([
      (300 * 37) >> 16,
      ((300 * 37) >> 8) & 255,
      (300 * 37) & 255,
      255,
    ]);
  });
});

describe('PNG facts', () => {
  test('take the place of what was there, and leave the picture alone', async () => {
    const rgba = Uint8Array.from({ length: 64 }, (_, k) => k * 3);
    const once = setPngFacts(await encodeRgba(rgba, 4, 4), { dpi: 600 });
    const twice = setPngFacts(once, { dpi: 72 });
    expect(decode(twice).resolution).toEqual({ x: 2835, y: 2835, unit: 1 });
    expect(decode(setPngFacts(twice, { dpi: null })).resolution).toBeUndefined();
    expect([...(await decodeRgba(twice)).data]).toEqual([...rgba]);
  });

  test('need a PNG', () => {
    expect(() => setPngFacts(new Uint8Array(40), { dpi: 300 })).toThrow(/not a PNG/);
  });
});

describe('cast sheet files', () => {
  const { records } = applyEdits(new Map(), [
    editCastScene({ id: 'd', name: 'Day', order: 0 }),
    editCastScene({ id: 'n', name: 'Night', order: 1 }),
    editGroup({ id: 'g', name: 'Ana', order: 0 }),
    editPart({ id: 'a', groupId: 'g', name: 'Hat {1.5}', order: 0, slot: '1', empty: false }),
    editPart({ id: 'b', groupId: 'g', name: '=SUM(A1), "b"', order: 1, slot: null, empty: false }),
    editPart({ id: 'e', groupId: 'g', name: 'Leave empty', order: 2, slot: null, empty: true }),
    editColour('d', 'a', '#102030'),
    editColour('n', 'a', '#000010'),
  ]);
  const sheet = readCastSheet(records);

  test('as design tokens hold every scene, group and part with a colour', () => {
    const tokens = JSON.parse(castToTokens(sheet)) as Record<
      string,
      Record<string, Record<string, { $type: string; $value: string }>>
    >;
    expect(Object.keys(tokens)).toEqual(['Day', 'Night']);
    expect(tokens.Night!.Ana!['Hat  1 5']).toMatchObject({ $type: 'color', $value: '#000010' });
    expect(Object.keys(tokens.Day!.Ana!)).toHaveLength(2);
  });

  test('as CSV quote what must be quoted and cannot become formulas', () => {
    expect(castToCsv(sheet).split('\n').slice(0, 4)).toEqual([
      'scene,group,part,key,colour,notes',
      'Day,Ana,Hat {1.5},1,#102030,',
      'Day,Ana,"\'=SUM(A1), ""b""",,#9a9a9a,',
      'Day,Ana,Leave empty,,,',
    ]);
  });

  test('come back as they were written, from CSV and from tokens', () => {
    const fromCsv = readCastFile(castToCsv(sheet));
    expect(fromCsv.map(({ scene, part, slot, colour }) => [scene, part, slot, colour]).slice(0, 3)).toEqual([
      ['Day', 'Hat {1.5}', '1', '#102030'],
      ['Day', '=SUM(A1), "b"', null, '#9a9a9a'],
      ['Day', 'Leave empty', null, null],
    ]);
    expect(readCastFile(castToTokens(sheet)).map(({ scene, group, colour }) => [scene, group, colour])[0]).toEqual([
      'Day',
      'Ana',
      '#102030',
    ]);
  });

  test('that are something else say what is missing', () => {
    expect(() => readCastFile('name;colour\nHat;#fff')).toThrow('must name the columns');
    expect(() => readCastFile('{"Day": ')).toThrow('is no JSON');
  });

  test('as PDF have a page for each scene, whatever is written on it', async () => {
    const bytes = await castToPdf(sheet, 'Kapitel 七');
    expect(new TextDecoder().decode(bytes.subarray(0, 5))).toBe('%PDF-');
    expect((await PDFDocument.load(bytes)).getPageCount()).toBe(2);
  });
});
