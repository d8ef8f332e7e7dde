import { ciede2000 } from './ciede2000.ts';
import { labOf, type Lab } from './lab.ts';

/** Two scratch colours that touch differ by at least this much (CIEDE2000). */
export const LOUD_DISTANCE = 25;

let palette: readonly number[] | undefined;

/**
 * Loud colours, each pair at least {@link LOUD_DISTANCE} apart, packed greedily from a lattice of the
 * sRGB cube without greys and near-blacks: always the candidate nearest to those chosen that still keeps
 * the distance. The gamut holds about fourteen such colours.
 */
export function loudPalette(): readonly number[] {
  palette ??= buildPalette();
  return palette;
}

const LATTICE = 8;
const LEAST_CHROMA = 30;

function buildPalette(): number[] {
  const candidates: { rgb: number; lab: Lab; chroma: number }[] = [];
  const level = (k: number): number => Math.round((k * 255) / (LATTICE - 1));
  for (let k = 0; k < LATTICE ** 3; k++) {
    const rgb =
      (level(Math.floor(k / LATTICE ** 2)) << 16) |
      (level(Math.floor(k / LATTICE) % LATTICE) << 8) |
      level(k % LATTICE);
    const lab = labOf(rgb);
    const chroma = Math.sqrt(lab.a * lab.a + lab.b * lab.b);
    if (lab.l >= 25 && lab.l <= 95 && chroma >= LEAST_CHROMA) candidates.push({ rgb, lab, chroma });
  }
  const nearest = candidates.map(() => Infinity);
  const chosen: number[] = [];
  // The loudest first.
  let next = candidates.reduce((best, one, k) => (one.chroma > candidates[best]!.chroma ? k : best), 0);
  while (next >= 0) {
    const { rgb, lab } = candidates[next]!;
    chosen.push(rgb);
    next = -1;
    for (let k = 0; k < candidates.length; k++) {
      nearest[k] = Math.min(nearest[k]!, ciede2000(candidates[k]!.lab, lab));
      if (nearest[k]! >= LOUD_DISTANCE && (next < 0 || nearest[k]! < nearest[next]!)) next = k;
    }
  }
  return chosen;
}
