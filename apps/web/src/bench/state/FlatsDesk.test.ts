import { beforeEach, describe, expect, test } from '@jest/globals';
import { regionAt, type Mark } from '@jumble/core';
import { FakeBench, hut } from '../tests/fakeBench.ts';
import { countProposals, keyFits } from './KeyDesk.ts';
import { promisesSettled } from '../tests/promisesSettled.ts';

let bench: FakeBench;
beforeEach(() => {
  bench = new FakeBench().open(hut(12));
  bench.store.setState({ stage: 'flats', partId: 'coat' });
});
const inside = (): number => regionAt(bench.state.survey!, 120, 113)!;
const outside = (): number => regionAt(bench.state.survey!, 10, 10)!;
const mark = (part: string, ...points: [number, number][]): Mark => ({ part, points });

describe('ways', () => {
  test('are chosen by their place; a place without one means nothing', () => {
    expect(bench.flats.setWayAt(3)).toBe(true);
    expect(bench.state.flats.way).toBe('marks');
    expect(bench.flats.setWayAt(9)).toBe(false);
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
    expect(bench.flats.enclosed(loop)).toEqual([inside()]);
  });
  test('leaves regions that have a part when it is told to', () => {
    bench.give(new Set([inside()]), 'hair');
    bench.showFlats({ onlyOpen: true });
    expect(bench.flats.enclosed(loop)).toEqual([]);
  });
  test('is drawn over the page while it lasts', () => {
    bench.flats.setWayDraft(loop);
    expect(bench.ways.at(-1)).toEqual({ points: loop, closed: true });
    bench.flats.setWayDraft([]);
    expect(bench.ways.at(-1)).toBeNull();
  });
});

describe('marks', () => {
  test('are steps of their own, drawn in the colour of their part, and wait to be spread', () => {
    bench.flats.setWay('marks');
    bench.marks.addMark(mark('coat', [60, 60], [150, 150]));
    expect(bench.pushed.at(-1)!.label).toBe('Mark Coat');
    expect(bench.state.flats.unspread).toBe(true);
    expect(bench.overlays.at(-1)?.marks).toEqual([{ points: [[60, 60], [150, 150]], colour: '#336699', empty: false }]); // prettier-ignore
  });

  test('show what spreading would come to, and do nothing yet', async () => {
    bench.marks.addMark(mark('coat', [60, 60], [150, 150]));
    const steps = bench.pushed.length;
    // Asked for while it is worked out: the latest counts, nothing is done twice at once.
    await Promise.all([bench.marks.previewSpread(), bench.marks.previewSpread(), bench.marks.previewSpread()]);
    expect(bench.previewed).toContainEqual([inside(), 'coat']);
    expect(bench.pushed.length).toBe(steps);
    expect(bench.state.resolved!.partOfRegion[inside()]).toBeNull();
  });

  test('spread as one step, and turn into plain fills', async () => {
    bench.marks.addMark(mark('coat', [60, 60], [150, 150]));
    bench.marks.addMark(mark('hair', [10, 10], [10, 200]));
    await bench.marks.spread();
    expect(bench.pushed.at(-1)!.label).toBe('Spread 2 marks');
    expect(bench.state.resolved!.partOfRegion[inside()]).toBe('coat');
    expect(bench.state.resolved!.partOfRegion[outside()]).toBe('hair');
    expect(bench.state.flats).toMatchObject({ unspread: false, spreading: false });

    bench.marks.marksToFills();
    expect(bench.state.document!.marks.size).toBe(0);
    expect([...bench.state.document!.fills.values()].every((fill) => fill.by === undefined)).toBe(true);
    expect(bench.state.resolved!.partOfRegion[inside()]).toBe('coat');
  });

  test('are found, erased, recoloured; those of one part all at once', () => {
    bench.marks.addMark(mark('coat', [60, 60], [150, 60]));
    bench.marks.addMark(mark('hair', [60, 100], [150, 100]));
    bench.marks.addMark(mark('hair', [60, 140], [150, 140]));
    const first = bench.marks.markAt([100, 63], 8)!;
    expect(bench.state.document!.marks.get(first)!.part).toBe('coat');
    expect(bench.marks.markAt([100, 80], 8)).toBeNull();
    bench.store.setState({ partId: 'hair' });
    bench.marks.recolourMark(first);
    expect(bench.state.document!.marks.get(first)!.part).toBe('hair');
    bench.marks.eraseMarksOf('hair');
    expect(bench.pushed.at(-1)!.label).toBe('Erase 3 marks');
    expect(bench.state.document!.marks.size).toBe(0);
  });

  test('that fail to spread say so and can be spread again', async () => {
    bench.marks.addMark(mark('coat', [60, 60], [150, 150]));
    bench.spreadFails = true;
    await bench.marks.spread();
    expect(bench.failures).toEqual(['no memory']);
    expect(bench.state.flats.spreading).toBe(false);
    bench.spreadFails = false;
    await bench.marks.spread();
    expect(bench.state.resolved!.partOfRegion[inside()]).toBe('coat');
  });
});

describe('a key', () => {
  test('proposes for regions that are not decided: sure ones are taken, doubtful ones are to be looked at', async () => {
    bench.give(new Set([outside()]), 'hair');
    bench.keyProposals = [
      { region: outside(), part: 'coat', confidence: 0.99, rgb: 0, distance: 1 },
      { region: inside(), part: 'coat', confidence: 0.6, rgb: 0, distance: 4 },
    ];
    await bench.key.lay('key.png', { width: 1, height: 1, rgb: new Uint8Array(3) });
    expect(countProposals(bench.state.flats.key!, bench.state.resolved)).toEqual({ sure: 0, doubtful: 1 });
    await bench.key.take();
    expect(bench.state.resolved!.partOfRegion[outside()]).toBe('hair');
    expect(bench.state.resolved!.partOfRegion[inside()]).toBe('coat');
    expect(bench.state.resolved!.looks.get(inside())).toBe('key');
    // Looked at and agreed with, it is a fill like any other.
    bench.give(new Set([inside()]), 'coat');
    expect(bench.state.resolved!.looks.size).toBe(0);
  });

  test('belongs to a page that explains it, and much better than turned over', () => {
    const place = { scaleX: 1, scaleY: 1, shiftX: 0, shiftY: 0 };
    expect(keyFits({ place, explained: 0.9, elsewhere: 0.6 })).toBe(true);
    expect(keyFits({ place, explained: 0.66, elsewhere: 0.62 })).toBe(false);
    expect(keyFits({ place, explained: 0.4, elsewhere: 0.1 })).toBe(false);
  });
});

test('agreeing with all leaves nothing to look at, as one step', async () => {
  bench.keyProposals = [
    { region: inside(), part: 'coat', confidence: 0.6, rgb: 0, distance: 4 },
    { region: outside(), part: 'hair', confidence: 0.5, rgb: 0, distance: 4 },
  ];
  await bench.key.lay('key.png', { width: 1, height: 1, rgb: new Uint8Array(3) });
  await bench.key.take();
  expect(bench.state.resolved!.looks.size).toBe(2);
  bench.store.setState({ lookRegions: [...bench.state.resolved!.looks.keys()] });
  bench.flats.agreeWithAll();
  expect(bench.pushed.at(-1)!.label).toBe('Confirm 2 parts');
  expect(bench.state.resolved!.looks.size).toBe(0);
  expect(bench.state.resolved!.partOfRegion[inside()]).toBe('coat');
});

test('an island is listed until somebody keeps it', async () => {
  bench.give(new Set([inside(), outside()]), 'coat');
  // The hut is too large an island for itself: what lies in the field counts as one when it is small against it.
  const found = await bench.flats.lookForIslands();
  expect(bench.state.islands).toHaveLength(found);
  bench.set({ islands: [inside()] });
  bench.flats.keepIsland(inside());
  expect(bench.state.islands).toEqual([]);
  expect([...bench.state.document!.seen].some((key) => key.startsWith('island/'))).toBe(true);
});

test('a region goes to the part it touches longest', async () => {
  bench.give(new Set([outside()]), 'hair');
  bench.store.setState({ current: inside() });
  await bench.flats.giveToNeighbour();
  expect(bench.state.resolved!.partOfRegion[inside()]).toBe('hair');
});

describe('two parts that meet in a region', () => {
  test('are agreed with: the one that shows stays', () => {
    bench.give(new Set([inside()]), 'coat');
    bench.take([{ key: 'fill/60,60', value: { part: 'hair', anchors: [[60, 60]], stamp: 500 } }]);
    bench.refresh();
    expect(bench.state.resolved!.conflicts).toEqual([inside()]);
    bench.store.setState({ lookRegions: bench.state.resolved!.conflicts });
    bench.flats.agreeWithAll();
    expect(bench.state.resolved!.conflicts).toEqual([]);
    expect(bench.state.resolved!.partOfRegion[inside()]).toBe('hair');
  });
});

describe('a key', () => {
  const file = new File([], 'key.png');

  test('is kept with the page, laid again when it is opened, and put away by undo', async () => {
    await bench.key.load(file);
    expect(bench.state.document!.key).toEqual({ picture: 'kept-key.png', name: 'key.png' });
    expect(bench.state.flats.key).toMatchObject({ name: 'key.png', picture: 'kept-key.png' });
    // As after a reload: the page knows, the bench does not yet.
    bench.showFlats({ key: null, way: 'sweep' });
    await bench.key.follow();
    expect(bench.state.flats.key).toBeNull();
    bench.flats.setWay('key');
    await promisesSettled();
    expect(bench.state.flats.key).toMatchObject({ name: 'key.png', picture: 'kept-key.png' });
    bench.take([{ key: 'key', value: null }]);
    await bench.key.follow();
    expect(bench.state.flats.key).toBeNull();
  });

  describe('that is being read', () => {
    let go: () => void;
    const nowhere = { scaleX: 1, scaleY: 1, shiftX: 0, shiftY: 0 };
    beforeEach(() => {
      bench.keyHeld = new Promise((resolve) => (go = resolve));
    });

    test('shows how far, and can be put away meanwhile', async () => {
      const loading = bench.key.load(file);
      await promisesSettled();
      expect(bench.state.flats.key).toMatchObject({ name: 'key.png', reading: null, share: 0.25 });
      bench.key.drop();
      await loading;
      expect(bench.state.flats.key).toBeNull();
      expect(bench.state.document!.key).toBeNull();
      expect(bench.failures).toEqual([]);
    });

    test('shows what is known first on the page; asked for, it is taken once all is', async () => {
      const seen = { region: inside(), part: 'hair', confidence: 0.9, rgb: 0, distance: 1 };
      bench.keySeen = [seen];
      bench.keyProposals = [{ ...seen, part: 'coat' }];
      bench.store.setState({ stage: 'flats' });
      bench.flats.setWay('key');
      const loading = bench.key.load(file);
      await promisesSettled();
      expect(bench.state.flats.key).toMatchObject({ reading: { isWhole: false }, match: { explained: 0.9 } });
      bench.previewed.length = 0;
      bench.key.preview();
      expect(bench.previewed).toEqual([[inside(), 'hair']]);
      const before = bench.pushed.length;
      await bench.key.take();
      expect(bench.pushed).toHaveLength(before);
      expect(bench.state.flats.key!.takeOnceWhole).toBe(true);
      go();
      await loading;
      expect(bench.pushed.map(({ label }) => label)).toEqual(['Lay a key', 'Accept 1 part from the key']);
      expect(bench.state.flats.key!.takeOnceWhole).toBe(false);
      expect(bench.state.resolved!.partOfRegion[inside()]).toBe('coat');
    });

    test('gives way to the place it is nudged to', async () => {
      const raster = { width: 1, height: 1, rgb: new Uint8Array(3) };
      bench.keyHeld = null;
      await bench.key.lay('key.png', raster, nowhere, 'kept');
      bench.keyHeld = new Promise((resolve) => (go = resolve));
      bench.key.nudge(2, 0);
      await promisesSettled();
      expect(bench.state.flats.key).toMatchObject({ reading: null, match: { place: { shiftX: -2 } } });
      bench.key.nudge(3, 0);
      expect(bench.state.flats.key!.match!.place.shiftX).toBe(-5);
      go();
      await promisesSettled();
      expect(bench.state.flats.key).toMatchObject({ picture: 'kept', share: 1 });
      expect(bench.state.flats.key!.reading).not.toBeNull();
      expect(bench.failures).toEqual([]);
    });
  });

  test('put away is kept no more; one that is gone is told', async () => {
    await bench.key.load(file);
    bench.key.drop();
    expect(bench.state.document!.key).toBeNull();
    bench.take([{ key: 'key', value: { picture: 'gone', name: 'old.png' } }]);
    bench.flats.setWay('key');
    await promisesSettled();
    expect(bench.failures).toEqual(['The key is no longer there.']);
  });
});
