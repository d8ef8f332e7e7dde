import type { StoreApi } from 'zustand/vanilla';

/** Adds a listener. @returns how to leave. */
export type Follow = (listener: () => void) => () => void;

/** Where no frame comes, as in a tab behind another one, listeners are told after so long, in ms. */
const LATEST_MS = 250;

/**
 * Tells listeners of changes of a store once before the next frame, however many there were. What draws the
 * panels anew listens to this: it takes longer than the page's own picture, which is not to wait for it.
 */
export function followOncePerFrame(store: Pick<StoreApi<unknown>, 'subscribe'>): Follow {
  const listeners = new Set<() => void>();
  let isDue = false;
  store.subscribe(() => {
    if (isDue) return;
    isDue = true;
    const tell = (): void => {
      cancelAnimationFrame(frame);
      clearTimeout(timer);
      isDue = false;
      for (const listener of [...listeners]) listener();
    };
    const frame = requestAnimationFrame(tell);
    const timer = setTimeout(tell, LATEST_MS);
  });
  return (listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  };
}
