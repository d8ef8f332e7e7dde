import type { JobView } from '@jumble/contracts';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { editSeen } from '@jumble/core';
import { act, cleanup, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { step } from './page/steps.ts';
import { HistoryDialog } from './HistoryDialog.tsx';
import { StageRail } from './StageRail.tsx';
import type { BenchState } from './state/benchState.ts';
import { BenchContext } from './state/benchContext.ts';
import { openTestBench, type TestBench } from './tests/testBench.ts';
import { hut } from './tests/testPages.ts';

let bench: TestBench;
const user = userEvent.setup();
/** A busy machine takes its time. */
const PATIENCE = { timeout: 20_000 };
/** Which steps the server was asked to take back or do again. */
const asked = (): unknown[] =>
  bench.server.requests
    .filter(({ method, url }) => method === 'POST' && url.endsWith('/history'))
    .map(({ body }) => body);
beforeEach(async () => {
  bench = await openTestBench(hut(12));
});
afterEach(cleanup);

const show = (children: ReactNode): void => {
  render(
    <MemoryRouter>
      <BenchContext.Provider value={bench}>{children}</BenchContext.Provider>
    </MemoryRouter>,
  );
};

/** Two steps, the second taken back. */
async function oneUndone(): Promise<void> {
  bench.push({ label: 'Assign 3 regions to Coat', edits: [editSeen('a', true)] });
  bench.push({ label: 'Assign 1 region to Hair', edits: [editSeen('b', true)] });
  await step(bench, 'undo');
}

describe('the rail', () => {
  const job = { name: 'The Understory Line', pages: [{ id: 'o' }, { id: 'p' }] } as unknown as JobView;
  const rail = (stage = 'flats'): ReactNode => (
    <StageRail
      job={job}
      stage={stage}
      onPage={() => undefined}
      onShortcuts={() => undefined}
      onHistory={() => undefined}
    />
  );
  const stage = (name: string): HTMLElement => screen.getByRole('link', { name: new RegExp(`^${name}`) });

  test('says what is open in each stage, and follows it', () => {
    bench.store.setState({ openGaps: ['a', 'b'], openRegions: [1, 0], lookRegions: [] });
    show(rail());
    expect(stage('Line art').textContent).toBe('Line art…');
    expect(stage('Gaps').textContent).toBe('Gaps2 to rule on');
    expect(stage('Flats').textContent).toBe('Flats2 open');
    expect(stage('Hand off').textContent).toBe('Hand off2 empty');
    act(() => bench.store.setState({ openGaps: [], openRegions: [], lookRegions: [1], islands: [1] }));
    expect(stage('Gaps').textContent).toBe('Gapsdone');
    expect(stage('Flats').textContent).toBe('Flats1 to look at');
    expect(stage('Hand off').textContent).toBe('Hand offready');
    act(() => bench.store.setState({ lookRegions: [], islands: [] }));
    expect(stage('Flats').textContent).toBe('Flatsdone');
  });

  test('calls no trap done before there are colours', () => {
    const all = Array.from({ length: bench.state.survey!.regions.count }, (_, k) => k);
    bench.store.setState({ faults: [], openRegions: all });
    show(rail());
    expect(stage('Trap').textContent).toBe('Trapnothing filled');
    act(() => bench.store.setState({ openRegions: all.slice(1) }));
    expect(stage('Trap').textContent).toBe('Trapdone');
  });

  test('stands at its stage, its page among the others, and leads to the rest', () => {
    show(rail('gaps'));
    expect(stage('Gaps').getAttribute('aria-current')).toBe('step');
    expect(stage('Flats').getAttribute('aria-current')).toBeNull();
    expect(stage('Hand off').getAttribute('href')).toBe('/jobs/j/pages/p/handoff');
    expect(screen.getByRole('heading', { level: 1 }).textContent).toBe('Page 2 of 2');
  });

  test('counts nothing before the page is read', () => {
    bench.store.setState({ phase: 'reading', openRegions: [0] } as Partial<BenchState>);
    show(rail());
    for (const name of ['Gaps', 'Flats', 'Hand off']) expect(stage(name).textContent).toBe(`${name}…`);
  });

  test('names the step that undo and redo would do', async () => {
    show(rail());
    for (const name of ['Undo', 'Redo'])
      expect(screen.getByRole<HTMLButtonElement>('button', { name }).disabled).toBe(true);
    await act(oneUndone);
    await user.hover(screen.getByRole('button', { name: 'Undo' }));
    expect(await screen.findByText('Undo: Assign 3 regions to Coat (Ctrl+Z)', {}, PATIENCE)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Redo' }));
    await waitFor(() => expect(asked()).toEqual([{ direction: 'undo' }, { direction: 'redo' }]), PATIENCE);
  });
});

describe('the history', () => {
  test('lists steps, the latest first, and goes to any of them', async () => {
    await oneUndone();
    show(<HistoryDialog open onClose={() => undefined} />);
    const rows = screen.getAllByRole('listitem').map((row) => row.textContent);
    expect(rows[0]).toMatch(/Assign 1 region to Hairundone/);
    expect(rows[1]).toMatch(/Assign 3 regions to Coat$/);
    await user.click(screen.getByRole('button', { name: 'Go to here' }));
    await waitFor(() => expect(asked()).toEqual([{ direction: 'undo' }, { direction: 'redo' }]), PATIENCE);
    expect(bench.state.document!.seen.has('b')).toBe(true);
  });

  test('shows what was taken back as undone even when something new was done after it', async () => {
    await oneUndone();
    bench.push({ label: 'Assign 2 regions to Coat', edits: [editSeen('c', true)] });
    await bench.settled();
    show(<HistoryDialog open onClose={() => undefined} />);
    const rows = screen.getAllByRole('listitem').map((row) => row.textContent);
    expect(rows[0]).toMatch(/Assign 2 regions to Coat$/);
    // Nothing leads there any more.
    expect(rows[1]).toMatch(/Assign 1 region to Hairundone$/);
    expect(rows[2]).toMatch(/Assign 3 regions to CoatGo to here$/);
  });

  test('is not made while it is closed', async () => {
    await oneUndone();
    show(<HistoryDialog open={false} onClose={() => undefined} />);
    expect(screen.queryAllByRole('listitem')).toEqual([]);
  });
});
