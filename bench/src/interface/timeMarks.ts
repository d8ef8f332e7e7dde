import type { Page } from '@playwright/test';

/** Marks spread over the whole page, and others over a panel, one more each time, in ms each. */
export function timeMarks(page: Page): Promise<{ spreadMs: number; panelMs: number[]; regions: number }> {
  return page.evaluate(async () => {
    const bench = window.jumbleBench as unknown as {
      state: { survey: { width: number; height: number; regions: { count: number } }; partId: string; facts: unknown };
    };
    const { addMark, spreadMarks, goToPanel, panels } = window.jumbleCommands;
    const { width, height, regions } = bench.state.survey;
    const part = bench.state.partId;
    for (const share of [0.2, 0.5, 0.8]) {
      addMark({
        part,
        points: [
          [Math.round(width * 0.1), Math.round(height * share)],
          [Math.round(width * 0.9), Math.round(height * share)],
        ],
      });
    }
    let started = performance.now();
    await spreadMarks();
    const spreadMs = performance.now() - started;
    while (bench.state.facts === null) await new Promise((resolve) => setTimeout(resolve, 100));
    goToPanel(1);
    const corners = panels()[0]!.points;
    const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
    const between = (of: readonly number[], share: number): number =>
      Math.round(Math.min(...of) + share * (Math.max(...of) - Math.min(...of)));
    const panelMs: number[] = [];
    for (const share of [0.5, 0.3, 0.7, 0.4, 0.6]) {
      addMark({
        part,
        points: [
          [between(xs, 0.1), between(ys, share)],
          [between(xs, 0.9), between(ys, share)],
        ],
      });
      // The list of the panel is up by the time a hand has drawn a mark.
      await new Promise((resolve) => setTimeout(resolve, 1000));
      started = performance.now();
      await spreadMarks();
      panelMs.push(performance.now() - started);
    }
    goToPanel(-1);
    return { spreadMs, panelMs, regions: regions.count };
  });
}
