import { ciede2000 } from './ciede2000.ts';
import { labOf } from './lab.ts';
import { loudPalette } from './loudPalette.ts';

export interface ScratchColours {
  /** 0xRRGGBB of each node. */
  readonly rgb: Int32Array;
  /** Smallest CIEDE2000 between two nodes that touch; Infinity where none do. */
  readonly leastDistance: number;
}

/**
 * Gives every node of a graph a loud colour unlike its neighbours' (saturation order, Brélaz 1979):
 * the least used colour that no neighbour has, so that few nodes get every colour once.
 *
 * @param touching pairs of node numbers `[a0, b0, a1, b1, ...]`.
 */
export function scratchColours(nodeCount: number, touching: ArrayLike<number>): ScratchColours {
  const palette = loudPalette();
  const neighbours: number[][] = Array.from({ length: nodeCount }, () => []);
  for (let k = 0; k < touching.length; k += 2) {
    neighbours[touching[k]!]!.push(touching[k + 1]!);
    neighbours[touching[k + 1]!]!.push(touching[k]!);
  }
  const colour = new Int32Array(nodeCount).fill(-1);
  const uses = new Uint32Array(palette.length);
  // Busy nodes first; ties to the lower number.
  const order = Array.from({ length: nodeCount }, (_, k) => k);
  order.sort((a, b) => neighbours[b]!.length - neighbours[a]!.length || a - b);
  const taken = new Int32Array(palette.length).fill(-1);
  for (const node of order) {
    for (const other of neighbours[node]!) if (colour[other]! >= 0) taken[colour[other]!] = node;
    let best = -1;
    for (let c = 0; c < palette.length; c++) {
      if (taken[c] !== node && (best < 0 || uses[c]! < uses[best]!)) best = c;
    }
    // More neighbours than colours: repeat the one used least.
    if (best < 0) {
      best = 0;
      for (let c = 1; c < palette.length; c++) if (uses[c]! < uses[best]!) best = c;
    }
    colour[node] = best;
    uses[best] = uses[best]! + 1;
  }
  const rgb = colour.map((c) => palette[c]!);
  return { rgb, leastDistance: leastDistance(rgb, touching) };
}

function leastDistance(rgb: Int32Array, touching: ArrayLike<number>): number {
  const seen = new Map<string, number>();
  let least = Infinity;
  for (let k = 0; k < touching.length; k += 2) {
    const a = rgb[touching[k]!]!;
    const b = rgb[touching[k + 1]!]!;
    const key = `${Math.min(a, b)},${Math.max(a, b)}`;
    let distance = seen.get(key);
    if (distance === undefined) seen.set(key, (distance = ciede2000(labOf(a), labOf(b))));
    least = Math.min(least, distance);
  }
  return least;
}
