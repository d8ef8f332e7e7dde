import { proposeFromExamples } from '@jumble/core';
import { range } from '../gaps/lessons.ts';
import type { Row } from '../printTable.ts';
import { demoTasks, stagedTasks, type ExampleTask } from './examplePages.ts';

/** Staged pages that nothing was fitted on. */
const SEEDS = range(101, 112);
const BANDS = 5;
/** Fewer regions than this do not say how many of them are right. */
const LEAST_IN_BAND = 100;

/** Proposals from done pages: how many are right, and whether confidence is worth its name. */
export async function measureExamples(): Promise<Row[]> {
  const { few, more } = await stagedTasks(SEEDS);
  return [
    ...rowsOf('from the two told pages', few, `${SEEDS.length} pages staged by chance that nothing was fitted on`),
    ...rowsOf('from six done pages', more, 'the same with four more of them done'),
    ...rowsOf('from the one other told page', await demoTasks(), 'weights are fitted on these, among others'),
  ];
}

function rowsOf(what: string, tasks: readonly ExampleTask[], note: string): Row[] {
  const bands = Array.from({ length: BANDS }, () => ({ count: 0, right: 0, sum: 0 }));
  for (const { page, done } of tasks) {
    for (const { region, part, confidence } of proposeFromExamples(page.traits, () => true, done)) {
      const band = bands[Math.min(BANDS - 1, Math.floor(confidence * BANDS))]!;
      band.count++;
      band.sum += confidence;
      if (part === page.parts[region]) band.right++;
    }
  }
  const count = bands.reduce((sum, band) => sum + band.count, 0);
  const right = bands.reduce((sum, band) => sum + band.right, 0) / count;
  return [
    { what: `${what}: proposals right`, value: right, unit: '', note: `${count} regions; ${note}` },
    ...bands.flatMap(({ count: n, right: good, sum }, k): Row[] => {
      if (n < LEAST_IN_BAND) return [];
      const band = `${(k / BANDS).toFixed(1)} to ${((k + 1) / BANDS).toFixed(1)}`;
      return [
        {
          what: `${what}, confidence ${band}: off by`,
          value: Math.abs(good / n - sum / n),
          unit: '',
          target: { most: 0.05 },
          note: `${n} regions, ${(good / n).toFixed(2)} right`,
        },
      ];
    }),
  ];
}
