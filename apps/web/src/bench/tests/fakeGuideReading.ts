import type { GuideProposal } from '@jumble/core';
import { aborted } from '../engine/abort.ts';
import type { TestBench } from './testBench.ts';

/** What reading a colour key comes to, as a test says it. */
export interface FakeGuideReading {
  proposals: readonly GuideProposal[];
  /** What is known of a key before all is; null for nothing. */
  seen: readonly GuideProposal[] | null;
  /** Keys are read when this is kept; null for at once. */
  held: Promise<void> | null;
}

/** Lets a test say what keys propose; their pictures are one pixel, and are kept as `kept-NAME`. */
export function fakeGuideReading(bench: TestBench): FakeGuideReading {
  const said: FakeGuideReading = { proposals: [], seen: null, held: null };
  let stop: (error: Error) => void = () => undefined;
  bench.engine.stopReadingGuide = () => stop(aborted());
  bench.engine.readGuide = async (_key, _place, _parts, onStep, onSeen) => {
    onStep(0.25);
    const match = { place: { scaleX: 1, scaleY: 1, shiftX: 0, shiftY: 0 }, explained: 0.9, elsewhere: 0.5 };
    if (said.seen !== null) onSeen({ match, reading: { proposals: said.seen, unknown: [], isWhole: false } });
    if (said.held !== null) await Promise.race([said.held, new Promise<never>((_resolve, reject) => (stop = reject))]);
    return { match, reading: { proposals: said.proposals, unknown: [], isWhole: true }, splits: [] };
  };
  const kept = 'kept-key.png';
  bench.server.routes.set('POST /api/jobs/j/references', () => ({ id: kept }));
  bench.server.routes.set(`GET /api/references/${kept}/picture`, () => new Blob());
  // The simulated browser decodes no pictures.
  Object.assign(globalThis, {
    createImageBitmap: () => Promise.resolve({ width: 1, height: 1, close: () => undefined }),
    OffscreenCanvas: class {
      getContext(): object {
        return {
          fillRect: () => undefined,
          drawImage: () => undefined,
          getImageData: () => ({ data: new Uint8ClampedArray(4) }),
        };
      }
    },
  });
  return said;
}
