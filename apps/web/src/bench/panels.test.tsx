import { FIRST_DELIVERIES } from '@jumble/core';
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { AnsweringServer } from '../tests/AnsweringServer.ts';
import { showView } from '../tests/showView.tsx';
import { openTestBench, type TestBench } from './tests/testBench.ts';
import { hut } from './tests/testPages.ts';
import { GapWorklist } from './stages/gaps/GapWorklist.tsx';
import { HandoffPanel } from './stages/handoff/HandoffPanel.tsx';
import { ShortcutsDialog } from './ShortcutsDialog.tsx';
import { FirstSteps } from './FirstSteps.tsx';
import { Readout } from './Readout.tsx';
import { BenchContext } from './state/benchContext.ts';
import { STAGES } from './stages/stages.ts';
import { COMMON_SHORTCUTS } from './tools/shortcuts.ts';
import { followHolds } from './stages/holds/followHolds.ts';
import { HoldRules } from './stages/holds/HoldRules.tsx';
import { HoldWorklist } from './stages/holds/HoldWorklist.tsx';
import { TrapRules } from './stages/trap/TrapRules.tsx';
import { TrapWorklist } from './stages/trap/TrapWorklist.tsx';
import { Worklist } from './stages/flats/Worklist.tsx';

let bench: TestBench;
const user = userEvent.setup();
beforeEach(async () => {
  Element.prototype.scrollIntoView = () => undefined;
  bench = await openTestBench(hut(12));
});
afterEach(cleanup);
const show = (children: ReactNode): void =>
  showView(<BenchContext.Provider value={bench}>{children}</BenchContext.Provider>);

describe('the Gaps panel', () => {
  test('counts what is to be ruled on, and leads on when nothing is', () => {
    bench.store.setState({ openGaps: [] });
    show(<GapWorklist />);
    expect(screen.getByText('No gap is left to rule on.')).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Go on to Flats' }).getAttribute('href')).toBe('/jobs/j/pages/p/flats');
  });

  test('lists a closure with its width, how sure it is and both areas, and stands at it by a click', async () => {
    const door = bench.state.survey!.closures.find((one) => one.accepted)!;
    bench.store.setState({ openGaps: [door.key] });
    show(<GapWorklist />);
    const percent = Math.round(door.confidence * 100);
    const row = screen.getByText(new RegExp(`${percent}% sure`));
    expect(screen.getByText(new RegExp(door.separatesPx[0].toLocaleString('en-GB')))).toBeTruthy();
    await user.click(row);
    expect(bench.state.gapKey).toBe(door.key);
  });

  test('shows a traced leak with its width, and starts a trace', async () => {
    bench.store.setState({
      leak: { path: Int32Array.of(1, 1, 2, 2), narrowest: [203, 113], widthPx: 12.4, cut: null },
    });
    show(<GapWorklist />);
    expect(screen.getByText(/narrowest place 12.4 px/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: /^Trace/ }));
    expect(bench.state.leakAsked).toBe('trace');
  });

  test('tells a photograph in words instead of listing thousands', () => {
    bench.store.setState({ survey: { ...bench.state.survey!, looseEnds: 48_355 } });
    show(<GapWorklist />);
    expect(screen.getByText(/48,355 loose ends: it looks like a photograph/)).toBeTruthy();
  });
});

describe('the worklist of regions', () => {
  test('says how many are open, and what to do when none is', () => {
    bench.store.setState({ stage: 'flats', openRegions: [1, 0] });
    show(<Worklist />);
    expect(screen.getByText(/of 2 regions without a part/)).toBeTruthy();
    cleanup();
    bench.store.setState({ openRegions: [] });
    show(<Worklist />);
    expect(screen.getByText('Every region has its part.')).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Go on to Hand off' })).toBeTruthy();
  });

  test('names fills without a region and fills that meet', () => {
    const resolved = { ...bench.state.resolved!, asleep: ['1,1', '2,2'], conflicts: [0] };
    bench.store.setState({ resolved, openRegions: [], lookRegions: [0] });
    show(<Worklist />);
    expect(screen.getByText(/2 fills have no region/)).toBeTruthy();
    expect(screen.getByText(/two parts meet, /)).toBeTruthy();
  });
});

describe('the readout', () => {
  const at = (x: number, y: number, hovered: number | null): string => {
    bench.store.setState({ pointer: [x, y], hovered });
    show(<Readout />);
    const text = screen.getByTestId('readout').textContent ?? '';
    cleanup();
    return text;
  };

  test('measures the region, its part and colour, the line and the trap', () => {
    bench.store.setState({ stage: 'flats' });
    const region = bench.state.survey!.regions.ofCell[bench.state.survey!.field[113 * 260 + 120]!]!;
    expect(at(120, 113, region)).toMatch(/Region \d+ +[\d,]+ px² \(\d+ mm²\) +no part +at 120, 113/);
    const partOfRegion = [...bench.state.resolved!.partOfRegion];
    partOfRegion[region] = 'coat';
    bench.store.setState({ resolved: { ...bench.state.resolved!, partOfRegion } });
    expect(at(120, 113, region)).toContain('Wren: Coat #336699');
    expect(at(42, 113, null)).toMatch(/Ink at 42, 113 +line width here [\d.]+ px .* to paper/);
    expect(at(-4, 3, null)).toBe('Outside the page.');
  });
});

describe('the hand-off panel', () => {
  let server: AnsweringServer;
  beforeEach(() => {
    Object.assign(bench, { settled: () => Promise.resolve() });
    server = new AnsweringServer();
  });

  test('warns of open regions and of scratch colours, and builds what was chosen', async () => {
    bench.store.setState({ openRegions: [0], cast: { ...bench.state.cast!, palette: 'scratch' } });
    show(<HandoffPanel />);
    expect(screen.getByText('1 region has no part and would be empty.')).toBeTruthy();
    expect(screen.getByText(/Scratch colours are in use/)).toBeTruthy();
    await user.selectOptions(screen.getByLabelText('Rule'), 'Proof');
    await user.click(screen.getByRole('button', { name: 'Build the hand-off' }));
    await waitFor(
      () =>
      expect(server.asked).toEqual([{ method: 'POST', url: '/api/jobs/j/packages', body: { pageIds: ['p'], deliveryId: 'proof' } }]), // prettier-ignore
    );
  });

  test('offers what is ready, and says what failed and what to do', async () => {
    const file = { pageId: 'p', pageRevision: 4, problem: null, sha256: null, readBack: { pictures: 5, pixels: 4200 } };
    const base = {
      jobId: 'j',
      jobName: 'Tram',
      rule: FIRST_DELIVERIES[0],
      palette: 'scene',
      createdAt: '2026-11-25T08:00:00Z',
      progress: 1,
      problem: null,
      fileName: 'tram.zip',
      sha256: null,
      sizeBytes: null,
    };
    const ready = { ...file, id: '1', state: 'ready', fileName: 'tram_flats.ora', sizeBytes: 2_800_000 };
    const problem = 'The disk is full. Free some space and build it again.';
    const failed = { ...file, id: '2', state: 'failed', fileName: 'old.ora', sizeBytes: null, problem };
    const packages = [
      { ...base, id: 'a', state: 'ready', files: [ready] },
      { ...base, id: 'b', state: 'failed', files: [failed] },
    ];
    server.answers.set('GET /api/jobs/j/packages', { body: packages });
    show(<HandoffPanel />);
    const link = await screen.findByRole('link', { name: 'tram_flats.ora' });
    expect(link.getAttribute('href')).toBe('/api/handoffs/1/file');
    expect(screen.getByText(/2.8 MB, revision 4; read again: 5 pictures, 4,200 px, no difference/)).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Go on' })).toBeTruthy();
    expect(screen.getByText(/build it again/)).toBeTruthy();
    expect(screen.queryByRole('link', { name: 'old.ora' })).toBeNull();
  });
});

test('a worklist that has the focus is walked through by arrows, and the page stays where it is', async () => {
  bench.store.setState({ stage: 'flats' });
  show(<Worklist />);
  const pressed = jest.fn();
  window.addEventListener('keydown', pressed);
  screen.getByRole('list', { name: /^Open decisions/ }).focus();
  await user.keyboard('{ArrowDown}');
  const first = bench.state.current;
  expect(first).toBe(bench.state.openRegions[0]);
  await user.keyboard('{ArrowDown}{ArrowUp}');
  expect(bench.state.current).toBe(first);
  expect(pressed).not.toHaveBeenCalled();
  window.removeEventListener('keydown', pressed);
});

test('the first steps are those of the stage, and stay away once they are put away', async () => {
  localStorage.clear();
  show(<FirstSteps />);
  expect(screen.getByText(/shows the gap with most at stake/)).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Put the first steps away' }));
  expect(screen.queryByText('First steps')).toBeNull();
  cleanup();
  show(<FirstSteps />);
  expect(screen.queryByText('First steps')).toBeNull();
});

test('the list of keys names every action, those of the stage first', () => {
  showView(<ShortcutsDialog open stage="gaps" onClose={() => undefined} />);
  for (const { words } of [...STAGES.map(({ keys }) => keys), ...Object.values(COMMON_SHORTCUTS)].flat())
    expect(screen.getAllByText(words).length).toBeGreaterThan(0);
  expect(screen.getAllByRole('heading', { level: 3 }).map((one) => one.textContent)).toEqual([
    'Gaps',
    'Line art',
    'Flats',
    'Trap',
    'Holds',
    'Check',
    'Looking',
    'Pages',
    'Everywhere',
  ]);
});

describe('the panels of trap', () => {
  const depth = { rule: 'depth', depthPx: 4 } as const;
  const fault = {
    kind: 'short',
    at: [60, 60],
    box: [50, 50, 70, 70],
    areaPx: 40,
    foundPx: 3,
    depthPx: 4.0157,
    parts: [-1, 0],
    outline: [[50, 50], [70, 50], [70, 70]],
  } as const; // prettier-ignore

  test('say that all is well, or list what is not with its measure and its remedies', async () => {
    bench.store.setState({ stage: 'trap', faults: [] });
    show(<TrapWorklist />);
    expect(screen.getByText('Colour runs under every line as it should.')).toBeTruthy();
    cleanup();
    bench.store.setState({ faults: [fault], faultKey: 'short/60,60' });
    show(<TrapWorklist />);
    expect(screen.getByText('3.0 px')).toBeTruthy();
    expect(screen.getByText(/needs 8 px/)).toBeTruthy();
    expect(screen.getByText('no part | Coat')).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Deeper' })).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Middle' }));
    await waitFor(() => expect(bench.state.document!.areas.size).toBe(1));
    expect([...bench.state.document!.areas.values()][0]).toMatchObject({ rule: { rule: 'middle' } });
  });

  test('take a rule that can be, and say why another cannot', async () => {
    bench.store.setState({ stage: 'trap', widestPx: 9 });
    show(<TrapRules />);
    await user.selectOptions(screen.getByLabelText('Rule of this page'), 'px');
    await waitFor(() => expect(bench.state.document!.trap).toMatchObject({ rule: 'depth' }));
    const length = screen.getByLabelText('Length of this page');
    await user.clear(length);
    await user.type(length, '-3{Enter}');
    expect(screen.getByText('A number of px from 0 to 200.')).toBeTruthy();
    await user.clear(length);
    await user.type(length, '4{Enter}');
    await waitFor(() => expect(bench.state.document!.trap).toEqual(depth));
    await user.selectOptions(screen.getByLabelText('Rule of this page'), 'max');
    await waitFor(() => expect(bench.state.document!.trap).toEqual({ rule: 'max', marginPx: 1 }));
    await user.clear(screen.getByLabelText('Length of this page'));
    await user.type(screen.getByLabelText('Length of this page'), '12{Enter}');
    expect(screen.getByText('Wider than any line here: the widest is 9 px.')).toBeTruthy();
    expect(bench.state.document!.trap).toEqual({ rule: 'max', marginPx: 1 });
    await user.selectOptions(screen.getByLabelText('Rule of this page'), '');
    await waitFor(() => expect(bench.state.document!.trap).toBeNull());
    await user.selectOptions(screen.getByLabelText('Under solid blacks'), 'edge');
    await waitFor(() => expect(bench.state.cast!.trap.solids).toEqual({ rule: 'edge' }));
  });
});

test('the panels of lines choose by what they are, say the rule in words, and take it back', async () => {
  bench.set({ stage: 'holds' });
  followHolds(bench);
  await waitFor(() => expect(bench.state.holds).not.toBeNull());
  show(
    <>
      <HoldWorklist />
      <HoldRules />
    </>,
  );
  await user.selectOptions(screen.getByLabelText('Choose lines by what they are'), 'All lines');
  await waitFor(() => expect(screen.getByText(/lines? chosen$/)).toBeTruthy());
  await user.selectOptions(screen.getByLabelText('How the colour is made'), 'hsl');
  await waitFor(() => expect(bench.state.holds!.ruleOf.some((rule) => rule === 0)).toBe(true));
  expect(bench.state.document!.holds.size).toBe(0);
  await user.click(screen.getByRole('button', { name: 'Apply' }));
  await waitFor(() => expect(screen.getByText(/hue 220°, saturation 40 %, lightness 25 %/)).toBeTruthy());
  await user.click(screen.getByRole('button', { name: 'Off' }));
  await waitFor(() => expect(screen.getByText(/switched off/)).toBeTruthy());
  await user.click(screen.getByRole('button', { name: 'Back to black' }));
  await waitFor(() => expect(bench.state.document!.holds.size).toBe(0));
});
