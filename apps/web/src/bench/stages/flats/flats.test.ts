/** @jest-environment node */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { regionAt, type Mark } from '@jumble/core';
import { openTestBench, type TestBench } from '../../tests/testBench.ts';
import { fakeGuideReading, type FakeGuideReading } from '../../tests/fakeGuideReading.ts';
import { hut } from '../../tests/testPages.ts';
import { previewGuide, countProposals, guideFits } from './colourGuide.ts';
import { promisesSettled } from '../../tests/promisesSettled.ts';
import { assignPart } from '../../page/parts.ts';
import { refresh } from '../../page/show.ts';
import { dropGuide, followGuide, layGuide, loadGuide, nudgeGuide, takeGuide } from './colourGuide.ts';
import {
  assignToNeighbour,
  confirmAll,
  enclosed,
  keepIsland,
  lookForIslands,
  setWay,
  setWayAt,
  setWayDraft,
} from './flats.ts';
import { addMark, eraseMarksOf, markAt, marksToFills, previewSpread, recolourMark, spreadMarks } from './marks.ts';
import { setFlats } from './setFlats.ts';
import { makeUnknownParts } from './unknownColours.ts';

let bench: TestBench;
let key: FakeGuideReading;
beforeEach(async () => {
  bench = await openTestBench(hut(12), { stage: 'flats', partId: 'coat' });
  key = fakeGuideReading(bench);
});
const inside = (): number => regionAt(bench.state.survey!, 120, 113)!;
const outside = (): number => regionAt(bench.state.survey!, 10, 10)!;
const mark = (part: string, ...points: [number, number][]): Mark => ({ part, points });

describe('ways', () => {
  test('are chosen by their place; a place without one means nothing', () => {
    expect(setWayAt(bench, 3)).toBe(true);
    expect(bench.state.flats.way).toBe('marks');
    expect(setWayAt(bench, 9)).toBe(false);
    expect(bench.state.flats.way).toBe('marks');
  });
});

describe('a loop', () => {
  const loop: [number, number][] = [
    [30, 30],
    [220, 30],
    [220, 200],
    [30, 200],
  ];
  test('takes what lies in it', () => {
    expect(enclosed(bench.state, loop)).toEqual([inside()]);
  });
  test('leaves regions that have a part when it is told to', () => {
    assignPart(bench, new Set([inside()]), 'hair');
    setFlats(bench, { onlyOpen: true });
    expect(enclosed(bench.state, loop)).toEqual([]);
  });
  test('is drawn over the page while it lasts', () => {
    setWayDraft(bench, loop);
    expect(bench.ways.at(-1)).toEqual({ points: loop, closed: true });
    setWayDraft(bench, []);
    expect(bench.ways.at(-1)).toBeNull();
  });
});

describe('marks', () => {
  test('are steps of their own, drawn in the colour of their part, and wait to be spread', () => {
    setWay(bench, 'marks');
    addMark(bench, mark('coat', [60, 60], [150, 150]));
    expect(bench.pushed.at(-1)!.label).toBe('Mark Coat');
    expect(bench.state.flats.unspread).toBe(true);
    expect(bench.overlays.at(-1)?.marks).toEqual([{ points: [[60, 60], [150, 150]], colour: '#336699', empty: false }]); // prettier-ignore
  });

  test('show what spreading would come to, and do nothing yet', async () => {
    addMark(bench, mark('coat', [60, 60], [150, 150]));
    const steps = bench.pushed.length;
    // Asked for while it is worked out: the latest counts, nothing is done twice at once.
    await Promise.all([previewSpread(bench), previewSpread(bench), previewSpread(bench)]);
    expect(bench.previewed).toContainEqual([inside(), 'coat']);
    expect(bench.pushed.length).toBe(steps);
    expect(bench.state.resolved!.partOfRegion[inside()]).toBeNull();
  });

  test('spread as one step, and turn into plain fills', async () => {
    addMark(bench, mark('coat', [60, 60], [150, 150]));
    addMark(bench, mark('hair', [10, 10], [10, 200]));
    await spreadMarks(bench);
    expect(bench.pushed.at(-1)!.label).toBe('Spread 2 marks');
    expect(bench.state.resolved!.partOfRegion[inside()]).toBe('coat');
    expect(bench.state.resolved!.partOfRegion[outside()]).toBe('hair');
    expect(bench.state.flats).toMatchObject({ unspread: false, spreading: false });

    marksToFills(bench);
    expect(bench.state.document!.marks.size).toBe(0);
    expect([...bench.state.document!.fills.values()].every((fill) => fill.by === undefined)).toBe(true);
    expect(bench.state.resolved!.partOfRegion[inside()]).toBe('coat');
  });

  test('are found, erased, recoloured; those of one part all at once', () => {
    addMark(bench, mark('coat', [60, 60], [150, 60]));
    addMark(bench, mark('hair', [60, 100], [150, 100]));
    addMark(bench, mark('hair', [60, 140], [150, 140]));
    const first = markAt(bench.state, [100, 63], 8)!;
    expect(bench.state.document!.marks.get(first)!.part).toBe('coat');
    expect(markAt(bench.state, [100, 80], 8)).toBeNull();
    bench.store.setState({ partId: 'hair' });
    recolourMark(bench, first);
    expect(bench.state.document!.marks.get(first)!.part).toBe('hair');
    eraseMarksOf(bench, 'hair');
    expect(bench.pushed.at(-1)!.label).toBe('Erase 3 marks');
    expect(bench.state.document!.marks.size).toBe(0);
  });

  test('that fail to spread say so and can be spread again', async () => {
    addMark(bench, mark('coat', [60, 60], [150, 150]));
    const { spreadMarks: spread } = bench.engine;
    bench.engine.spreadMarks = () => Promise.reject(new Error('no memory'));
    await spreadMarks(bench);
    expect(bench.failures).toEqual(['no memory']);
    expect(bench.state.flats.spreading).toBe(false);
    bench.engine.spreadMarks = spread;
    await spreadMarks(bench);
    expect(bench.state.resolved!.partOfRegion[inside()]).toBe('coat');
  });
});

describe('a key', () => {
  test('proposes for regions that are not decided: sure ones are taken, doubtful ones are to be looked at', async () => {
    assignPart(bench, new Set([outside()]), 'hair');
    key.proposals = [
      { region: outside(), part: 'coat', confidence: 0.99, rgb: 0, distance: 1 },
      { region: inside(), part: 'coat', confidence: 0.6, rgb: 0, distance: 4 },
    ];
    await layGuide(bench, 'key.png', { width: 1, height: 1, rgb: new Uint8Array(3) });
    expect(countProposals(bench.state.flats.guide!, bench.state.resolved)).toEqual({ sure: 0, doubtful: 1 });
    await takeGuide(bench);
    expect(bench.state.resolved!.partOfRegion[outside()]).toBe('hair');
    expect(bench.state.resolved!.partOfRegion[inside()]).toBe('coat');
    expect(bench.state.resolved!.looks.get(inside())).toBe('key');
    // Looked at and agreed with, it is a fill like any other.
    assignPart(bench, new Set([inside()]), 'coat');
    expect(bench.state.resolved!.looks.size).toBe(0);
  });

  test('belongs to a page that explains it, and much better than turned over', () => {
    const place = { scaleX: 1, scaleY: 1, shiftX: 0, shiftY: 0 };
    expect(guideFits({ place, explained: 0.9, elsewhere: 0.6 })).toBe(true);
    expect(guideFits({ place, explained: 0.66, elsewhere: 0.62 })).toBe(false);
    expect(guideFits({ place, explained: 0.4, elsewhere: 0.1 })).toBe(false);
  });
});

test('agreeing with all leaves nothing to look at, as one step', async () => {
  key.proposals = [
    { region: inside(), part: 'coat', confidence: 0.6, rgb: 0, distance: 4 },
    { region: outside(), part: 'hair', confidence: 0.5, rgb: 0, distance: 4 },
  ];
  await layGuide(bench, 'key.png', { width: 1, height: 1, rgb: new Uint8Array(3) });
  await takeGuide(bench);
  expect(bench.state.resolved!.looks.size).toBe(2);
  bench.store.setState({ lookRegions: [...bench.state.resolved!.looks.keys()] });
  confirmAll(bench);
  expect(bench.pushed.at(-1)!.label).toBe('Confirm 2 parts');
  expect(bench.state.resolved!.looks.size).toBe(0);
  expect(bench.state.resolved!.partOfRegion[inside()]).toBe('coat');
});

test('an island is listed until somebody keeps it', async () => {
  assignPart(bench, new Set([inside(), outside()]), 'coat');
  // The hut is too large an island for itself: what lies in the field counts as one when it is small against it.
  const found = await lookForIslands(bench);
  expect(bench.state.islands).toHaveLength(found);
  bench.set({ islands: [inside()] });
  keepIsland(bench, inside());
  expect(bench.state.islands).toEqual([]);
  expect([...bench.state.document!.seen].some((key) => key.startsWith('island/'))).toBe(true);
});

test('a region goes to the part it touches longest', async () => {
  assignPart(bench, new Set([outside()]), 'hair');
  bench.store.setState({ current: inside() });
  await assignToNeighbour(bench);
  expect(bench.state.resolved!.partOfRegion[inside()]).toBe('hair');
});

describe('two parts that meet in a region', () => {
  test('are agreed with: the one that shows stays', async () => {
    assignPart(bench, new Set([inside()]), 'coat');
    await bench.take([{ key: 'fill/60,60', value: { part: 'hair', anchors: [[60, 60]], stamp: 500 } }]);
    refresh(bench);
    expect(bench.state.resolved!.conflicts).toEqual([inside()]);
    bench.store.setState({ lookRegions: bench.state.resolved!.conflicts });
    confirmAll(bench);
    expect(bench.state.resolved!.conflicts).toEqual([]);
    expect(bench.state.resolved!.partOfRegion[inside()]).toBe('hair');
  });
});

describe('a key', () => {
  const file = new File([], 'key.png');

  test('is kept with the page, laid again when it is opened, and put away by undo', async () => {
    await loadGuide(bench, file);
    expect(bench.state.document!.guide).toEqual({ picture: 'kept-key.png', name: 'key.png' });
    expect(bench.state.flats.guide).toMatchObject({ name: 'key.png', picture: 'kept-key.png' });
    // As after a reload: the page knows, the bench does not yet.
    setFlats(bench, { guide: null, way: 'sweep' });
    await followGuide(bench);
    expect(bench.state.flats.guide).toBeNull();
    setWay(bench, 'key');
    await promisesSettled();
    expect(bench.state.flats.guide).toMatchObject({ name: 'key.png', picture: 'kept-key.png' });
    await bench.take([{ key: 'key', value: null }]);
    expect(bench.state.flats.guide).toBeNull();
  });

  describe('that is being read', () => {
    let go: () => void;
    const nowhere = { scaleX: 1, scaleY: 1, shiftX: 0, shiftY: 0 };
    beforeEach(async () => {
      key.held = new Promise((resolve) => (go = resolve));
    });

    test('shows how far, and can be put away meanwhile', async () => {
      const loading = loadGuide(bench, file);
      await promisesSettled();
      expect(bench.state.flats.guide).toMatchObject({ name: 'key.png', reading: null, share: 0.25 });
      dropGuide(bench);
      await loading;
      expect(bench.state.flats.guide).toBeNull();
      expect(bench.state.document!.guide).toBeNull();
      expect(bench.failures).toEqual([]);
    });

    test('shows what is known first on the page; asked for, it is taken once all is', async () => {
      const seen = { region: inside(), part: 'hair', confidence: 0.9, rgb: 0, distance: 1 };
      key.seen = [seen];
      key.proposals = [{ ...seen, part: 'coat' }];
      bench.store.setState({ stage: 'flats' });
      setWay(bench, 'key');
      const loading = loadGuide(bench, file);
      await promisesSettled();
      expect(bench.state.flats.guide).toMatchObject({ reading: { isWhole: false }, match: { explained: 0.9 } });
      bench.previewed.length = 0;
      previewGuide(bench);
      expect(bench.previewed).toEqual([[inside(), 'hair']]);
      const before = bench.pushed.length;
      await takeGuide(bench);
      expect(bench.pushed).toHaveLength(before);
      expect(bench.state.flats.guide!.takeOnceWhole).toBe(true);
      go();
      await loading;
      expect(bench.pushed.map(({ label }) => label)).toEqual(['Lay a key', 'Accept 1 part from the key']);
      expect(bench.state.flats.guide!.takeOnceWhole).toBe(false);
      expect(bench.state.resolved!.partOfRegion[inside()]).toBe('coat');
    });

    test('gives way to the place it is nudged to', async () => {
      const raster = { width: 1, height: 1, rgb: new Uint8Array(3) };
      key.held = null;
      await layGuide(bench, 'key.png', raster, nowhere, 'kept');
      key.held = new Promise((resolve) => (go = resolve));
      nudgeGuide(bench, 2, 0);
      await promisesSettled();
      expect(bench.state.flats.guide).toMatchObject({ reading: null, match: { place: { shiftX: -2 } } });
      nudgeGuide(bench, 3, 0);
      expect(bench.state.flats.guide!.match!.place.shiftX).toBe(-5);
      go();
      await promisesSettled();
      expect(bench.state.flats.guide).toMatchObject({ picture: 'kept', share: 1 });
      expect(bench.state.flats.guide!.reading).not.toBeNull();
      expect(bench.failures).toEqual([]);
    });
  });

  test('put away is kept no more; one that is gone is told', async () => {
    await loadGuide(bench, file);
    dropGuide(bench);
    expect(bench.state.document!.guide).toBeNull();
    await bench.take([{ key: 'key', value: { picture: 'gone', name: 'old.png' } }]);
    setWay(bench, 'key');
    await promisesSettled();
    expect(bench.failures).toEqual(['The key "old.png" is no longer there. Load it again.']);
  });

  test('with colours that no part has makes parts of all of them, in one step', async () => {
    bench.engine.readGuide = () =>
      Promise.resolve({
        match: { place: { scaleX: 1, scaleY: 1, shiftX: 0, shiftY: 0 }, explained: 0.9, elsewhere: 0.5 },
        reading: {
          proposals: [],
          unknown: [0xbcd6f0, 0x7a4a26, 0xbbd5f1].map((rgb, k) => ({ rgb, regions: [k] })),
          isWhole: true,
        },
        splits: [],
      });
    await layGuide(bench, 'page 2, key.png', { width: 1, height: 1, rgb: new Uint8Array(3) });
    makeUnknownParts(bench);
    expect(bench.castChanges.map(({ label }) => label)).toEqual(["Make 3 parts of the key's colours"]);
    const { cast } = bench.state;
    const group = cast!.groups.at(-1)!;
    expect(group.name).toBe('page 2, key');
    const made = cast!.parts.filter(({ groupId }) => groupId === group.id);
    expect(made.map(({ name }) => name)).toEqual(['Pale blue', 'Brown', 'Pale blue 2']);
    expect(made.map(({ id }) => cast!.colours.get('day')!.get(id))).toEqual(['#bcd6f0', '#7a4a26', '#bbd5f1']);
    // Each has a key of its own, and none that another part has.
    expect(new Set(cast!.parts.map(({ slot }) => slot)).size).toBe(cast!.parts.length);
    // The key is read again; once more is another group.
    await promisesSettled();
    makeUnknownParts(bench);
    expect(bench.state.cast!.groups.at(-1)!.name).toBe('page 2, key 2');
  });
});
