import { wrap } from 'comlink';
import type { Computing } from './Computing.ts';
import { Engine } from './Engine.ts';
import type { PageComputer } from './PageComputer.ts';

/** Starts the two workers of a page. */
export function startEngine(): Engine {
  const computer = new Worker(new URL('./computeWorker.ts', import.meta.url), { type: 'module' });
  return new Engine({
    computer,
    computing: wrap<PageComputer>(computer) as unknown as Computing,
    drawing: new Worker(new URL('./drawWorker.ts', import.meta.url), { type: 'module' }),
  });
}
