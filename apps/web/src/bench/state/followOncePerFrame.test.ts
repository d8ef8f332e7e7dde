import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { createStore } from 'zustand/vanilla';
import { followOncePerFrame } from './followOncePerFrame.ts';

let frames: Map<number, FrameRequestCallback>;
const before = { ask: globalThis.requestAnimationFrame, leave: globalThis.cancelAnimationFrame };
beforeEach(() => {
  jest.useFakeTimers();
  frames = new Map();
  let last = 0;
  globalThis.requestAnimationFrame = (run) => {
    frames.set(++last, run);
    return last;
  };
  globalThis.cancelAnimationFrame = (frame) => void frames.delete(frame);
});
afterEach(() => {
  jest.useRealTimers();
  globalThis.requestAnimationFrame = before.ask;
  globalThis.cancelAnimationFrame = before.leave;
});
const nextFrame = (): void => {
  const runs = [...frames.values()];
  frames.clear();
  for (const run of runs) run(0);
};

test('tells of many changes once, with the next frame, and of later ones with a later frame', () => {
  const store = createStore(() => ({ count: 0 }));
  const told: number[] = [];
  followOncePerFrame(store)(() => told.push(store.getState().count));
  store.setState({ count: 1 });
  store.setState({ count: 2 });
  expect(told).toEqual([]);
  nextFrame();
  expect(told).toEqual([2]);
  nextFrame();
  expect(told).toEqual([2]);
  store.setState({ count: 3 });
  nextFrame();
  expect(told).toEqual([2, 3]);
});

test('tells what changes while listeners are told, and no one who left', () => {
  const store = createStore(() => ({ count: 0 }));
  const follow = followOncePerFrame(store);
  const told: string[] = [];
  follow(() => {
    told.push(`first ${store.getState().count}`);
    if (store.getState().count === 1) store.setState({ count: 2 });
  });
  const leave = follow(() => told.push('second'));
  leave();
  store.setState({ count: 1 });
  nextFrame();
  expect(told).toEqual(['first 1']);
  nextFrame();
  expect(told).toEqual(['first 1', 'first 2']);
});

test('tells within a moment where no frame comes, and not again when one comes after all', () => {
  const store = createStore(() => ({ count: 0 }));
  const told: number[] = [];
  followOncePerFrame(store)(() => told.push(store.getState().count));
  store.setState({ count: 1 });
  jest.advanceTimersByTime(1000);
  expect(told).toEqual([1]);
  nextFrame();
  jest.advanceTimersByTime(1000);
  expect(told).toEqual([1]);
  store.setState({ count: 2 });
  nextFrame();
  expect(told).toEqual([1, 2]);
});
