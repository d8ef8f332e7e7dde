import type { JobView } from '@jumble/contracts';
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { HistoryDialog } from './HistoryDialog.tsx';
import { StageRail } from './StageRail.tsx';
import type { Bench } from './state/Bench.ts';
import type { BenchState } from './state/benchState.ts';
import { BenchContext } from './state/benchContext.ts';
import { FakeBench, hut } from './tests/fakeBench.ts';

let bench: FakeBench;
const user = userEvent.setup();
const stepBack = jest.fn<(direction: string) => Promise<void>>(() => Promise.resolve());
const goToStep = jest.fn<(seq: number) => Promise<void>>(() => Promise.resolve());
beforeEach(() => {
  stepBack.mockClear();
  goToStep.mockClear();
  bench = Object.assign(new FakeBench().open(hut(12)), { steps: { step: stepBack, goTo: goToStep } });
});
afterEach(cleanup);

const show = (children: ReactNode): void => {
  render(
    <MemoryRouter>
      <BenchContext.Provider value={bench as unknown as Bench}>{children}</BenchContext.Provider>
    </MemoryRouter>,
  );
};

/** Steps as the server logs them: two done, the second taken back. */
function oneUndone(): BenchState['history'] {
  const step = { scope: 'page', revision: 1, at: '2026-11-25T08:00:00Z', of: null } as const;
  return [
    { ...step, seq: 1, kind: 'do', label: 'Give 3 regions to Coat' },
    { ...step, seq: 2, kind: 'do', label: 'Give 1 region to Hair' },
    { ...step, seq: 3, kind: 'undo', label: 'Undo', of: 2 },
  ];
}

describe('the rail', () => {
  const job = { name: 'The Understory Line', pages: [{ id: 'o' }, { id: 'p' }] } as unknown as JobView;
  const rail = (stage = 'flats'): ReactNode => (
    <StageRail job={job} stage={stage} onPage={() => undefined} onKeys={() => undefined} onHistory={() => undefined} />
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
    act(() => bench.store.setState({ history: oneUndone() }));
    await user.hover(screen.getByRole('button', { name: 'Undo' }));
    expect(await screen.findByText('Undo: Give 3 regions to Coat (Ctrl+Z)')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Redo' }));
    expect(stepBack.mock.calls).toEqual([['redo']]);
  });
});

describe('the history', () => {
  test('lists steps, the latest first, and goes to any of them', async () => {
    bench.store.setState({ history: oneUndone() });
    show(<HistoryDialog open onClose={() => undefined} />);
    const rows = screen.getAllByRole('listitem').map((row) => row.textContent);
    expect(rows[0]).toMatch(/Give 1 region to Hairundone/);
    expect(rows[1]).toMatch(/Give 3 regions to Coat$/);
    await user.click(screen.getByRole('button', { name: 'Go to here' }));
    expect(goToStep.mock.calls).toEqual([[2]]);
  });

  test('shows what was taken back as undone even when something new was done after it', () => {
    const last = oneUndone().at(-1)!;
    bench.store.setState({
      history: [...oneUndone(), { ...last, seq: 4, kind: 'do', of: null, label: 'Give 2 regions to Coat' }],
    });
    show(<HistoryDialog open onClose={() => undefined} />);
    const rows = screen.getAllByRole('listitem').map((row) => row.textContent);
    expect(rows[0]).toMatch(/Give 2 regions to Coat$/);
    // Nothing leads there any more.
    expect(rows[1]).toMatch(/Give 1 region to Hairundone$/);
    expect(rows[2]).toMatch(/Give 3 regions to CoatGo to here$/);
  });

  test('is not made while it is closed', () => {
    bench.store.setState({ history: oneUndone() });
    show(<HistoryDialog open={false} onClose={() => undefined} />);
    expect(screen.queryAllByRole('listitem')).toEqual([]);
  });
});
