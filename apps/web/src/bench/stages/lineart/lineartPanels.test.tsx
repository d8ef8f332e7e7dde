import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { NoticeProvider } from '../../../notices/NoticeProvider.tsx';
import { BenchContext } from '../../state/benchContext.ts';
import { openTestBench, type TestBench } from '../../tests/testBench.ts';
import { scannedPage } from '../../tests/testPages.ts';
import { CleanUp } from './CleanUp.tsx';
import { Facts } from './Facts.tsx';
import { InkFiles } from './InkFiles.tsx';
import { LineArtWorklist } from './LineArtWorklist.tsx';
import { Panels } from './Panels.tsx';
import { measure } from './measuring.ts';

let bench: TestBench;
const user = userEvent.setup();
beforeEach(async () => {
  Element.prototype.scrollIntoView = () => undefined;
  // The chart measures its text on a canvas, which there is none of here.
  HTMLCanvasElement.prototype.getContext = () => null;
  bench = await openTestBench(scannedPage(), { stage: 'lineart' });
  Object.assign(bench.engine, { crop: () => new Promise(() => undefined) });
  await measure(bench);
});
afterEach(cleanup);
const show = (children: ReactNode): void => {
  render(
    <NoticeProvider>
      <MemoryRouter>
        <BenchContext.Provider value={bench}>{children}</BenchContext.Provider>
      </MemoryRouter>
    </NoticeProvider>,
  );
};

describe('the Line art worklist', () => {
  test('lists decisions with what the keys do, and leads on when nothing is left', async () => {
    show(<LineArtWorklist />);
    expect(screen.getByText('3 to decide')).toBeTruthy();
    await user.click(screen.getByText('3 specks'));
    expect(screen.getByText(/wipe out/)).toBeTruthy();
    cleanup();
    bench.store.setState({ lineDecisions: [] });
    show(<LineArtWorklist />);
    expect(screen.getByRole('link', { name: 'Go on to Gaps' }).getAttribute('href')).toBe('/jobs/j/pages/p/gaps');
  });
});

describe('the reading of the drawing', () => {
  test('takes ink and paper points as whole numbers within bounds', async () => {
    show(<CleanUp />);
    const paper = screen.getByLabelText('Paper from');
    await user.clear(paper);
    await user.type(paper, '300{Enter}');
    expect(screen.getByText(/to 255$/)).toBeTruthy();
    expect(bench.pushed).toEqual([]);
    await user.clear(paper);
    await user.type(paper, '200{Enter}');
    expect(bench.pushed.at(-1)!.label).toBe('Set the paper point to 200');
    expect(bench.state.survey!.inkPoints.whitePoint).toBe(200);
    await user.click(screen.getByRole('button', { name: 'Auto' }));
    expect(bench.state.document!.prep.inkPoints).toBe('auto');
  });

  test('takes detail by width and length, and evenness by a switch', async () => {
    show(<CleanUp />);
    const thin = screen.getByLabelText('thinner than, px');
    await user.clear(thin);
    await user.type(thin, '3{Enter}');
    expect(bench.state.document!.prep.detail).toEqual({ thinnerThanPx: 3, shorterThanPx: 0 });
    await user.click(screen.getByLabelText('Even out the paper'));
    expect(bench.state.document!.prep.flatten).toBe(true);
  });
});

describe('the facts', () => {
  test('have their units, in px and in mm', () => {
    show(<Facts />);
    expect(screen.getByText('420 x 320 px')).toBeTruthy();
    expect(screen.getByText('36 x 27 mm at 300 dpi')).toBeTruthy();
    expect(screen.getByText('hard (1-bit)')).toBeTruthy();
    expect(screen.getByText(/^grey 214, even within 0$/)).toBeTruthy();
  });
});

describe('the panels', () => {
  test('say what holds and what does not, and are corrected', async () => {
    show(<Panels />);
    expect(screen.getByText(/holds a fill as it is|needs closing/)).toBeTruthy();
    await user.click(screen.getByText('1'));
    expect(bench.state.panelPicked).toBe(0);
    await user.click(screen.getByRole('button', { name: 'Delete this panel' }));
    expect(bench.state.document!.panels).toEqual([]);
    await user.click(screen.getByRole('button', { name: 'Find again' }));
    expect(bench.state.document!.panels).toBeNull();
  });
});

describe('the ink files', () => {
  test('are named, and left out of the regions', async () => {
    show(<InkFiles />);
    await user.click(screen.getByLabelText('page bounds regions'));
    expect(bench.state.document!.inks.get('main')).toEqual({ name: 'page', order: 0, bounds: false });
    const name = screen.getByLabelText('Name of the ink file');
    await user.clear(name);
    await user.type(name, 'Figures{Enter}');
    expect(bench.state.document!.inks.get('main')!.name).toBe('Figures');
  });
});
