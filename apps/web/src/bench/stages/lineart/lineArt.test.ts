/** @jest-environment node */
import { describe, expect, test } from '@jest/globals';
import type { GreyRaster, PageDocument } from '@jumble/core';
import { LineArtTool } from './LineArtTool.ts';
import { openTestBench, whenMeasured, type TestBench } from '../../tests/testBench.ts';
import { scannedPage } from '../../tests/testPages.ts';
import { lineDecisions } from './lineDecisions.ts';
import { panelsOf } from '../../page/panels.ts';
import { pointAt, previewSpecks } from './cleanUp.ts';
import { goToDecision, ruleCurrentDecision, ruleDecisions } from './decisions.ts';
import { movePanel, removePanel, setPanelScene } from './editPanels.ts';
import { aborted } from '../../engine/abort.ts';
import { measure, stopMeasuring } from './measuring.ts';

const kinds = (bench: TestBench): string[] => bench.state.lineDecisions.map((one) => one.kind);
const openArt = async (art: GreyRaster, before?: GreyRaster): Promise<TestBench> => {
  const more = before === undefined ? {} : { before };
  return openTestBench(art, { stage: 'lineart', measures: true, ...more });
};
const revisionsSettled = (bench: TestBench): number =>
  bench.server.requests.filter(({ method }) => method === 'DELETE').length;

describe('the decisions about a scanned page', () => {
  test('come in the order of the work, each with what yes and no do', async () => {
    const bench = await openArt(scannedPage(0.02));
    expect(kinds(bench)).toEqual(['skew', 'specks', 'balloon', 'solid']);
    const [skew, specks] = bench.state.lineDecisions;
    expect(skew!.title).toMatch(/^Turned by 1\.1\d°$/);
    expect(specks!.title).toMatch(/^3 specks$/);
    expect(bench.state.facts!.panels.length).toBe(1);
  });

  test('are ruled on one after the other, and leave nothing', async () => {
    const bench = await openArt(scannedPage(0.02));
    ruleCurrentDecision(bench, true);
    expect(bench.state.lineKey).toBe('skew');
    ruleCurrentDecision(bench, true);
    expect(bench.pushed.at(-1)!.label).toMatch(/^Turned by 1\.1\d°: straighten$/);
    await whenMeasured(bench);
    expect(bench.state.survey!.slopePpm).toBeGreaterThan(19_000);
    expect(bench.state.lineKey).toBe('specks');
    ruleCurrentDecision(bench, true);
    await whenMeasured(bench);
    expect(bench.state.survey!.specksCleared).toBe(3);
    ruleCurrentDecision(bench, true);
    const { resolved, document } = bench.state;
    expect([...document!.balloons.values()]).toEqual(['empty']);
    expect(resolved!.partOfRegion.filter((part) => part === 'none').length).toBe(1);
    const before = bench.state.survey!.regions.count;
    ruleCurrentDecision(bench, true);
    await whenMeasured(bench);
    expect(bench.state.survey!.regions.count).toBe(before + 1);
    expect(bench.state.lineDecisions).toEqual([]);
    expect(bench.pushed.length).toBe(4);
  });

  test('about balloons hold when regions get other numbers', async () => {
    const { page, survey, document, facts } = (await openArt(scannedPage(0.02))).state;
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
    const bench = await openTestBench(scannedPage(0.02), { stage: 'lineart' });
    const { describe: whole } = bench.engine;
    let leave: (error: Error) => void = () => undefined;
    bench.engine.describe = () => new Promise((_, reject) => (leave = reject));
    bench.engine.stopDescribing = () => leave(aborted());
    const measuring = measure(bench);
    expect(bench.state.measuring).not.toBeNull();
    stopMeasuring(bench);
    await measuring;
    expect(bench.state).toMatchObject({ measuring: null, facts: null, lineDecisions: [] });
    bench.engine.describe = whole;
    await measure(bench);
    expect(bench.state.lineDecisions.length).toBe(4);
  });

  test('said no to stay as they were', async () => {
    const bench = await openArt(scannedPage(0.02));
    for (let k = 0; k < 4; k++) {
      ruleDecisions(bench, [bench.state.lineDecisions[0]!], false);
      await whenMeasured(bench);
    }
    expect(bench.state.lineDecisions).toEqual([]);
    expect(bench.state.document!.prep).toMatchObject({ slopePpm: 0, speckLimitPx2: 0 });
    expect([...bench.state.document!.balloons.values()]).toEqual(['drawing']);
    expect([...bench.state.document!.solids.values()]).toEqual([false]);
    expect(bench.state.document!.fills.size).toBe(0);
  });

  test('come back with an undo', async () => {
    const bench = await openArt(scannedPage());
    expect(kinds(bench)[0]).toBe('specks');
    ruleDecisions(bench, [bench.state.lineDecisions[0]!], false);
    await whenMeasured(bench);
    expect(kinds(bench)[0]).toBe('balloon');
    await bench.take([{ key: 'prep', value: null }]);
    await whenMeasured(bench);
    expect(kinds(bench)[0]).toBe('specks');
  });

  test('without a part that stays empty are answered in words', async () => {
    const bench = await openArt(scannedPage());
    const cast = bench.state.cast!;
    bench.store.setState({ cast: { ...cast, parts: cast.parts.filter((part) => !part.empty) } });
    ruleDecisions(
      bench,
      bench.state.lineDecisions.filter((one) => one.kind === 'balloon'),
      true,
    );
    expect(bench.failures[0]).toMatch(/no part that is left empty/);
  });
});

describe('while a page is measured anew', () => {
  test('nothing is ruled on, and the worklist stays where it stands', async () => {
    const bench = await openArt(scannedPage());
    goToDecision(bench, 1);
    bench.store.setState({ facts: null });
    ruleCurrentDecision(bench, true);
    expect(bench.pushed).toEqual([]);
    expect(bench.state.lineKey).toBe('specks');
    await measure(bench);
    ruleCurrentDecision(bench, true);
    expect(bench.pushed).toHaveLength(1);
  });
});

describe('a revised drawing', () => {
  test('that changed nothing is settled at once', async () => {
    const bench = await openArt(scannedPage(), scannedPage());
    expect(kinds(bench)).not.toContain('change');
    expect(revisionsSettled(bench)).toBe(1);
  });

  test('lists what changed, and is settled once all of it was seen', async () => {
    const after = scannedPage();
    for (let y = 200; y < 204; y++) after.data.fill(20, y * 420 + 60, y * 420 + 160);
    const bench = await openArt(after, scannedPage());
    const [change] = bench.state.lineDecisions;
    expect(change).toMatchObject({ kind: 'change', title: 'Redrawn here', no: null });
    expect(change!.detail).toMatch(/^4\d\d px of ink came, 0 px went$|^3\d\d px of ink came, 0 px went$/);
    ruleDecisions(bench, [change!], false);
    expect(bench.pushed).toEqual([]);
    expect(revisionsSettled(bench)).toBe(0);
    ruleDecisions(bench, [change!], true);
    expect(kinds(bench)).not.toContain('change');
    expect(revisionsSettled(bench)).toBe(1);
  });
});

describe('paper and ink that are pointed at', () => {
  test('become the points, unless they cannot be', async () => {
    const bench = await openArt(scannedPage());
    expect(await pointAt(bench, 'paper', 10, 10)).toBeNull();
    await whenMeasured(bench);
    expect(bench.state.survey!.inkPoints.whitePoint).toBe(210);
    expect(await pointAt(bench, 'ink', 300, 200)).toBeNull();
    await whenMeasured(bench);
    expect(bench.state.survey!.inkPoints.blackPoint).toBe(24);
    expect(await pointAt(bench, 'paper', 300, 200)).toMatch(/as dark as ink \(grey 20\)/);
    expect(await pointAt(bench, 'ink', 10, 10)).toMatch(/as light as paper \(grey 214\)/);
    expect(bench.pushed.length).toBe(2);
  });
});

describe('panels', () => {
  const tool = (bench: TestBench): LineArtTool => new LineArtTool(bench, () => undefined);
  const drag = (one: LineArtTool, from: [number, number], to: [number, number]): void => {
    one.down({ x: from[0], y: from[1], intent: 'give' });
    one.move([{ x: to[0], y: to[1], intent: 'give' }]);
    one.up();
  };

  test('are picked by their frame, and a corner is dragged', async () => {
    const bench = await openArt(scannedPage());
    const one = tool(bench);
    drag(one, [32, 150], [32, 150]);
    expect(bench.state.panelPicked).toBe(0);
    const corner = panelsOf(bench.state)[0]!.points.findIndex(([x, y]) => x > 300 && y > 200);
    const [x, y] = panelsOf(bench.state)[0]!.points[corner]!;
    drag(one, [x, y], [x - 40, y - 10]);
    expect(panelsOf(bench.state)[0]!.points[corner]).toEqual([x - 40, y - 10]);
    expect(bench.pushed.at(-1)!.label).toBe('Move a corner of panel 1');
  });

  test('are drawn, put in another order, given a scene and taken away', async () => {
    const bench = await openArt(scannedPage());
    bench.set({ pointing: 'panel' });
    drag(tool(bench), [100, 120], [220, 260]);
    expect(bench.state.pointing).toBeNull();
    expect(panelsOf(bench.state).length).toBe(2);
    movePanel(bench, 1, -1);
    expect(panelsOf(bench.state)[0]!.points[0]).toEqual([100, 120]);
    setPanelScene(bench, 0, 'day');
    expect(bench.state.document!.panels![0]!.scene).toBe('day');
    removePanel(bench, 0);
    expect(panelsOf(bench.state).length).toBe(1);
    await whenMeasured(bench);
    expect(bench.state.facts!.panels.length).toBe(1);
  });

  test('too small to be one are not drawn', async () => {
    const bench = await openArt(scannedPage());
    bench.set({ pointing: 'panel' });
    drag(tool(bench), [100, 120], [105, 124]);
    expect(bench.pushed).toEqual([]);
  });
});

describe('the marks over the page', () => {
  test('show panels, what is asked about, and the specks that would go', async () => {
    const bench = await openArt(scannedPage());
    bench.store.setState({ trim: { widthMm: 25, heightMm: 18, bleedMm: 3 } });
    previewSpecks(bench, 5);
    const { shapes, specks } = bench.overlays.at(-1)!;
    expect(specks.length / 3).toBe(3);
    expect(shapes.map((shape) => shape.look)).toEqual(['trim', 'bleed', 'panel', 'balloon', 'solid']);
    // 25 mm at 300 dpi, in the middle of the page.
    const [a, b] = shapes[0]!.points;
    expect(b![0] - a![0]).toBeCloseTo(295.3, 1);
    expect((a![0] + b![0]) / 2).toBeCloseTo(210, 5);
    previewSpecks(bench, null);
    expect(bench.overlays.at(-1)!.specks.length).toBe(0);
  });
});
