import type { Page } from '@playwright/test';

/** What the bench of the page is asked for here. */
interface Sampled {
  readonly engine: Record<string, (...args: unknown[]) => unknown> & {
    readonly seq: number;
    whenPresented(seq: number): Promise<number>;
  };
}

/**
 * Notes, for every event of a kind that comes to a message to the drawing worker, the time from the event's own
 * stamp to the frame after the one in which the worker handed the picture over, in ms.
 *
 * @returns takes the samples noted until then.
 */
export async function sampleLatencies(
  page: Page,
  event: 'pointerdown' | 'pointermove' | 'pointerup' | 'keydown',
  message: 'patch' | 'wayDraft' | 'paint' | 'showCells',
): Promise<() => Promise<number[]>> {
  const name = `${message}Samples`;
  await page.evaluate(
    ([kind, method, list]) => {
      const bench = window.jumbleBench as unknown as Sampled;
      const samples: number[] = [];
      Object.assign(window, { [list]: samples });
      let started: number | null = null;
      // What takes longer than to the next event counts from the first that is not answered.
      window.addEventListener(
        kind,
        (one) => {
          if (kind !== 'pointermove' || (one as PointerEvent).buttons > 0) started ??= one.timeStamp;
        },
        true,
      );
      const send = bench.engine[method]!.bind(bench.engine);
      Object.assign(bench.engine, {
        [method]: (...args: unknown[]) => {
          const answer = send(...args);
          const from = started;
          started = null;
          if (from !== null)
            void bench.engine
              .whenPresented(bench.engine.seq)
              .then((at) => samples.push(at - performance.timeOrigin - from));
          return answer;
        },
      });
    },
    [event, message, name] as const,
  );
  return () => page.evaluate((list) => (window as unknown as Record<string, number[]>)[list]!, name);
}

/** From the pointer's going down on a region to the frame that shows it given, for 120 regions. */
export async function clickLatencies(page: Page): Promise<number[]> {
  const samples = await sampleLatencies(page, 'pointerdown', 'patch');
  const targets = await page.evaluate(() => {
    const { survey, openRegions, view } = window.jumbleBench.state as unknown as {
      survey: { width: number; regions: { anchor: Int32Array } };
      openRegions: number[];
      view: { x: number; y: number; scale: number };
    };
    return openRegions.slice(0, 120).map((region) => {
      const at = survey.regions.anchor[region]!;
      return [
        ((at % survey.width) - view.x + 0.5) * view.scale,
        (Math.floor(at / survey.width) - view.y + 0.5) * view.scale,
      ] as const;
    });
  });
  const box = (await page.getByTestId('page').boundingBox())!;
  for (const [x, y] of targets) {
    await page.mouse.move(box.x + x, box.y + y);
    await page.waitForTimeout(40);
    await page.mouse.down();
    await page.waitForTimeout(60);
    await page.mouse.up();
  }
  await page.waitForTimeout(500);
  return samples();
}

/**
 * From the pointer's moves of a loop round most of the page to the frame that shows what it takes: the shapes it
 * encloses, or the silhouette.
 */
export async function loopLatencies(page: Page, takes: 'Shapes' | 'Silhouette'): Promise<number[]> {
  await page.keyboard.press('Home');
  await page.keyboard.press('Shift+2');
  await page.getByRole('button', { name: takes }).click();
  const samples = await sampleLatencies(page, 'pointermove', takes === 'Shapes' ? 'wayDraft' : 'showCells');
  const box = (await page.getByTestId('page').boundingBox())!;
  const at = (k: number): [number, number] => [
    box.x + box.width * (0.5 + 0.22 * Math.cos((k / 90) * 6.28)),
    box.y + box.height * (0.5 + 0.42 * Math.sin((k / 90) * 6.28)),
  ];
  await page.mouse.move(...at(0));
  await page.mouse.down();
  for (let k = 1; k < 88; k++) {
    await page.mouse.move(...at(k));
    await page.waitForTimeout(30);
  }
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await page.waitForTimeout(300);
  return samples();
}

/** From the key of undo to the frame that shows the regions as before, and to the one with the counts, 40 times. */
export async function undoLatencies(page: Page): Promise<{ readonly picture: number[]; readonly counts: number[] }> {
  const picture = await sampleLatencies(page, 'keydown', 'paint');
  await page.evaluate(() => {
    const counts: number[] = [];
    Object.assign(window, { countSamples: counts });
    let started: number | null = null;
    window.addEventListener('keydown', (event) => event.key === 'z' && (started = event.timeStamp), true);
    const rail = document.querySelector('[aria-label="Stages"]')!;
    new MutationObserver(() => {
      const from = started;
      started = null;
      if (from !== null) requestAnimationFrame(() => counts.push(performance.now() - from));
    }).observe(rail, { subtree: true, characterData: true, childList: true });
  });
  for (let k = 0; k < 40; k++) {
    await page.keyboard.press('Control+z');
    await page.waitForTimeout(250);
  }
  return {
    picture: await picture(),
    counts: await page.evaluate(() => (window as unknown as { countSamples: number[] }).countSamples),
  };
}
