import type { Page } from '@playwright/test';
import { sampleLatencies } from './latencies.ts';

/** Closures that are drawn. */
const CLOSURES = 14;

/** A page is looked at before anything is drawn on it. */
const LOOK_MS = 5000;

/** A closure to be drawn from ink to ink, in px of the picture. */
interface Stroke {
  readonly x: number;
  readonly from: number;
  readonly to: number;
}

/**
 * Draws closures with the pen, each down through the middle of a large region, and measures from the pen's going up to
 * the frame that shows the page divided, in ms each.
 *
 * @param page at its gaps.
 */
export async function closureLatencies(page: Page): Promise<number[]> {
  const strokes = await strokesAcross(page);
  await page.waitForTimeout(LOOK_MS);
  const taken = await sampleLatencies(page, 'pointerup', 'paint');
  const box = (await page.getByTestId('page').boundingBox())!;
  for (const { x, from, to } of strokes) {
    await page.mouse.move(box.x + x, box.y + from);
    await page.mouse.down();
    await page.mouse.move(box.x + x, box.y + to, { steps: 3 });
    await page.waitForTimeout(60);
    await page.mouse.up();
    await page.waitForTimeout(900);
  }
  const samples = await taken();
  if (samples.length < strokes.length / 2)
    throw new Error(`Of ${strokes.length} closures ${samples.length} were drawn.`);
  return samples;
}

function strokesAcross(page: Page): Promise<Stroke[]> {
  return page.evaluate((most) => {
    const { survey, view } = window.jumbleBench.state as unknown as {
      survey: {
        width: number;
        height: number;
        field: Int32Array;
        regions: { areaPx: Uint32Array; anchor: Int32Array };
      };
      view: { x: number; y: number; scale: number };
    };
    const { width, height, field, regions } = survey;
    const byArea = [...regions.areaPx.keys()].sort((a, b) => regions.areaPx[b]! - regions.areaPx[a]!);
    const strokes: Stroke[] = [];
    // The largest is what lies around the panels.
    for (const region of byArea.slice(1)) {
      const at = regions.anchor[region]!;
      const x = at % width;
      let from = Math.floor(at / width);
      let to = from;
      while (from > 0 && field[from * width + x]! >= 0) from--;
      while (to < height - 1 && field[to * width + x]! >= 0) to++;
      if (from === 0 || to === height - 1) continue;
      const [left, top, bottom] = [x - view.x, from - view.y, to - view.y].map((v) => (v + 0.5) * view.scale);
      strokes.push({ x: left!, from: top!, to: bottom! });
      if (strokes.length === most) break;
    }
    return strokes;
  }, CLOSURES);
}
