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
 * the least used colour that no neighbour has, so that few nodes get every colour once. A node whose
 * neighbours have all colours repeats the least used one, and `leastDistance` tells.
 *
 * @param touching pairs of node numbers `[a0, b0, a1, b1, ...]`.
 */
export function scratchColours(nodeCount: number, touching: ArrayLike<number>): ScratchColours {
  const palette = loudPalette();
  const neighbours: Set<number>[] = Array.from({ length: nodeCount }, () => new Set());
  for (let k = 0; k < touching.length; k += 2) {
    neighbours[touching[k]!]!.add(touching[k + 1]!);
    neighbours[touching[k + 1]!]!.add(touching[k]!);
  }
  const colour = new Int32Array(nodeCount).fill(-1);
  const uses = new Uint32Array(palette.length);
  /** Bit c: a neighbour has colour c. */
  const taken = new Uint32Array(nodeCount);
  const queue = new SaturationQueue(
    neighbours.map((set) => set.size),
    palette.length,
  );
  for (let node = queue.take(); node >= 0; node = queue.take()) {
    let best = -1;
    for (let c = 0; c < palette.length; c++) {
      if ((taken[node]! >> c) % 2 === 0 && (best < 0 || uses[c]! < uses[best]!)) best = c;
    }
    if (best < 0) best = uses.indexOf(Math.min(...uses));
    colour[node] = best;
    uses[best] = uses[best]! + 1;
    for (const other of neighbours[node]!) {
      if (colour[other]! >= 0 || (taken[other]! >> best) % 2 !== 0) continue;
      taken[other] = taken[other]! | (1 << best);
      queue.raise(other);
    }
  }
  const rgb = colour.map((c) => palette[c]!);
  return { rgb, leastDistance: leastDistance(rgb, touching) };
}

/** Nodes by how many colours their neighbours have, then by how many neighbours, then by number. */
class SaturationQueue {
  private readonly saturation: Uint8Array;
  /** Per saturation a list of nodes, busiest first; a node stays in its old list and is skipped there. */
  private readonly lists: number[][];
  private readonly done: Uint8Array;

  constructor(
    private readonly degree: readonly number[],
    levels: number,
  ) {
    this.saturation = new Uint8Array(degree.length);
    this.done = new Uint8Array(degree.length);
    this.lists = Array.from({ length: levels + 1 }, () => []);
    // Taken from the end.
    this.lists[0] = degree.map((_, k) => k).sort((a, b) => degree[a]! - degree[b]! || b - a);
  }

  /** @returns the next node, or -1. */
  take(): number {
    for (let level = this.lists.length - 1; level >= 0; level--) {
      const list = this.lists[level]!;
      while (list.length > 0) {
        const node = list.pop()!;
        if (this.done[node] === 1 || this.saturation[node] !== level) continue;
        this.done[node] = 1;
        return node;
      }
    }
    return -1;
  }

  raise(node: number): void {
    this.saturation[node] = this.saturation[node]! + 1;
    const list = this.lists[this.saturation[node]!]!;
    // Kept in order by insertion: the lists of saturated nodes are short.
    let at = list.length;
    while (
      at > 0 &&
      (this.degree[list[at - 1]!]! > this.degree[node]! ||
        (this.degree[list[at - 1]!] === this.degree[node] && list[at - 1]! < node))
    )
      at--;
    list.splice(at, 0, node);
  }
}

function leastDistance(rgb: Int32Array, touching: ArrayLike<number>): number {
  const seen = new Map<string, number>();
  let least = Infinity;
  for (let k = 0; k < touching.length; k += 2) {
    const [low, high] = [rgb[touching[k]!]!, rgb[touching[k + 1]!]!].sort((a, b) => a - b) as [number, number];
    const key = `${low},${high}`;
    let distance = seen.get(key);
    // In a fixed order: the last bit of the distance depends on it.
    if (distance === undefined) seen.set(key, (distance = ciede2000(labOf(low), labOf(high))));
    least = Math.min(least, distance);
  }
  return least;
}
