import { describe, expect, test } from '@jest/globals';
import { seeded } from '../tests/textGrid.ts';
import { Agglomeration } from './Agglomeration.ts';

/** A graph whose nodes weigh and whose edges are as strong as what they were made of. */
interface Weighted {
  readonly weights: Float64Array;
  readonly a: Int32Array;
  readonly b: Int32Array;
  readonly strengths: Float64Array;
}

/** The larger two nodes are and the weaker what is between them, the more joining them costs. */
const costOf = (one: number, two: number, strength: number): number => (one * two) / strength;

function randomGraph(seed: number): Weighted {
  const random = seeded(seed);
  const nodes = 8 + Math.floor(random() * 8);
  const ends: [number, number][] = [];
  for (let a = 0; a < nodes; a++) for (let b = a + 1; b < nodes; b++) if (random() < 0.35) ends.push([a, b]);
  return {
    weights: Float64Array.from({ length: nodes }, () => 1 + Math.floor(random() * 9)),
    a: Int32Array.from(ends, ([a]) => a),
    b: Int32Array.from(ends, ([, b]) => b),
    strengths: Float64Array.from(ends, () => 1 + Math.floor(random() * 9)),
  };
}

/** Joins by looking at every edge each time. @returns the costs in order, and what each node went into. */
function joinOneByOne(
  graph: Weighted,
  limit: number,
  firm: ReadonlySet<number>,
): { costs: number[]; groups: number[] } {
  const group = [...graph.weights.keys()];
  const weights = [...graph.weights];
  const edges = [...graph.a].map((a, e) => ({ a, b: graph.b[e]!, strength: graph.strengths[e]!, isFirm: firm.has(e) }));
  const costs: number[] = [];
  for (;;) {
    const open = edges.filter(({ isFirm }) => !isFirm);
    const cheapest = Math.min(...open.map(({ a, b, strength }) => costOf(weights[a]!, weights[b]!, strength)));
    if (!(cheapest < limit)) return { costs, groups: group };
    const { a, b } = open.find((e) => costOf(weights[e.a]!, weights[e.b]!, e.strength) === cheapest)!;
    costs.push(cheapest);
    weights[a] = weights[a]! + weights[b]!;
    group.forEach((of, node) => (group[node] = of === b ? a : of));
    const old = edges.splice(0);
    for (const edge of old) {
      const [one, two] = [edge.a === b ? a : edge.a, edge.b === b ? a : edge.b];
      if (one === two) continue;
      const twin = edges.find((e) => (e.a === one && e.b === two) || (e.a === two && e.b === one));
      if (twin === undefined) edges.push({ ...edge, a: one, b: two });
      else {
        twin.strength += edge.strength;
        twin.isFirm ||= edge.isFirm;
      }
    }
  }
}

function agglomerate(graph: Weighted, limit: number, firm: ReadonlySet<number>): { costs: number[]; groups: number[] } {
  const weights = graph.weights.slice();
  const strengths = graph.strengths.slice();
  const isFirm = Uint8Array.from(strengths, (_, e) => (firm.has(e) ? 1 : 0));
  const costs: number[] = [];
  const joined: Agglomeration = new Agglomeration(weights.length, graph.a.slice(), graph.b.slice(), {
    cost: (e) => costOf(weights[joined.a[e]!]!, weights[joined.b[e]!]!, strengths[e]!),
    mayJoin: (e) => isFirm[e] === 0,
    isWorth: (cost) => cost < limit,
    onDecision: (e) => costs.push(joined.costOf(e)),
    joinNodes: (stays, goes) => (weights[stays] = weights[stays]! + weights[goes]!),
    joinEdges: (stays, goes) => {
      strengths[stays] = strengths[stays]! + strengths[goes]!;
      isFirm[stays] = isFirm[stays]! | isFirm[goes]!;
    },
  });
  joined.joinAll();
  return { costs, groups: [...weights.keys()].map((node) => joined.rootOf(node)) };
}

/** Which nodes are together, whatever their groups are called. */
const together = (groups: readonly number[]): number[] => groups.map((group) => groups.indexOf(group));

describe('agglomeration', () => {
  test('joins the cheapest first while it is worth it, as looking at every edge each time would', () => {
    let joins = 0;
    for (let seed = 1; seed <= 60; seed++) {
      const graph = randomGraph(seed);
      // Of edges that cost the same either may come first: no two do.
      graph.strengths.forEach((strength, e) => (graph.strengths[e] = strength + e * 1e-4));
      const firm = new Set(seed % 3 === 0 ? [0, 4] : []);
      const one = joinOneByOne(graph, 14, firm);
      const other = agglomerate(graph, 14, firm);
      expect(other.costs).toEqual(one.costs);
      expect(together(other.groups)).toEqual(together(one.groups));
      joins += one.costs.length;
    }
    expect(joins).toBeGreaterThan(100);
  });

  test('joins what is said to be joined first, whatever it costs, and leaves what may not be joined', () => {
    const [a, b] = [Int32Array.of(0, 1), Int32Array.of(1, 2)];
    const graph = new Agglomeration(3, a, b, {
      cost: () => 99,
      mayJoin: () => false,
      isWorth: () => true,
      joinNodes: () => undefined,
      joinEdges: () => undefined,
    });
    graph.join(0);
    graph.joinAll();
    expect([0, 1, 2].map((node) => graph.rootOf(node))).toEqual([graph.rootOf(1), graph.rootOf(1), 2]);
    expect([graph.isGone(0), graph.isGone(1), graph.edgesOf(2).size]).toEqual([true, false, 1]);
    expect(graph.edgeBetween(2, graph.rootOf(0))).toBe(1);
  });
});
