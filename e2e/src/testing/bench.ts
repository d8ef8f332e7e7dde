import { expect, type Page } from '@playwright/test';

interface OpenBench {
  readonly state: {
    readonly phase: string;
    readonly stage: string;
    readonly view: { x: number; y: number; scale: number } | null;
    readonly openRegions: readonly number[];
    readonly resolved: { partOfRegion: readonly (string | null)[] } | null;
    readonly sync: { state: string };
    readonly measuring: object | null;
  };
  readonly engine: { whenPresented: (seq: number) => Promise<number> };
  readonly turns: { readonly isIdle: boolean };
  readonly stepping: { readonly isIdle: boolean };
}
/** What tests and benchmarks ask of the bench beside what a hand can do. */
interface BenchCommands {
  readonly setView: (view: object) => number;
  readonly regionAt: (x: number, y: number) => number | null;
  readonly choosePart: (partId: string) => void;
  readonly goToPanel: (direction: 1 | -1) => void;
  readonly panels: () => readonly { readonly points: readonly (readonly [number, number])[] }[];
  readonly setWay: (way: string) => void;
  readonly addMark: (mark: object) => boolean;
  readonly spreadMarks: () => Promise<void>;
  readonly layGuide: (name: string, raster: object) => Promise<void>;
}
declare global {
  interface Window {
    jumbleBench: OpenBench;
    jumbleCommands: BenchCommands;
  }
}

/** Waits until the page on the bench is read and drawn. */
export async function whenReady(page: Page): Promise<void> {
  await page.waitForFunction(() => window.jumbleBench?.state.phase === 'ready', undefined, { timeout: 60_000 });
  await expect(page.getByTestId('page')).toBeVisible();
}

/** Goes to a stage by the rail; the page has the stage's tool then. */
export async function toStage(
  page: Page,
  name: 'Line art' | 'Gaps' | 'Flats' | 'Trap' | 'Holds' | 'Check' | 'Hand off',
): Promise<void> {
  await page.getByRole('link', { name: new RegExp(`^${name}`) }).click();
  const stage = name.replace(' ', '').toLowerCase();
  await page.waitForFunction((wanted) => window.jumbleBench.state.stage === wanted, stage);
}

/** Where a page point lies on the screen. */
export async function onScreen(page: Page, x: number, y: number): Promise<{ x: number; y: number }> {
  const box = (await page.getByTestId('page').boundingBox())!;
  const view = await page.evaluate(() => window.jumbleBench.state.view!);
  return { x: box.x + (x + 0.5 - view.x) * view.scale, y: box.y + (y + 0.5 - view.y) * view.scale };
}

export async function clickPage(
  page: Page,
  x: number,
  y: number,
  options: { button?: 'left' | 'right' } = {},
): Promise<void> {
  const at = await onScreen(page, x, y);
  await page.mouse.click(at.x, at.y, options);
}

export const openCount = (page: Page): Promise<number> =>
  page.evaluate(() => window.jumbleBench.state.openRegions.length);
export const partsGiven = (page: Page): Promise<(string | null)[]> =>
  page.evaluate(() => [...window.jumbleBench.state.resolved!.partOfRegion]);
export const whenSaved = async (page: Page): Promise<void> => {
  await page.waitForFunction(() => window.jumbleBench.state.sync.state === 'saved');
};

/** Waits until nothing is under way: all is stored, read, divided and measured as the document says. */
export async function whenQuiet(page: Page): Promise<void> {
  await page.waitForFunction(() => {
    const { state, turns, stepping } = window.jumbleBench;
    const isDone = state.phase === 'ready' && state.sync.state === 'saved' && state.measuring === null;
    return isDone && turns.isIdle && stepping.isIdle;
  });
}

/** Checks that the picture is what it would be if all of it were composed anew: nothing that changed was left out. */
export async function expectWholePicture(page: Page): Promise<void> {
  // What is said over the page would hide it, and goes by itself.
  await expect(page.getByRole('alert')).toHaveCount(0);
  const shown = await steadyPicture(page);
  await page.evaluate(async () => {
    const { jumbleBench: bench, jumbleCommands } = window;
    const view = bench.state.view!;
    await bench.engine.whenPresented(jumbleCommands.setView({ ...view, scale: view.scale * 1.5 }));
    await bench.engine.whenPresented(jumbleCommands.setView(view));
  });
  // While a zoom goes on the picture is coarse.
  await expect.poll(async () => shown.equals(await page.getByTestId('page').screenshot())).toBe(true);
}

/** The page's picture once it stays as it is. */
async function steadyPicture(page: Page): Promise<Buffer> {
  let before = await page.getByTestId('page').screenshot();
  for (;;) {
    const now = await page.getByTestId('page').screenshot();
    if (now.equals(before)) return now;
    before = now;
  }
}
