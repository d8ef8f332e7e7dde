import type { Page } from '@playwright/test';

/** A drag over the page with 120 pointer events a second; which of the regions it crossed did not take the part. */
export async function sweepFast(page: Page): Promise<{ crossed: number; missed: number; perSecond: number }> {
  const box = (await page.getByTestId('page').boundingBox())!;
  const at = (k: number): [number, number] => [
    Math.round(box.x + box.width * (0.5 + 0.2 * Math.sin(k / 31))),
    Math.round(box.y + box.height * (0.5 + 0.4 * Math.sin(k / 47))),
  ];
  const way = Array.from({ length: 361 }, (_, k) => at(k));
  await page.mouse.move(...way[0]!);
  await page.mouse.down();
  // Straight to the browser: waiting for every event to be answered would be far too slow.
  const input = await page.context().newCDPSession(page);
  const sent: Promise<unknown>[] = [];
  const started = performance.now();
  for (let k = 1; k < way.length; k++) {
    const [x, y] = way[k]!;
    sent.push(input.send('Input.dispatchMouseEvent', { type: 'mouseMoved', x, y, button: 'left', buttons: 1 }));
    const early = started + (k * 1000) / 120 - performance.now();
    if (early > 0) await new Promise((resolve) => setTimeout(resolve, early));
  }
  await Promise.all(sent);
  const seconds = (performance.now() - started) / 1000;
  await page.mouse.up();
  await page.waitForTimeout(400);
  const { crossed, missed } = await page.evaluate(
    ({ points, left, top }) => {
      const bench = window.jumbleBench as unknown as {
        state: {
          view: { x: number; y: number; scale: number };
          partId: string;
          resolved: { partOfRegion: (string | null)[] };
        };
      };
      const { view, partId, resolved } = bench.state;
      const onPage = ([x, y]: readonly [number, number]): [number, number] => [
        Math.floor(view.x + (x - left) / view.scale),
        Math.floor(view.y + (y - top) / view.scale),
      ];
      const regions = new Set<number>();
      for (let k = 1; k < points.length; k++) {
        const [[ax, ay], [bx, by]] = [onPage(points[k - 1]!), onPage(points[k]!)];
        const steps = Math.max(1, Math.abs(bx - ax), Math.abs(by - ay));
        for (let n = 0; n <= steps; n++) {
          const region = window.jumbleCommands.regionAt(
            Math.round(ax + ((bx - ax) * n) / steps),
            Math.round(ay + ((by - ay) * n) / steps),
          );
          if (region !== null) regions.add(region);
        }
      }
      const lost = [...regions].filter((region) => resolved.partOfRegion[region] !== partId);
      return { crossed: regions.size, missed: lost.length };
    },
    { points: way, left: box.x, top: box.y },
  );
  return { crossed, missed, perSecond: (way.length - 1) / seconds };
}
