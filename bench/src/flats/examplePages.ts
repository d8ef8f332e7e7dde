import { DEFAULT_PREP, describeRegions, findPanels, openSurvey, type ExamplePage, type GreyRaster } from '@jumble/core';
import { STEADY_PAGE_COUNT, renderInk, renderStagedPage, renderTruth, truthFills } from '@jumble/demo';

/** A page to propose for, and the done pages it is proposed from. */
export interface ExampleTask {
  readonly page: ExamplePage & { readonly parts: readonly string[] };
  readonly done: readonly ExamplePage[];
}

/** Staged pages that say how it is where more pages are done. */
const MORE = 4;

/** Each page of the demo, from the other ones. */
export async function demoTasks(): Promise<ExampleTask[]> {
  const pages = await demoExamples();
  return pages.map((page) => ({ page, done: pages.filter((one) => one !== page) }));
}

/** Staged pages from those of the demo, and from these and four more. */
export async function stagedTasks(seeds: readonly number[]): Promise<{ few: ExampleTask[]; more: ExampleTask[] }> {
  const done = await demoExamples();
  const pages: ExampleTask['page'][] = [];
  for (const seed of seeds) {
    const { ink, truth } = await renderStagedPage(seed);
    pages.push(exampleOf(ink, truth));
  }
  return {
    few: pages.map((page) => ({ page, done })),
    more: pages.map((page, k) => ({
      page,
      done: [...done, ...Array.from({ length: MORE }, (_, j) => pages[(k + j + 1) % pages.length]!)],
    })),
  };
}

async function demoExamples(): Promise<ExampleTask['page'][]> {
  const pages: ExampleTask['page'][] = [];
  for (let number = 1; number <= STEADY_PAGE_COUNT; number++) {
    pages.push(exampleOf(await renderInk(number), await renderTruth(number)));
  }
  return pages;
}

function exampleOf(ink: GreyRaster, truth: Uint8Array): ExampleTask['page'] {
  const open = openSurvey(ink, DEFAULT_PREP);
  const { inkAlpha, width, height } = open.survey;
  const parts = truthFills(ink, truth, DEFAULT_PREP).fills.map((fill) => fill.part);
  return { traits: describeRegions(open, findPanels(inkAlpha, width, height)), parts };
}
