import { expect, test } from '@jest/globals';
import { TimeKeeper } from './TimeKeeper.ts';

function keeper(): { keeper: TimeKeeper; worked: number[][]; back: number[][] } {
  const [worked, back]: number[][][] = [[], []];
  return {
    keeper: new TimeKeeper(60_000, {
      onWorked: (from, to) => worked!.push([from, to]),
      onBack: (from, to) => back!.push([from, to]),
    }),
    worked: worked!,
    back: back!,
  };
}

test('time is counted from act to act, in spans, and cut where nothing is done for a minute', () => {
  const { keeper: one, worked, back } = keeper();
  for (let at = 0; at <= 70_000; at += 10_000) one.act(at);
  one.tick(131_000);
  one.tick(200_000);
  expect(worked).toEqual([[0, 30_000], [30_000, 60_000], [60_000, 70_000]]); // prettier-ignore
  // Back after three minutes: that could have been work; after two hours it was not.
  one.act(250_000);
  expect(back).toEqual([[70_000, 250_000]]);
  one.act(260_000);
  one.flush();
  one.act(2 * 3_600_000 + 260_000);
  expect(back).toHaveLength(1);
  expect(worked.at(-1)).toEqual([250_000, 260_000]);
});

test('nothing is counted twice, and nothing before anything is done', () => {
  const { keeper: one, worked } = keeper();
  one.tick(5);
  one.flush();
  one.act(10);
  one.flush();
  expect(worked).toEqual([]);
  one.act(500);
  one.flush();
  one.flush();
  expect(worked).toEqual([[10, 500]]);
});
