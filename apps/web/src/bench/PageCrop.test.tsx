import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, render } from '@testing-library/react';
import type { ReactNode } from 'react';
import type { CropOf } from './engine/messages.ts';
import { PageCrop } from './PageCrop.tsx';
import { BenchContext } from './state/benchContext.ts';
import { openTestBench, type TestBench } from './tests/testBench.ts';
import { hut } from './tests/testPages.ts';

/** Tells when a picture comes into view. */
let look: (inView: boolean) => void = () => undefined;
let left = 0;
class Observer {
  constructor(tell: (entries: { isIntersecting: boolean }[]) => void) {
    look = (inView) => tell([{ isIntersecting: inView }]);
  }
  observe(): void {}
  disconnect(): void {
    left++;
  }
}

let bench: TestBench;
let asked: CropOf[];
beforeEach(async () => {
  jest.useFakeTimers();
  // Nothing is drawn here: only what is asked for counts.
  HTMLCanvasElement.prototype.getContext = () => null;
  Object.assign(globalThis, { IntersectionObserver: Observer });
  left = 0;
  asked = [];
  bench = await openTestBench(hut(12));
  Object.assign(bench.engine, {
    crop: (of: CropOf, width: number, height: number) => {
      asked.push(of);
      return Promise.resolve({ pixels: new ArrayBuffer(width * height * 4), width, height });
    },
  });
});
afterEach(() => {
  cleanup();
  Reflect.deleteProperty(globalThis, 'IntersectionObserver');
  jest.useRealTimers();
});

const show = (picture: ReactNode): { unmount: () => void; again: (other: ReactNode) => void } => {
  const within = (one: ReactNode): ReactNode => <BenchContext.Provider value={bench}>{one}</BenchContext.Provider>;
  const { unmount, rerender } = render(within(picture));
  return { unmount, again: (other) => rerender(within(other)) };
};
const wait = (ms: number): Promise<void> => act(() => jest.advanceTimersByTimeAsync(ms));
const edit = (): void => {
  const { document } = bench.state;
  bench.store.setState({ document: { ...document! } });
};

describe('a small picture of the page', () => {
  test('is asked for when it comes into view, not before', async () => {
    show(<PageCrop of={{ region: 2 }} width={60} height={44} />);
    await wait(1000);
    expect(asked).toEqual([]);
    look(true);
    await wait(200);
    expect(asked).toEqual([{ region: 2 }]);
  });

  test('is drawn anew once after a burst of edits while it is in view', async () => {
    show(<PageCrop of={{ region: 2 }} width={60} height={44} />);
    look(true);
    await wait(200);
    for (let k = 0; k < 5; k++) {
      edit();
      await wait(50);
    }
    expect(asked.length).toBe(1);
    await wait(200);
    expect(asked.length).toBe(2);
    // What changes nothing on the page changes no picture.
    bench.store.setState({ hovered: 3 });
    await wait(500);
    expect(asked.length).toBe(2);
  });

  test('that went out of view waits until it comes back', async () => {
    show(<PageCrop of={{ region: 2 }} width={60} height={44} />);
    look(true);
    await wait(200);
    look(false);
    edit();
    await wait(500);
    expect(asked.length).toBe(1);
    look(true);
    await wait(200);
    expect(asked.length).toBe(2);
  });

  test('of another place is another picture; one that was left asks for nothing more', async () => {
    const { again, unmount } = show(<PageCrop of={{ region: 2 }} width={60} height={44} />);
    look(true);
    await wait(200);
    again(<PageCrop of={{ x: 10, y: 20, span: 40 }} width={60} height={44} line={[0, 0, 1, 1, 2, 2, 3, 3]} />);
    look(true);
    await wait(200);
    expect(asked).toEqual([{ region: 2 }, { x: 10, y: 20, span: 40 }]);
    expect(left).toBe(1);
    edit();
    unmount();
    await wait(500);
    expect(asked.length).toBe(2);
    expect(left).toBe(2);
  });
});
