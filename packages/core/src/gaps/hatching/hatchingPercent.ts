import type { GapTexture } from './FoundCuts.ts';
import { isTexture } from './findTexture.ts';

/** How much of a page's ink is hatching, 0..100, to a tenth. @param ink mask of the page. */
export function hatchingPercent({ textureMask, textureFactor }: GapTexture, ink: Uint8Array): number {
  let hatching = 0;
  for (const value of textureMask) if (isTexture(value)) hatching++;
  let all = 0;
  for (const value of ink) if (value >= 128) all++;
  const share = all === 0 ? 0 : (hatching * textureFactor * textureFactor) / all;
  return Math.round(Math.min(1, share) * 1000) / 10;
}
