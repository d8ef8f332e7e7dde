import { expose } from 'comlink';
import { PageComputer } from './PageComputer.ts';
import { rehearseClosures } from './rehearseClosures.ts';

/** The page is looked at before anybody draws; and whatever is asked for goes between two steps. */
const REHEARSE_AFTER_MS = 1500;
const REHEARSE_EVERY_MS = 20;

async function rehearse(): Promise<void> {
  for (const _ of rehearseClosures()) await new Promise((resolve) => setTimeout(resolve, REHEARSE_EVERY_MS));
}

expose(
  new PageComputer(
    (bytes) => new SharedArrayBuffer(bytes),
    () => setTimeout(() => void rehearse(), REHEARSE_AFTER_MS),
  ),
);
