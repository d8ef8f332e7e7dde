import type { Survey } from '../model/Survey.ts';
import type { Ruling } from '../model/Ruling.ts';
import { divideRegions } from '../regions/divideRegions.ts';
import { cutPage } from './cutPage.ts';
import type { InkBase, OpenSurvey } from './OpenSurvey.ts';
import { joinBoxes, recutPage, type PixelBox } from './recutPage.ts';

/**
 * A page that is worked on. It owns the field of the page, which every cut writes over: {@link survey} is the page as it
 * is cut now, and a survey from before the last cut holds no longer.
 */
export class WorkingPage implements OpenSurvey {
  /** What the page is divided by now. */
  private rulings: ReadonlyMap<string, Ruling>;

  constructor(
    readonly base: InkBase,
    private now: Survey,
    private drawnNow: readonly string[],
    rulings: ReadonlyMap<string, Ruling>,
  ) {
    this.rulings = rulings;
  }

  get survey(): Survey {
    return this.now;
  }

  /** Closures drawn by hand that the paper is cut by, as keys. */
  get drawn(): readonly string[] {
    return this.drawnNow;
  }

  /** Applies other rulings and another largest gap, up to `gapsFoundToPx`. Cost: by cells, not by pixels. */
  rule(maxGapPx: number, rulings: ReadonlyMap<string, Ruling>): void {
    this.rulings = rulings;
    this.now = ruleSurvey(this.now, maxGapPx, rulings);
  }

  /**
   * Cuts the paper by other closures drawn by hand, and applies the rulings anew. Where the change can be told by the
   * cells it touches, only these are divided again.
   *
   * @returns the paper that has other cells now; null for none.
   */
  cut(drawn: readonly string[], maxGapPx: number, rulings: ReadonlyMap<string, Ruling>): PixelBox | null {
    const { graph, changed } = recutPage(this.base, this.now.graph, drawn) ?? {
      graph: cutPage(this.base, drawn),
      changed: [0, 0, this.now.width, this.now.height] as const,
    };
    this.drawnNow = drawn;
    this.now = { ...this.now, graph, cellCount: graph.cells.count };
    this.rule(maxGapPx, rulings);
    return changed;
  }

  /**
   * Does what may cut the page, and cuts it back: what would come of it is found without doing it.
   *
   * @returns also the paper that was written over on the way; null for none.
   */
  trying<T extends { readonly changed: PixelBox | null }>(work: () => T): { done: T; changed: PixelBox | null } {
    const { drawnNow, rulings } = this;
    const { maxGapPx } = this.now;
    const done = work();
    if (this.drawnNow.join() === drawnNow.join()) return { done, changed: done.changed };
    return { done, changed: joinBoxes(done.changed, this.cut(drawnNow, maxGapPx, rulings)) };
  }
}

/** The same survey with other rulings and another largest gap, up to `gapsFoundToPx`. Cost: by cells, not by pixels. */
export function ruleSurvey(survey: Survey, maxGapPx: number, rulings: ReadonlyMap<string, Ruling>): Survey {
  const { graph, field, width, height, crumbLimitPx2 } = survey;
  const lineWidthPx = survey.lineWidthPx.median;
  return {
    ...survey,
    maxGapPx,
    ...divideRegions(graph, field, width, height, { lineWidthPx, maxGapPx, crumbLimitPx2, rulings }),
  };
}
