import { ciede2000 } from './ciede2000.ts';
import { labOf, type Lab } from './lab.ts';

/** Two scratch colours that touch differ by at least this much (CIEDE2000). */
export const LOUD_DISTANCE = 25;

let palette: readonly number[] | undefined;

/**
 * Loud colours, each pair at least {@link LOUD_DISTANCE} apart: from a lattice of the sRGB cube,
 * without what could be taken for ink, paper or grey, always the farthest from those chosen
 * (Gonzalez 1985). The first ones are the farthest apart.
 */
export function loudPalette(): readonly number[] {
  palette ??= buildPalette();
  return palette;
}

function buildPalette(): number[] {
  const steps = [0, 64, 128, 192, 255];
  const colours: { rgb: number; lab: Lab }[] = [];
  for (const r of steps) {
    for (const g of steps) {
      for (const b of steps) {
        const rgb = (r << 16) | (g << 8) | b;
        const lab = labOf(rgb);
        if (lab.l >= 30 && lab.l <= 92 && lab.a * lab.a + lab.b * lab.b >= 45 * 45) colours.push({ rgb, lab });
      }
    }
  }
  const ink = labOf(0x000000);
  const paper = labOf(0xffffff);
  const nearest = colours.map(({ lab }) => Math.min(ciede2000(lab, ink), ciede2000(lab, paper)));
  const chosen: number[] = [];
  for (;;) {
    let best = -1;
    for (let k = 0; k < colours.length; k++) if (best < 0 || nearest[k]! > nearest[best]!) best = k;
    if (best < 0 || nearest[best]! < LOUD_DISTANCE) return chosen;
    chosen.push(colours[best]!.rgb);
    for (let k = 0; k < colours.length; k++) {
      nearest[k] = Math.min(nearest[k]!, ciede2000(colours[k]!.lab, colours[best]!.lab));
    }
  }
}
