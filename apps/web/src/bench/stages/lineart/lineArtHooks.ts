import type { StageHooks } from '../../state/StageHooks.ts';
import { lineArtOverlay } from './lineArtOverlay.ts';
import { listDecisions, measure } from './measuring.ts';

export const lineArtHooks: StageHooks = {
  name: 'lineart',
  overlay: lineArtOverlay,
  pageRead: (bench) => void measure(bench),
  partsChanged: listDecisions,
};
