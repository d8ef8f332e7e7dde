/** @jest-environment node */
import { beforeEach, describe, expect, test } from '@jest/globals';
import {
  buildPyramid,
  DEFAULT_PREP,
  openSurvey,
  TILE_PX,
  uniformTrap,
  type RegionTrap,
  type Viewport,
  type WorkingPage,
} from '@jumble/core';
import { FakeScreen } from '../tests/FakeScreen.ts';
import { hut } from '../tests/testPages.ts';
import { EMPTY_OVERLAY, OPEN, type DrawRequest, type ViewOptions } from './messages.ts';

const VIEW: Viewport = { x: 0, y: 0, scale: 1, width: 120, height: 90 };
const OPTIONS: ViewOptions = { markMissing: true, showInk: true, showFlats: true, paper: 0xffffffff };
const COLOURS = [OPEN, 0xff112233, 0xff00ff00, 0, 0xff8800ff];
const OVERLAY = EMPTY_OVERLAY;

let open: WorkingPage;
let screen: FakeScreen;
let seq: number;
/** A message without its number. */
type Unnumbered<T> = T extends { seq: number } ? Omit<T, 'seq'> : T;
const tell = (request: Unnumbered<DrawRequest>): void => screen.take({ ...request, seq: ++seq } as DrawRequest);

const depthOf2 = (): RegionTrap => uniformTrap(open.survey.regions.count, { rule: 'depth', depthPx: 2 });

function openPage(): void {
  open = openSurvey(hut(12, true), DEFAULT_PREP);
  const levels = buildPyramid(open.survey, (bytes) => new ArrayBuffer(bytes));
  tell({ kind: 'page', survey: open.survey, levels, original: open.base.grey.data });
  tell({ kind: 'paint', colours: new Uint32Array(open.survey.regions.count).fill(OPEN), trap: depthOf2() });
  tell({ kind: 'view', viewport: VIEW, options: OPTIONS });
}

beforeEach(() => {
  seq = 0;
  screen = new FakeScreen(VIEW.width, VIEW.height);
  openPage();
  screen.frame();
});

describe('the drawing', () => {
  test('puts the whole page on the canvas first, and says when the screen has it', () => {
    expect(screen.putPx).toBe(VIEW.width * VIEW.height);
    expect(new Set(screen.words).size).toBeGreaterThan(2);
    screen.frame();
    expect(screen.answers).toEqual([{ kind: 'presented', seq: 3, at: expect.any(Number) }]);
  });

  test('draws only what changed', () => {
    // The region in the hut lies in the view's lower right corner.
    const inside = open.survey.regions.ofCell[open.survey.field[80 * 260 + 80]!]!;
    const before = screen.words.slice();
    tell({ kind: 'patch', regions: Int32Array.of(inside), colours: Uint32Array.of(0xff00ff00) });
    screen.frame();
    expect(screen.putPx).toBeLessThan(VIEW.width * VIEW.height);
    expect(screen.words[80 * VIEW.width + 80]).toBe(0xff00ff00);
    expect(screen.words[10 * VIEW.width + 10]).toBe(before[10 * VIEW.width + 10]);
  });

  test('keeps quiet when nothing is told, and before there are colours', () => {
    screen.frame();
    screen.frame();
    expect(screen.putPx).toBe(0);
    screen = new FakeScreen(VIEW.width, VIEW.height);
    tell({ kind: 'view', viewport: VIEW, options: OPTIONS });
    screen.frame();
    expect(screen.putPx).toBe(0);
    tell({ kind: 'crop', of: { region: 0 }, width: 4, height: 2 });
    expect(screen.answers).toEqual([{ kind: 'crop', pixels: new ArrayBuffer(32), width: 4, height: 2 }]);
  });

  test('draws what lies over the page anew without composing the page', () => {
    tell({ kind: 'overlay', overlay: OVERLAY });
    screen.frame();
    expect(screen.putPx).toBe(VIEW.width * VIEW.height);
    const before = screen.words.slice();
    tell({ kind: 'wayDraft', way: { points: [[20, 20], [30, 20]], closed: false } }); // prettier-ignore
    screen.frame();
    tell({ kind: 'wayDraft', way: { points: [[20, 20], [30, 20], [32, 24]], closed: false } }); // prettier-ignore
    screen.frame();
    // It grew at its end: only that was put again.
    expect(screen.putPx).toBeGreaterThan(0);
    expect(screen.putPx).toBeLessThan(1000);
    expect(screen.words).toEqual(before);
  });

  test('makes small pictures of regions and of places', () => {
    const colour = 0xff112233;
    const outside = open.survey.regions.ofCell[open.survey.field[10 * 260 + 10]!]!;
    tell({ kind: 'patch', regions: Int32Array.of(outside), colours: Uint32Array.of(colour) });
    tell({ kind: 'crop', of: { region: outside }, width: 60, height: 40 });
    tell({ kind: 'crop', of: { x: 10, y: 10, span: 6 }, width: 6, height: 6 });
    const crops = screen.answers.flatMap((one) => (one.kind === 'crop' ? [new Uint32Array(one.pixels)] : []));
    expect(crops.map((words) => words.length)).toEqual([2400, 36]);
    expect(crops[0]).toContain(colour);
    // The region that is meant is outlined.
    expect(crops[0]).toContain(0xff2d4fd0);
    expect(new Set(crops[1])).toEqual(new Set([colour]));
  });
});

/** Numbers that look random and are the same in every run (Park and Miller 1988). */
function numbers(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (state * 48271) % 2147483647;
    return state % below;
  };
}

test.each([3, 17, 91, 204, 555])('what is drawn bit by bit is what would be drawn at once (seed %i)', (seed) => {
  const next = numbers(seed);
  let colours = new Uint32Array(open.survey.regions.count).fill(OPEN);
  let view = VIEW;
  let point = { hovered: -1, preview: null as number | null, current: -1 };
  let raster: { tilesPerRow: number; tiles: Map<number, Uint32Array> } | null = null;
  let drawn: string[] = [];
  for (let turn = 0; turn < 40; turn++) {
    const count = open.survey.regions.count;
    const colour = COLOURS[next(COLOURS.length)]!;
    switch (next(7)) {
      case 0: {
        const region = next(count);
        colours[region] = colour;
        tell({ kind: 'patch', regions: Int32Array.of(region), colours: Uint32Array.of(colour) });
        break;
      }
      case 1:
        point = { hovered: next(count), preview: next(2) === 0 ? null : 0xff445566, current: next(count) };
        tell({ kind: 'point', ...point });
        break;
      case 2:
        view = { ...view, x: view.x + next(41) - 20, y: view.y + next(41) - 20 };
        tell({ kind: 'view', viewport: view, options: OPTIONS });
        break;
      case 3:
        colours = colours.map((word, k) => (k === next(count) ? colour : word));
        tell({ kind: 'paint', colours, trap: depthOf2() });
        break;
      case 4: {
        const tilesPerRow = Math.ceil(open.survey.width / TILE_PX);
        const tile = new Uint32Array(TILE_PX * TILE_PX).map((_, k) => (k % 7 === 0 ? 0xff123456 : 0));
        raster ??= { tilesPerRow, tiles: new Map() };
        raster.tiles.set(next(4), tile);
        tell({ kind: 'patchCorrections', raster: { tilesPerRow, tiles: raster.tiles } });
        break;
      }
      case 5: {
        drawn = drawn.length === 0 ? [`${60 + next(40)},45-${60 + next(40)},180`] : [];
        const changed = open.cut(drawn, open.survey.maxGapPx, new Map());
        point = { hovered: -1, preview: null, current: -1 };
        tell({ kind: 'division', survey: open.survey, changed });
        colours = new Uint32Array(open.survey.regions.count).map((_, k) => COLOURS[k % COLOURS.length]!);
        tell({ kind: 'paint', colours, trap: depthOf2() });
        break;
      }
      default:
        tell({ kind: 'overlay', overlay: next(2) === 0 ? null : OVERLAY });
    }
    screen.frame();
  }
  const bitByBit = screen.words.slice();

  screen = new FakeScreen(VIEW.width, VIEW.height);
  const levels = buildPyramid(open.survey, (bytes) => new ArrayBuffer(bytes));
  tell({ kind: 'page', survey: open.survey, levels, original: open.base.grey.data });
  tell({ kind: 'paint', colours, trap: depthOf2() });
  tell({ kind: 'corrections', raster });
  tell({ kind: 'point', ...point });
  tell({ kind: 'view', viewport: view, options: OPTIONS });
  screen.frame();
  expect(bitByBit).toEqual(screen.words);
});
