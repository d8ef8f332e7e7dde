import { describe, expect, test } from '@jest/globals';
import { paintOnTiles } from '../corrections/paintOnTiles.ts';
import { correctionAt, readCorrections } from '../corrections/Corrections.ts';
import type { CorrectionTile } from '../model/CorrectionTile.ts';
import { compareReturned, MOVED_TO_NONE } from './compareReturned.ts';
import { HALF, type CheckedFlats } from './FlatsColours.ts';

const [RED, BLUE, GOLD, PINK] = [0xff0000, 0x0000ff, 0xffcc00, 0xff88cc];
const rows = (...text: string[]): number[] => [...text.join('')].map(Number);
const sent = { width: 6, height: 3, data: Uint16Array.from(rows('111222', '111222', '111022')), rgb: [RED, BLUE] };
const flats = (data: number[], rgb: number[]): CheckedFlats => ({ width: 6, height: 3, data: Uint16Array.from(data), rgb }); // prettier-ignore

describe('flats that came back', () => {
  test('as they were say nothing', () => {
    const same = compareReturned(sent, flats([...sent.data], [RED, BLUE]));
    expect(same).toMatchObject({ recoloured: [], moved: [], unknownPx: 0 });
  });

  test('have a new colour where most pixels of a part do, and moved where another part is now', () => {
    // Red became gold, but for two pixels that are blue now; one pixel is pink, one blue one is gone.
    const changes = compareReturned(sent, flats(rows('111222', '122242', '111020'), [GOLD, BLUE, RED, PINK]));
    expect(changes.recoloured).toEqual([{ number: 0, to: GOLD, areaPx: 9 }]);
    expect(changes.moved).toEqual([
      { x: 1, y: 1, width: 2, height: 1, areaPx: 2, from: 0, to: 1 },
      { x: 5, y: 2, width: 1, height: 1, areaPx: 1, from: 1, to: null },
    ]);
    expect([changes.partNow[7], changes.partNow[17]]).toEqual([3, MOVED_TO_NONE]);
    expect(changes.unknownPx).toBe(1);
  });

  test('say nothing of what was changed on the page since they went out', () => {
    // Since then the page got red where blue was sent, and its red is gold now; what came back has one pixel more in pink.
    const asSent = flats(rows('112222', '111222', '111022'), [RED, BLUE]);
    const now = { ...sent, rgb: [GOLD, BLUE] };
    const back = flats(rows('112222', '113222', '111022'), [RED, BLUE, BLUE]);
    const changes = compareReturned(now, back, asSent);
    expect(changes).toMatchObject({ recoloured: [], moved: [{ x: 2, y: 1, areaPx: 1, from: 0, to: 1 }], unknownPx: 0 });
    // Without it, all of that would be the colourist's doing.
    expect(compareReturned(now, back).recoloured).toEqual([{ number: 0, to: RED, areaPx: 9 }]);
    expect(() => compareReturned(sent, back, { ...asSent, data: new Uint16Array(3) })).toThrow(/asSent/);
  });

  test('with soft edges say nothing there, and of another size are refused', () => {
    const soft = [...sent.data];
    soft[2] = HALF;
    expect(compareReturned(sent, flats(soft, [RED, BLUE])).moved).toEqual([]);
    expect(() => compareReturned(sent, { ...flats([], []), width: 5 })).toThrow(/5 x 3 px/);
  });
});

test('pixels are painted over what was painted before, square by square', () => {
  const first = paintOnTiles(130, 70, (x, y) => (x === 100 && y === 10 ? 'coat' : null), new Map());
  expect(first.map(({ key }) => key)).toEqual(['tile/1,0']);
  const tiles = new Map(first.map(({ key, value }) => [key.slice(5), value as unknown as CorrectionTile]));
  const second = paintOnTiles(130, 70, (x, y) => (y === 69 && x > 125 ? 'hair' : x === 101 && y === 10 ? 'hair' : null), tiles); // prettier-ignore
  for (const { key, value } of second) tiles.set(key.slice(5), value as unknown as CorrectionTile);
  const painted = readCorrections(130, tiles, (part) => part);
  expect([correctionAt(painted, 100, 10), correctionAt(painted, 101, 10), correctionAt(painted, 129, 69), correctionAt(painted, 0, 0)]).toEqual(['coat', 'hair', 'hair', null]); // prettier-ignore
});
