/** @jest-environment node */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { regionAt, type Closure, gapsToRule } from '@jumble/core';
import { CLOSURE_NUMBERS, STROKE, type ShownSurvey } from '../../engine/messages.ts';
import { openTestBench, type TestBench } from '../../tests/testBench.ts';
import { hut, shelter } from '../../tests/testPages.ts';
import { textOfDivision } from '../../page/divideBy.ts';
import { promisesSettled } from '../../tests/promisesSettled.ts';
import { divisionOf, previewMaxGap, setMaxGap } from '../../page/division.ts';
import { drawOver, showSurvey } from '../../page/show.ts';
import { closureAt, drawClosure, goToGap, ruleCurrentGap, ruleGaps, selectGap } from './gaps.ts';

let bench: TestBench;
beforeEach(async () => {
  bench = await openTestBench(hut(12));
});

const door = (): Closure => bench.state.survey!.closures.find((one) => one.widthPx < 16 && one.widthPx > 8)!;
const apart = (): boolean => regionAt(bench.state.survey!, 120, 113) !== regionAt(bench.state.survey!, 10, 10);

describe('ruling', () => {
  test('is one step, with the fills that keep every piece its part', async () => {
    expect(apart()).toBe(true);
    await ruleGaps(bench, [door().key], 'open');
    expect(apart()).toBe(false);
    expect(bench.pushed).toEqual([{ label: 'Leave 1 gap open', edits: [{ key: `gap/${door().key}`, value: 'open' }] }]);

    // The joined region gets a part; closed again, both pieces have it, in the same step as the ruling.
    bench.push({
      label: 'Give 1 region',
      edits: [{ key: 'fill/10,10', value: { part: 'coat', anchors: [[10, 10]], stamp: 0 } }],
    });
    await ruleGaps(bench, [door().key], 'closed');
    const last = bench.pushed.at(-1)!;
    expect(last.label).toBe('Close 1 gap');
    expect(last.edits.map((edit) => edit.key)).toEqual([`gap/${door().key}`, 'fill/10,10']);
    expect(bench.state.resolved!.partOfRegion[regionAt(bench.state.survey!, 120, 113)!]).toBe('coat');
    expect(bench.state.resolved!.partOfRegion[regionAt(bench.state.survey!, 10, 10)!]).toBe('coat');
  });

  test('of many at once is one step too', async () => {
    const keys = bench.state.survey!.closures.slice(0, 2).map((one) => one.key);
    await ruleGaps(bench, keys, 'closed');
    expect(bench.pushed).toHaveLength(1);
    expect(bench.pushed[0]!.label).toBe(keys.length === 1 ? 'Close 1 gap' : `Close ${keys.length} gaps`);
  });

  test('goes on at once: keys pressed faster than the page is divided rule on one gap each', async () => {
    bench = await openTestBench(hut(12, true));
    const doubtful = (of: ShownSurvey): ShownSurvey => ({
      ...of,
      closures: of.closures.map((one) => ({ ...one, confidence: 0.5, accepted: true })),
    });
    showSurvey(bench, doubtful(bench.state.survey!));
    const keys = bench.state.openGaps;
    expect(keys.length).toBeGreaterThan(1);
    const { divide } = bench.engine;
    bench.engine.divide = async (by) => doubtful(await divide.call(bench.engine, by));
    selectGap(bench, keys[0]!);
    const presses = keys.map(() => ruleCurrentGap(bench, 'closed'));
    expect(bench.state.openGaps).toEqual([]);
    expect(bench.state.gapKey).toBeNull();
    await Promise.all(presses);
    expect(bench.pushed.map((step) => step.edits[0]!.key)).toEqual(keys.map((key) => `gap/${key}`));
    expect(bench.state.openGaps).toEqual([]);
  });

  test('that fails leaves the gap in the worklist', async () => {
    const survey = bench.state.survey!;
    showSurvey(bench, {
      ...survey,
      closures: survey.closures.map((one) => ({ ...one, confidence: 0.5, accepted: true })),
    });
    const keys = bench.state.openGaps;
    bench.engine.divide = () => Promise.reject(new Error('The computing worker stopped.'));
    selectGap(bench, keys[0]!);
    await ruleCurrentGap(bench, 'closed');
    expect(bench.failures).toEqual(['The computing worker stopped.']);
    expect(bench.state.openGaps).toEqual(keys);
    expect(bench.pushed).toEqual([]);
  });

  test('taken back elsewhere is followed: an undo divides the page again', async () => {
    const { key } = door();
    await ruleGaps(bench, [key], 'open');
    expect(apart()).toBe(false);
    await bench.take([{ key: `gap/${key}`, value: null }]);
    await promisesSettled();
    expect(apart()).toBe(true);
    expect(bench.state.dividedBy).toBe(textOfDivision(divisionOf(bench.state)));
  });
});

describe('the largest gap', () => {
  test('is shown while it moves, decided at the end', async () => {
    previewMaxGap(bench, 4);
    await promisesSettled();
    expect(apart()).toBe(false);
    expect(bench.pushed).toEqual([]);
    await setMaxGap(bench, 30);
    expect(apart()).toBe(true);
    expect(bench.pushed.at(-1)!.edits[0]).toMatchObject({ key: 'prep', value: { maxGapPx: 30 } });
  });

  test('raised over a filled region leaves the part in every piece', async () => {
    await setMaxGap(bench, 4);
    expect(apart()).toBe(false);
    bench.push({
      label: 'Give 1 region',
      edits: [{ key: 'fill/10,10', value: { part: 'coat', anchors: [[10, 10]], stamp: 0 } }],
    });
    for (const px of [10, 20, 40]) previewMaxGap(bench, px);
    await promisesSettled();
    expect(apart()).toBe(true);
    await setMaxGap(bench, 40);
    const { survey, resolved } = bench.state;
    for (const [x, y] of [
      [10, 10],
      [120, 113],
    ] as const) {
      expect(resolved!.partOfRegion[regionAt(survey!, x, y)!]).toBe('coat');
    }
  });

  test('that cannot be shown is told, and the next one is shown again', async () => {
    const { divide } = bench.engine;
    bench.engine.divide = () => Promise.reject(new Error('The computing worker stopped.'));
    previewMaxGap(bench, 4);
    await promisesSettled();
    expect(bench.failures).toEqual(['The computing worker stopped.']);
    bench.engine.divide = divide;
    previewMaxGap(bench, 4);
    await promisesSettled();
    expect(apart()).toBe(false);
  });

  test('moved quickly ends at the latest place', async () => {
    for (const px of [40, 30, 20, 4]) previewMaxGap(bench, px);
    await promisesSettled();
    expect(apart()).toBe(false);
    expect(bench.state.survey!.maxGapPx).toBe(4);
  });
});

describe('a closure by hand', () => {
  test('parts the region, keeps fills in both pieces, and goes again', async () => {
    bench.push({
      label: 'Give 1 region',
      edits: [{ key: 'fill/60,60', value: { part: 'coat', anchors: [[60, 60]], stamp: 0 } }],
    });
    await drawClosure(bench, [120, 45], [120, 180]);
    const survey = bench.state.survey!;
    expect(regionAt(survey, 80, 113)).not.toBe(regionAt(survey, 160, 113));
    const parts = [80, 160].map((x) => bench.state.resolved!.partOfRegion[regionAt(survey, x, 113)!]);
    expect(parts).toEqual(['coat', 'coat']);
    expect(bench.pushed.at(-1)!.label).toBe('Draw a closure');
    const key = bench.state.document!.drawn[0]!;
    await ruleGaps(bench, [key], 'open');
    expect(bench.state.document!.drawn).toEqual([]);
    expect(regionAt(bench.state.survey!, 80, 113)).toBe(regionAt(bench.state.survey!, 160, 113));
  });

  test('across an open outline leaves it closed to both sides', async () => {
    bench = await openTestBench(shelter());
    const [chord] = bench.state.survey!.closures.filter(({ kind }) => kind === 'outline');
    await drawClosure(bench, [200, 84], [200, 390]);
    expect(bench.pushed.at(-1)!.edits).toContainEqual({ key: `gap/${chord!.key}`, value: 'closed' });
    const regions = [150, 250, 40].map((x) => regionAt(bench.state.survey!, x, 200));
    expect(new Set(regions).size).toBe(3);
  });

  test('is found by pointing near it, and drawn with its own mark', async () => {
    await drawClosure(bench, [120, 45], [120, 180]);
    expect(closureAt(bench.state, 124, 100, 10)?.kind).toBe('hand');
    expect(closureAt(bench.state, 160, 20, 10)).toBeNull();
    const { closures } = bench.overlays.at(-1)!;
    const strokes = Array.from(
      { length: closures.length / CLOSURE_NUMBERS },
      (_, k) => closures[k * CLOSURE_NUMBERS + 8],
    );
    expect(strokes).toContain(STROKE.hand);
  });
});

describe('the worklist', () => {
  const closure = (key: string, confidence: number, areas: [number, number], more: Partial<Closure> = {}): Closure => ({
    key,
    from: [0, 0],
    to: [9, 0],
    curve: null,
    widthPx: 8,
    kind: 'line',
    confidence,
    ruling: null,
    accepted: true,
    separatesPx: areas,
    regions: [0, 1],
    ...more,
  });

  test('holds what is doubtful and not ruled on, most at stake first', () => {
    const closures = [
      closure('small', 0.5, [50, 9000]),
      closure('sure', 0.9, [5000, 9000]),
      closure('large', 0.45, [5000, 9000]),
      closure('ruled', 0.5, [5000, 9000], { ruling: 'closed' }),
      closure('drawn', 0.5, [5000, 9000], { kind: 'hand' }),
      closure('open', 0.5, [5000, 5000], { accepted: false }),
    ];
    expect(gapsToRule(closures)).toEqual(['large', 'small']);
  });

  test('goes around, and to nothing when it is empty', () => {
    bench.store.setState({ openGaps: ['a', 'b', 'c'] });
    const visited: (string | null)[] = [];
    for (const direction of [1, 1, 1, 1, -1, -1] as const) {
      goToGap(bench, direction);
      visited.push(bench.state.gapKey);
    }
    expect(visited).toEqual(['a', 'b', 'c', 'a', 'c', 'b']);
    bench.store.setState({ openGaps: [] });
    goToGap(bench, 1);
    expect(bench.state.gapKey).toBeNull();
  });

  test('takes the marks away when another stage is shown', () => {
    drawOver(bench);
    expect(bench.overlays.at(-1)).not.toBeNull();
    bench.store.setState({ stage: 'handoff' });
    drawOver(bench);
    expect(bench.overlays.at(-1)).toBeNull();
  });
});
