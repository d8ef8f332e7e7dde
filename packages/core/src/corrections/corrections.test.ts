import { describe, expect, test } from '@jest/globals';
import { buildPyramid } from '../compose/buildPyramid.ts';
import { compose } from '../compose/compose.ts';
import { paintOfRegions } from '../compose/paintOfRegions.ts';
import { resolvePage } from '../fills/resolvePage.ts';
import { type CorrectionTile, TILE_AREA, TILE_PX, packTile, unpackTile } from '../model/CorrectionTile.ts';
import { readPageDocument } from '../page/readPageDocument.ts';
import { checkPageEdit } from '../page/checkPageEdit.ts';
import { editTile } from '../page/pageEdits.ts';
import { DEFAULT_PREP, NO_GAPS_PREP, type PageDocument } from '../model/PageDocument.ts';
import { applyEdits } from '../page/records.ts';
import type { Records } from '../model/records.ts';
import { straightenDocument } from '../page/straightenDocument.ts';
import { middleTrap } from '../trap/RegionTrap.ts';
import { compileTrap, NO_TRAP_INK } from '../trap/TrapTable.ts';
import { surveyPage } from '../survey/surveyPage.ts';
import { seeded, strokes } from '../tests/textGrid.ts';
import { renderParts } from '../trap/renderParts.ts';
import { correctionAt, coveredRegions, paintTiles, readCorrections, regionUnder } from './Corrections.ts';
import { StrokeDraft, type StrokeRule } from './StrokeDraft.ts';
import { visitStroke } from './visitStroke.ts';

const same = (part: string): string => part;
const size = { width: 150, height: 110 };

function covered(from: [number, number], to: [number, number], sizePx: number): Set<string> {
  const pixels = new Set<string>();
  visitStroke(from, to, sizePx, size.width, size.height, (x, y) => {
    const key = `${x},${y}`;
    if (pixels.has(key)) throw new Error(`${key} was visited twice`);
    pixels.add(key);
  });
  return pixels;
}

/** Draws on a page's records and gives the new ones. */
function draw(records: Records, way: readonly [number, number][], rule: Partial<StrokeRule> = {}): Records {
  const before = readCorrections(size.width, readPageDocument(records).tiles, same);
  const draft = new StrokeDraft(before, size, { part: 'coat', sizePx: 7, allows: () => true, ...rule });
  for (const point of way) draft.lineTo(point);
  const edits = draft.edits();
  edits.forEach(checkPageEdit);
  return applyEdits(records, edits).records;
}
const partAt = (records: Records, x: number, y: number): string | null =>
  correctionAt(readCorrections(size.width, readPageDocument(records).tiles, same), x, y);

describe('a pen', () => {
  test.each([1, 2, 3, 4, 7, 24])('of %i px is exactly as wide as it says, in both directions', (sizePx) => {
    const dot = covered([70, 50], [70, 50], sizePx);
    const xs = [...dot].map((key) => Number(key.split(',')[0]));
    const ys = [...dot].map((key) => Number(key.split(',')[1]));
    expect(Math.max(...xs) - Math.min(...xs) + 1).toBe(sizePx);
    expect(Math.max(...ys) - Math.min(...ys) + 1).toBe(sizePx);
  });

  test('of one pixel leaves no gap in any direction', () => {
    const random = seeded(4);
    for (let k = 0; k < 40; k++) {
      const end = (): [number, number] => [Math.floor(random() * 150), Math.floor(random() * 110)];
      const [from, to] = [end(), end()];
      const line = covered(from, to, 1);
      // Flood along eight neighbours from one end to the other.
      const reached = [from];
      const seen = new Set([from.join()]);
      for (const [x, y] of reached) {
        for (let n = 0; n < 9; n++) {
          const next: [number, number] = [x + (n % 3) - 1, y + Math.floor(n / 3) - 1];
          if (!line.has(next.join()) || seen.has(next.join())) continue;
          seen.add(next.join());
          reached.push(next);
        }
      }
      expect(seen.has(to.join())).toBe(true);
    }
  });

  test('stays on the page', () => {
    for (const key of covered([-5, 3], [160, 120], 9)) {
      const [x, y] = key.split(',').map(Number) as [number, number];
      expect(x >= 0 && y >= 0 && x < size.width && y < size.height).toBe(true);
    }
  });
});

describe('a square of painted pixels', () => {
  test('comes back from its runs as it was', () => {
    const random = seeded(9);
    const values = Uint16Array.from({ length: TILE_AREA }, () => Math.floor(random() * 4));
    const packed = packTile(values, (value) => ['coat', 'hair', 'skin'][value - 1]!)!;
    const back = new Uint16Array(TILE_AREA);
    unpackTile(packed, (part) => ['coat', 'hair', 'skin'].indexOf(part) + 1, back);
    expect([...back]).toEqual([...values]);
    expect(() => checkPageEdit(editTile('0,0', packed))).not.toThrow();
  });

  test('is none where nothing is painted, and holds a part once however many values stand for it', () => {
    expect(packTile(new Uint16Array(TILE_AREA), same as never)).toBeNull();
    const values = new Uint16Array(TILE_AREA).fill(1).fill(2, 100);
    expect(packTile(values, () => 'coat')).toEqual({ parts: ['coat'], runs: [1, TILE_AREA] });
  });

  test.each([
    [{ parts: ['coat'], runs: [1, 5] }, /must cover 4096 pixels/],
    [{ parts: ['coat'], runs: [2, TILE_AREA] }, /runs of parts that it names/],
    [{ parts: ['coat'], runs: [1] }, /pairs of numbers/],
    [{ parts: [], runs: [0, TILE_AREA] }, /1 to 500 parts/],
    [{ parts: ['a b'], runs: [1, TILE_AREA] }, /id of a part/],
  ])('is refused when it breaks a rule (%#)', (tile, words) => {
    expect(() => checkPageEdit(editTile('0,0', tile as CorrectionTile))).toThrow(words);
  });
});

describe('strokes', () => {
  test('paint over each other and are wiped out again', () => {
    let records = draw(new Map(), [[20, 20], [120, 90]]); // prettier-ignore
    expect([partAt(records, 70, 55), partAt(records, 20, 90)]).toEqual(['coat', null]);
    const first = records;
    records = draw(records, [[70, 20], [70, 100]], { part: 'hair' }); // prettier-ignore
    expect([partAt(records, 70, 55), partAt(records, 30, 27)]).toEqual(['hair', 'coat']);
    records = draw(records, [[0, 55], [149, 55]], { part: null, sizePx: 200 }); // prettier-ignore
    expect(records.size).toBe(0);
    // Painting what is painted already is no edit.
    expect(draw(first, [[20, 20], [120, 90]])).toEqual(first); // prettier-ignore
  });

  test('stay where they are allowed', () => {
    const records = draw(new Map(), [[10, 50], [140, 50]], { allows: (x) => x < 80 }); // prettier-ignore
    expect([partAt(records, 79, 50), partAt(records, 80, 50)]).toEqual(['coat', null]);
  });

  test('turn with the page, whole', () => {
    const records = draw(new Map(), [[30, 50], [120, 60]], { sizePx: 20 }); // prettier-ignore
    const page: PageDocument = { ...readPageDocument(records), prep: DEFAULT_PREP };
    const turned = applyEdits(records, straightenDocument(page, 30_000, size.width, size.height)).records;
    const area = (of: Records): number => {
      let sum = 0;
      for (let y = 0; y < size.height; y++) for (let x = 0; x < size.width; x++) if (partAt(of, x, y) !== null) sum++;
      return sum;
    };
    expect(Math.abs(area(turned) - area(records))).toBeLessThan(0.03 * area(records));
    expect(partAt(turned, 75, 55)).toBe('coat');
  });
});

describe('what is painted', () => {
  // Two rooms side by side.
  const survey = surveyPage(
    strokes(size.width, size.height, 6, [
      [20, 20, 130, 20],
      [130, 20, 130, 90],
      [130, 90, 20, 90],
      [20, 90, 20, 20],
      [75, 20, 75, 90],
    ]),
    NO_GAPS_PREP,
  );
  const room = regionUnder(survey, 55 * size.width + 50);
  const inRoom = (x: number, y: number): boolean => regionUnder(survey, y * size.width + x) === room;

  test('of a region all over makes it done, and its colour runs under the ink; of half of it does not', () => {
    const half = draw(new Map(), [[30, 30], [68, 30]], { sizePx: 30, allows: inRoom }); // prettier-ignore
    const whole = draw(half, [[50, 55]], { sizePx: 150, part: 'hair', allows: inRoom }); // prettier-ignore
    const read = (records: Records) => readCorrections(size.width, readPageDocument(records).tiles, same);
    expect(coveredRegions(survey, read(half)).size).toBe(0);
    expect([...coveredRegions(survey, read(whole))]).toEqual([[room, 'hair']]);
    const resolved = resolvePage(survey, new Map(), read(whole), same);
    expect(resolved.filledCount).toBe(1);
    expect(resolved.partOfRegion[room]).toBe('hair');
    // A fill says more.
    const filled = resolvePage(survey, new Map([['50,55', { part: 'coat', anchors: [[50, 55]], stamp: 0 }]]), read(whole), same); // prettier-ignore
    expect(filled.partOfRegion[room]).toBe('coat');
  });

  test('shows at every zoom, under the ink, and is what is handed off', () => {
    const records = draw(new Map(), [[40, 55], [110, 55]], { sizePx: 9 }); // prettier-ignore
    const corrections = readCorrections(size.width, readPageDocument(records).tiles, same);
    const none = new Int32Array(survey.regions.count).fill(-1);
    const RED = 0xff0000ff;
    const trap = middleTrap(survey.regions.count);
    const paint = {
      ...paintOfRegions(survey, none, new Uint32Array(0), compileTrap(survey, trap, NO_TRAP_INK)),
      corrections: paintTiles(survey, corrections, () => RED),
    };
    const out = new Uint32Array(150 * 110);
    compose([survey], paint, { x: 0, y: 0, scale: 1, ...size }, out, { showInk: false });
    expect([out[55 * 150 + 75], out[55 * 150 + 30], out[45 * 150 + 75]]).toEqual([RED, 0xffffffff, 0xffffffff]);
    const small = new Uint32Array(38 * 28);
    const levels = buildPyramid(survey, undefined, 20);
    compose(levels, paint, { x: 0, y: 0, scale: 0.25, width: 38, height: 28 }, small, { showInk: false });
    expect([small[13 * 38 + 18], small[20 * 38 + 18]]).toEqual([RED, 0xffffffff]);
    compose([survey], paint, { x: 0, y: 0, scale: 1, ...size }, out, { showFlats: false, showInk: false });
    expect(out[55 * 150 + 75]).toBe(0xffffffff);

    const numbers = (value: number) => paintTiles(survey, corrections, () => value);
    const raster = renderParts(survey, none, 1, trap, NO_TRAP_INK, numbers(2));
    expect([raster.data[55 * 150 + 75], raster.data[45 * 150 + 75]]).toEqual([1, 0]);
    expect(raster.areaPx[0]).toBe([...corrections.tiles.values()].flatMap((t) => [...t]).filter((v) => v > 0).length);
    // Left empty: a hole in what is filled.
    const hole = renderParts(survey, none.map(() => 0), 1, trap, NO_TRAP_INK, numbers(1)); // prettier-ignore
    expect([hole.data[55 * 150 + 75], hole.data[45 * 150 + 75]]).toEqual([0, 1]);
  });

  test('with a part that is no more counts for nothing, and squares beyond the page are left out', () => {
    const records = draw(new Map(), [[40, 55]]);
    const { tiles } = readPageDocument(records);
    expect(
      correctionAt(
        readCorrections(size.width, tiles, () => null),
        40,
        55,
      ),
    ).toBeNull();
    const beyond = new Map([[`${Math.ceil(size.width / TILE_PX)},0`, [...tiles.values()][0]!]]);
    expect(readCorrections(size.width, beyond, same).tiles.size).toBe(0);
  });
});
