/** @jest-environment node */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { editScene, holdsInOrder, holdWordAt, regionAt } from '@jumble/core';
import { assignPart } from '../../page/parts.ts';
import { step } from '../../page/steps.ts';
import { promisesSettled } from '../../tests/promisesSettled.ts';
import { openTestBench, type TestBench } from '../../tests/testBench.ts';
import { hut } from '../../tests/testPages.ts';
import { removeStrokes, setBrush, stepBrushSize } from './brush.ts';
import {
  chooseLines,
  dropSceneColour,
  endsOfChosen,
  lineAt,
  openRule,
  setDraft,
  setDraftColour,
  setDraftLines,
  setDraftScene,
} from './draft.ts';
import {
  allBlack,
  chosenBlack,
  cutLineAt,
  joinChosen,
  moveRule,
  switchRule,
  takeDraft,
  takeProposed,
} from './holds.ts';
import { HoldTool } from './HoldTool.ts';
import { ruleInWords } from './holdWords.ts';

let bench: TestBench;
beforeEach(async () => {
  bench = await openTestBench(hut(0), { stage: 'holds' });
  assignPart(bench, new Set([regionAt(bench.state.survey!, 120, 113)!]), 'coat');
  await whenColoured();
});

async function whenColoured(): Promise<void> {
  do await promisesSettled();
  while (
    bench.state.holdsLookedFor ||
    !bench.turns.isIdle ||
    bench.state.sync.state !== 'saved' ||
    bench.state.holds === null
  );
}
const held = (): number => [...bench.state.holds!.rgb].filter((rgb) => rgb >= 0).length;
const rules = () => holdsInOrder(bench.state.document!);

async function rule(colour: string): Promise<void> {
  setDraftLines(bench, { all: true });
  setDraftColour(bench, colour);
  takeDraft(bench);
  await whenColoured();
}

describe('a rule', () => {
  test('shows while it is made, is dropped without a trace, and applied as one step', async () => {
    setDraftLines(bench, { all: true });
    await whenColoured();
    expect([held() > 0, rules().length, bench.pushed.length]).toEqual([true, 0, 1]);
    setDraft(bench, null);
    await whenColoured();
    expect(held()).toBe(0);
    await rule('#884422');
    expect([held() > 0, rules().length, bench.pushed.length]).toEqual([true, 1, 2]);
    expect(ruleInWords(rules()[0]!, bench.state.cast)).toBe('All lines: #884422');
    await step(bench, 'undo');
    await whenColoured();
    expect(held()).toBe(0);
  });

  test('counts more the later it stands; can be moved, changed, switched off', async () => {
    await rule('#884422');
    await rule('#224488');
    expect(bench.state.holds!.rgb.some((rgb) => rgb === 0x224488)).toBe(true);
    const [first, second] = rules();
    moveRule(bench, second!.id, -1);
    await whenColoured();
    expect(rules().map(({ id }) => id)).toEqual([second!.id, first!.id]);
    expect(bench.state.holds!.rgb.some((rgb) => rgb === 0x224488)).toBe(false);
    switchRule(bench, first!.id, true);
    await whenColoured();
    expect(bench.state.holds!.rgb.some((rgb) => rgb === 0x224488)).toBe(true);
    openRule(bench, second!.id);
    setDraftColour(bench, '#112233');
    takeDraft(bench);
    await whenColoured();
    expect([rules().length, bench.state.holds!.rgb.some((rgb) => rgb === 0x112233)]).toEqual([2, true]);
    allBlack(bench);
    await whenColoured();
    expect([rules().length, held()]).toEqual([0, 0]);
  });
});

describe('choosing by hand', () => {
  test('keeps points on ink; what is chosen can go black again', async () => {
    await rule('#884422');
    const all = held();
    const piece = bench.state.holds!.ruleOf.findIndex((one) => one === 0);
    chooseLines(bench, [piece], false);
    await whenColoured();
    const draft = bench.state.holdDraft!;
    const [[x, y]] = (draft.lines as { at: [number, number][] }).at as [[number, number]];
    expect(lineAt(bench.state, x, y, 2)).toBe(piece);
    chosenBlack(bench);
    await whenColoured();
    expect(bench.state.holds!.rgb[piece]).toBe(0);
    expect(held()).toBe(all);
  });

  test('a click chooses and takes away, a loop beside lines takes what lies in it', async () => {
    const tool = new HoldTool(bench, () => undefined);
    const piece = bench.state.holds!.isSolid.findIndex((solid) => solid === 0);
    const at = bench.state.holds!.at[piece]!;
    const { width, height } = bench.state.survey!;
    const point = { x: at % width, y: Math.floor(at / width), intent: 'give' } as const;
    const click = async (): Promise<void> => {
      tool.down(point);
      tool.up();
      await whenColoured();
    };
    await click();
    expect((bench.state.holdDraft!.lines as { at: unknown[] }).at).toHaveLength(1);
    await click();
    expect(bench.state.holdDraft).toBeNull();
    tool.down({ x: 1, y: 1, intent: 'give' });
    tool.move([[width - 1, 1], [width - 1, height - 1], [1, height - 1]].map(([x, y]) => ({ x: x!, y: y!, intent: 'give' }))); // prettier-ignore
    tool.up();
    await whenColoured();
    expect((bench.state.holdDraft!.lines as { at: unknown[] }).at.length).toBe(bench.state.holds!.count);
  });
});

describe('the brush', () => {
  const lineMiddle = (): { x: number; y: number } => {
    const { holds, survey } = bench.state;
    const at = holds!.at[holds!.isSolid.findIndex((solid) => solid === 0)]!;
    return { x: at % survey!.width, y: Math.floor(at / survey!.width) };
  };
  const drag = async (intent: 'give' | 'take' | 'like', at = lineMiddle()): Promise<void> => {
    const tool = new HoldTool(bench, (text) => said.push(text));
    tool.down({ ...at, intent });
    tool.move([{ ...at, x: at.x + 2, intent }]);
    tool.up();
    await whenColoured();
  };
  const said: string[] = [];

  test('paints on lines alone, is wiped out, and all of it is taken away as one step', async () => {
    setBrush(bench, { on: true, colour: '#cc2200', sizePx: 6 });
    await drag('give');
    expect([...bench.state.document!.lineStrokes.values()]).toMatchObject([{ colour: '#cc2200', sizePx: 6, stamp: 0 }]);
    const { x, y } = lineMiddle();
    const { paint } = bench.state.holds!;
    expect(holdWordAt(paint, bench.state.survey!.width, x, y)).toBe(0xff0022cc);
    expect(held()).toBeGreaterThan(0);
    await drag('take');
    expect(held()).toBe(0);
    const steps = bench.pushed.length;
    await drag('give', { x: 2, y: 2 });
    expect([bench.pushed.length, said.length]).toEqual([steps, 1]);
    // Chosen lines go black with what was painted on them.
    chooseLines(bench, [bench.state.holds!.isSolid.findIndex((solid) => solid === 0)], false);
    await whenColoured();
    setBrush(bench, { on: false });
    chosenBlack(bench);
    await whenColoured();
    expect(bench.state.document!.lineStrokes.size).toBe(0);
    await step(bench, 'undo');
    await whenColoured();
    expect(bench.state.document!.lineStrokes.size).toBe(2);
    removeStrokes(bench);
    await whenColoured();
    expect([bench.state.document!.lineStrokes.size, bench.pushed.length]).toEqual([0, steps + 2]);
  });

  test('takes the colour of a line, and steps through its sizes', async () => {
    await rule('#224488');
    setBrush(bench, { on: true, sizePx: 8 });
    await drag('like');
    stepBrushSize(bench, 1);
    expect(bench.state.holdBrush).toEqual({ on: true, colour: '#224488', sizePx: 12 });
    expect(bench.state.document!.lineStrokes.size).toBe(0);
  });
});

test('the ends of a gradient are dragged on the page', async () => {
  setDraftLines(bench, { all: true });
  await whenColoured();
  const [one, two] = endsOfChosen(bench.state);
  expect(two[1]).toBeGreaterThan(one[1]);
  setDraftColour(bench, { gradient: [['#000000', one], ['#ffffff', two]] }); // prettier-ignore
  const tool = new HoldTool(bench, () => undefined);
  tool.down({ x: two[0], y: two[1], intent: 'give' });
  tool.move([{ x: two[0] + 20, y: two[1] - 10, intent: 'give' }]);
  tool.up();
  await whenColoured();
  expect(bench.state.holdDraft!.colour).toEqual({ gradient: [['#000000', one], ['#ffffff', [two[0] + 20, two[1] - 10]]] }); // prettier-ignore
});

test('a rule takes another colour in another scene, and gives it up again', async () => {
  setDraftLines(bench, { all: true });
  setDraftColour(bench, '#884422');
  setDraftScene(bench, 'dusk');
  setDraftColour(bench, '#112244');
  takeDraft(bench);
  await whenColoured();
  expect(rules()).toMatchObject([{ colour: '#884422', inScene: { dusk: '#112244' } }]);
  expect(bench.state.holds!.rgb.some((rgb) => rgb === 0x884422)).toBe(true);
  bench.push({ label: 'Scene', edits: [editScene('dusk')] });
  await whenColoured();
  expect(bench.state.holds!.rgb.some((rgb) => rgb === 0x112244)).toBe(true);
  openRule(bench, rules()[0]!.id);
  setDraftScene(bench, 'dusk');
  dropSceneColour(bench);
  takeDraft(bench);
  await whenColoured();
  expect(rules()[0]!.inScene).toBeUndefined();
  expect(bench.state.holds!.rgb.some((rgb) => rgb === 0x884422)).toBe(true);
});

test('lines are cut where the pointer is, the cut is taken back there, and a single line joins nothing', async () => {
  const lines = bench.state.holds!.count;
  const at = bench.state.holds!.at[0]!;
  const point = [at % bench.state.survey!.width, Math.floor(at / bench.state.survey!.width)] as const;
  expect(cutLineAt(bench, point, 6)).toBe(true);
  await whenColoured();
  expect(bench.state.document!.lineEdits.cuts).toEqual([point]);
  expect(bench.state.holds!.count).toBeGreaterThanOrEqual(lines);
  expect(cutLineAt(bench, [point[0] + 2, point[1]], 6)).toBe(true);
  await whenColoured();
  expect([bench.state.document!.lineEdits.cuts.length, bench.state.holds!.count]).toEqual([0, lines]);
  expect(cutLineAt(bench, [3, 3], 6)).toBe(false);
  chooseLines(bench, [0], false);
  expect(joinChosen(bench)).toBe(false);
});

test('what is hard to read gets the lightness that is proposed, all in one step', async () => {
  const { cast } = bench.state;
  const coat = cast!.colours.get(cast!.scenes[0]!.id)!.get('coat')!;
  await rule(coat);
  expect(bench.state.holds!.low.length).toBeGreaterThan(0);
  const steps = bench.pushed.length;
  takeProposed(bench, true);
  await whenColoured();
  expect([bench.state.holds!.low.length, bench.pushed.length]).toEqual([0, steps + 1]);
});
