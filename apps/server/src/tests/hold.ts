import { jest } from '@jest/globals';

/** A call that stands still until it is let go. */
export interface Held {
  /** Comes true once the call was made. */
  readonly hasCome: Promise<void>;
  /** Lets it go on; a call that has not come yet is not held any more. */
  readonly letGo: () => void;
}

/**
 * Holds the next call of an asynchronous method that `isMeant`; later ones and others go on. Tests of what happens at once
 * put it into an order by this instead of by time. `jest.restoreAllMocks` ends it.
 */
export function hold<T extends object, K extends keyof T & string>(
  target: T,
  name: K,
  isMeant: (...args: readonly unknown[]) => boolean = () => true,
): Held {
  const real = target[name] as (...args: unknown[]) => Promise<unknown>;
  let come = (): void => undefined;
  let letGo = (): void => undefined;
  const hasCome = new Promise<void>((resolve) => (come = resolve));
  const gate = new Promise<void>((resolve) => (letGo = resolve));
  let isFirst = true;
  const holding = async function (this: T, ...args: unknown[]): Promise<unknown> {
    if (isFirst && isMeant(...args)) {
      isFirst = false;
      come();
      await gate;
    }
    return real.apply(this, args);
  };
  jest.spyOn(target as Record<string, (...args: unknown[]) => unknown>, name).mockImplementation(holding);
  return { hasCome, letGo };
}
