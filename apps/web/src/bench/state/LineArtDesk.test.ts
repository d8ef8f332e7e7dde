import { describe, expect, test } from '@jest/globals';
import type { PageDocument } from '@jumble/core';
import { LineArtTool } from '../tools/LineArtTool.ts';
import type { Bench } from './Bench.ts';
import { FakeDrawing, scannedPage } from '../tests/fakeDrawing.ts';
import { lineDecisions } from './lineDecisions.ts';
import { promisesSettled } from '../tests/promisesSettled.ts';

const kinds = (bench: FakeDrawing): string[] => bench.state.lineDecisions.map((one) => one.kind);
async function measured(bench: FakeDrawing): Promise<FakeDrawing> {
  await bench.lineArt.measure();
  return bench;
}

describe('the decisions about a scanned page', () => {
  test('come in the order of the work, each with what yes and no do', async () => {
    const bench = await measured(new FakeDrawing(scannedPage(0.02)));
    expect(kinds(bench)).toEqual(['skew', 'specks', 'balloon', 'solid']);
    const [skew, specks] = bench.state.lineDecisions;
    expect(skew!.title).toMatch(/^Turned by 1\.1\d°$/);
    expect(specks!.title).toMatch(/^3 specks$/);
    expect(bench.state.facts!.panels.length).toBe(1);
  });

  test('are ruled on one after the other, and leave nothing', async () => {
    const bench = await measured(new FakeDrawing(scannedPage(0.02)));
    bench.lineArt.ruleCurrent(true);
    expect(bench.state.lineKey).toBe('skew');
    bench.lineArt.ruleCurrent(true);
    expect(bench.pushed.at(-1)!.label).toMatch(/^Turned by 1\.1\d°: straighten$/);
    expect(bench.state.survey!.slopePpm).toBeGreaterThan(19_000);
    await bench.lineArt.measure();
    expect(bench.state.lineKey).toBe('specks');
    bench.lineArt.ruleCurrent(true);
    expect(bench.state.survey!.specksCleared).toBe(3);
    await bench.lineArt.measure();
    bench.lineArt.ruleCurrent(true);
    const { resolved, document } = bench.state;
    expect([...document!.balloons.values()]).toEqual(['empty']);
    expect(resolved!.partOfRegion.filter((part) => part === 'none').length).toBe(1);
    const before = bench.state.survey!.regions.count;
    bench.lineArt.ruleCurrent(true);
    expect(bench.state.survey!.regions.count).toBe(before + 1);
    expect(bench.state.lineDecisions).toEqual([]);
    expect(bench.pushed.length).toBe(4);
  });

  test('about balloons hold when regions get other numbers', async () => {
    const { page, survey, document, facts } = (await measured(new FakeDrawing(scannedPage(0.02)))).state;
    const { regions } = survey!;
    const ofCell = regions.ofCell.map((region) => regions.count - 1 - region);
    const renumbered = { ...survey!, regions: { ...regions, ofCell } };
    const balloonsOf = (balloons: PageDocument['balloons']) =>
      lineDecisions({
        page: page!,
        survey: renumbered,
        document: { ...document!, balloons },
        facts: facts!,
        skew: null,
        changes: null,
        hasPart: () => false,
      }).filter(({ kind }) => kind === 'balloon');
    const [open] = balloonsOf(new Map());
    expect(open!.key).toBe(facts!.balloons[0]!.at.join());
    expect(balloonsOf(new Map([[open!.key, 'empty']]))).toEqual([]);
  });

  test('can be measured later when measuring was left', async () => {
    const bench = new FakeDrawing(scannedPage(0.02));
    const { describe: whole } = bench.engine;
    let leave: (error: Error) => void = () => undefined;
    bench.engine.describe = () => new Promise((_, reject) => (leave = reject));
    bench.engine.stopDescribing = () => leave(new DOMException('Cancelled', 'AbortError') as unknown as Error);
    const measuring = bench.lineArt.measure();
    expect(bench.state.measuring).not.toBeNull();
    bench.lineArt.stopMeasuring();
    await measuring;
    expect(bench.state).toMatchObject({ measuring: null, facts: null, lineDecisions: [] });
    bench.engine.describe = whole;
    await measured(bench);
    expect(bench.state.lineDecisions.length).toBe(4);
  });

  test('said no to stay as they were', async () => {
    const bench = await measured(new FakeDrawing(scannedPage(0.02)));
    for (let k = 0; k < 4; k++) bench.lineArt.rule([bench.state.lineDecisions[0]!], false);
    expect(bench.state.lineDecisions).toEqual([]);
    expect(bench.state.document!.prep).toMatchObject({ slopePpm: 0, speckLimitPx2: 0 });
    expect([...bench.state.document!.balloons.values()]).toEqual(['drawing']);
    expect([...bench.state.document!.solids.values()]).toEqual([false]);
    expect(bench.state.document!.fills.size).toBe(0);
  });

  test('come back with an undo', async () => {
    const bench = await measured(new FakeDrawing(scannedPage()));
    expect(kinds(bench)[0]).toBe('specks');
    bench.lineArt.rule([bench.state.lineDecisions[0]!], false);
    expect(kinds(bench)[0]).toBe('balloon');
    bench.take([{ key: 'prep', value: null }]);
    expect(kinds(bench)[0]).toBe('specks');
  });

  test('without a part that stays empty are answered in words', async () => {
    const bench = await measured(new FakeDrawing(scannedPage()));
    const cast = bench.state.cast!;
    bench.store.setState({ cast: { ...cast, parts: cast.parts.filter((part) => !part.empty) } });
    bench.lineArt.rule(
      bench.state.lineDecisions.filter((one) => one.kind === 'balloon'),
      true,
    );
    expect(bench.failures[0]).toMatch(/no part that is left empty/);
  });
});

describe('while a page is measured anew', () => {
  test('nothing is ruled on, and the worklist stays where it stands', async () => {
    const bench = await measured(new FakeDrawing(scannedPage()));
    bench.lineArt.go(1);
    bench.store.setState({ facts: null });
    bench.lineArt.ruleCurrent(true);
    expect(bench.pushed).toEqual([]);
    expect(bench.state.lineKey).toBe('specks');
    await bench.lineArt.measure();
    bench.lineArt.ruleCurrent(true);
    expect(bench.pushed).toHaveLength(1);
  });
});

describe('a revised drawing', () => {
  test('that changed nothing is settled at once', async () => {
    const bench = await measured(new FakeDrawing(scannedPage(), scannedPage()));
    expect(kinds(bench)).not.toContain('change');
    expect(bench.revisionsSettled).toBe(1);
  });

  test('lists what changed, and is settled once all of it was seen', async () => {
    const after = scannedPage();
    for (let y = 200; y < 204; y++) after.data.fill(20, y * 420 + 60, y * 420 + 160);
    const bench = await measured(new FakeDrawing(after, scannedPage()));
    const [change] = bench.state.lineDecisions;
    expect(change).toMatchObject({ kind: 'change', title: 'Redrawn here', no: null });
    expect(change!.detail).toMatch(/^4\d\d px of ink came, 0 px went$|^3\d\d px of ink came, 0 px went$/);
    bench.lineArt.rule([change!], false);
    expect(bench.pushed).toEqual([]);
    expect(bench.revisionsSettled).toBe(0);
    bench.lineArt.rule([change!], true);
    expect(kinds(bench)).not.toContain('change');
    expect(bench.revisionsSettled).toBe(1);
  });
});

describe('paper and ink that are pointed at', () => {
  test('become the points, unless they cannot be', async () => {
    const bench = await measured(new FakeDrawing(scannedPage()));
    expect(await bench.lineArt.pointAt('paper', 10, 10)).toBeNull();
    expect(bench.state.survey!.inkPoints.whitePoint).toBe(210);
    expect(await bench.lineArt.pointAt('ink', 300, 200)).toBeNull();
    expect(bench.state.survey!.inkPoints.blackPoint).toBe(24);
    expect(await bench.lineArt.pointAt('paper', 300, 200)).toMatch(/as dark as ink \(grey 20\)/);
    expect(await bench.lineArt.pointAt('ink', 10, 10)).toMatch(/as light as paper \(grey 214\)/);
    expect(bench.pushed.length).toBe(2);
  });
});

describe('panels', () => {
  const tool = (bench: FakeDrawing): LineArtTool => new LineArtTool(bench as unknown as Bench, () => undefined);
  const drag = (one: LineArtTool, from: [number, number], to: [number, number]): void => {
    one.down({ x: from[0], y: from[1], intent: 'give' });
    one.move([{ x: to[0], y: to[1], intent: 'give' }]);
    one.up();
  };

  test('are picked by their frame, and a corner is dragged', async () => {
    const bench = await measured(new FakeDrawing(scannedPage()));
    const one = tool(bench);
    drag(one, [32, 150], [32, 150]);
    expect(bench.state.panelPicked).toBe(0);
    const corner = bench.lineArt.panels()[0]!.points.findIndex(([x, y]) => x > 300 && y > 200);
    const [x, y] = bench.lineArt.panels()[0]!.points[corner]!;
    drag(one, [x, y], [x - 40, y - 10]);
    expect(bench.lineArt.panels()[0]!.points[corner]).toEqual([x - 40, y - 10]);
    expect(bench.pushed.at(-1)!.label).toBe('Move a corner of panel 1');
  });

  test('are drawn, put in another order, given a scene and taken away', async () => {
    const bench = await measured(new FakeDrawing(scannedPage()));
    bench.set({ pointing: 'panel' });
    drag(tool(bench), [100, 120], [220, 260]);
    expect(bench.state.pointing).toBeNull();
    expect(bench.lineArt.panels().length).toBe(2);
    bench.lineArt.movePanel(1, -1);
    expect(bench.lineArt.panels()[0]!.points[0]).toEqual([100, 120]);
    bench.lineArt.setScene(0, 'day');
    expect(bench.state.document!.panels![0]!.scene).toBe('day');
    bench.lineArt.removePanel(0);
    expect(bench.lineArt.panels().length).toBe(1);
    await promisesSettled();
    expect(bench.state.facts!.panels.length).toBe(1);
  });

  test('too small to be one are not drawn', async () => {
    const bench = await measured(new FakeDrawing(scannedPage()));
    bench.set({ pointing: 'panel' });
    drag(tool(bench), [100, 120], [105, 124]);
    expect(bench.pushed).toEqual([]);
  });
});

describe('the marks over the page', () => {
  test('show panels, what is asked about, and the specks that would go', async () => {
    const bench = await measured(new FakeDrawing(scannedPage()));
    bench.store.setState({ trim: { widthMm: 25, heightMm: 18, bleedMm: 3 } });
    bench.lineArt.previewSpecks(5);
    const { shapes, specks } = bench.overlays.at(-1)!;
    expect(specks.length / 3).toBe(3);
    expect(shapes.map((shape) => shape.look)).toEqual(['trim', 'bleed', 'panel', 'balloon', 'solid']);
    // 25 mm at 300 dpi, in the middle of the page.
    const [a, b] = shapes[0]!.points;
    expect(b![0] - a![0]).toBeCloseTo(295.3, 1);
    expect((a![0] + b![0]) / 2).toBeCloseTo(210, 5);
    bench.lineArt.previewSpecks(null);
    expect(bench.overlays.at(-1)!.specks.length).toBe(0);
  });
});
