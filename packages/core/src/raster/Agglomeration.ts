import TinyQueue from 'tinyqueue';
import { findRoot, ownRoots } from './unionFind.ts';

/** What is joined, and at what cost. Nodes and edges go by their numbers. */
export interface JoinRules {
  /** What joining the two ends of an edge costs now. */
  readonly cost: (edge: number) => number;
  /** Whether an edge may be joined at all. */
  readonly mayJoin: (edge: number) => boolean;
  /** Whether so small a cost is joined. */
  readonly isWorth: (cost: number) => boolean;
  /** An edge is about to be joined because of its cost. */
  readonly onDecision?: ((edge: number) => void) | undefined;
  /** Two nodes become one; the edge between them goes. */
  readonly joinNodes: (stays: number, goes: number, edge: number) => void;
  /** Two edges lead to the same node now and become one. */
  readonly joinEdges: (stays: number, goes: number) => void;
}

interface Entry {
  readonly cost: number;
  readonly edge: number;
  /** Of the edge when it was queued: whether the entry still holds. */
  readonly version: number;
}

/**
 * Joins the nodes of a graph, the cheapest edge first, until the cheapest that is left is not worth it: greedy
 * agglomeration with a lazy heap (Müllner 2011, "generic clustering" with lower bounds). A join changes the costs of
 * edges around it; those that rose are looked at when their turn comes, those that fell once nothing else is worth it.
 */
export class Agglomeration {
  private readonly parent: Int32Array;
  /** For each node the edge to each of its neighbours. */
  private readonly edges: Map<number, number>[] = [];
  private readonly gone: Uint8Array;
  private readonly version: Int32Array;
  /** How many joins each node has been through or seen beside it: its edges are costed again only then. */
  private readonly changes: Int32Array;
  private readonly costedAt: Int32Array;
  private readonly costed: Float64Array;
  private readonly heap = new TinyQueue<Entry>([], (one, two) => one.cost - two.cost || one.edge - two.edge);

  /** @param a @param b the ends of each edge; they are changed. No two edges have the same ends. */
  constructor(
    nodeCount: number,
    readonly a: Int32Array,
    readonly b: Int32Array,
    private readonly rules: JoinRules,
  ) {
    this.parent = ownRoots(nodeCount);
    this.changes = new Int32Array(nodeCount);
    this.gone = new Uint8Array(a.length);
    this.version = new Int32Array(a.length);
    this.costedAt = new Int32Array(a.length).fill(-1);
    this.costed = new Float64Array(a.length);
    for (let edge = 0; edge < a.length; edge++) this.connect(a[edge]!, b[edge]!, edge);
  }

  private connect(one: number, two: number, edge: number): void {
    (this.edges[one] ??= new Map()).set(two, edge);
    (this.edges[two] ??= new Map()).set(one, edge);
  }

  /** What a node has become part of. */
  rootOf(node: number): number {
    return findRoot(this.parent, node);
  }

  isGone(edge: number): boolean {
    return this.gone[edge] === 1;
  }

  /** The edges of a node that is still there, by the node at their other end. */
  edgesOf(node: number): ReadonlyMap<number, number> {
    return this.edges[node] ?? NO_EDGES;
  }

  /** The edge between two nodes that are still there. */
  edgeBetween(one: number, two: number): number | undefined {
    return this.edges[one]?.get(two);
  }

  /** What joining an edge that is still there costs now. */
  costOf(edge: number): number {
    const at = this.changes[this.a[edge]!]! + this.changes[this.b[edge]!]!;
    if (this.costedAt[edge] !== at) {
      this.costedAt[edge] = at;
      this.costed[edge] = this.rules.cost(edge);
    }
    return this.costed[edge]!;
  }

  /** Joins all that is worth it. */
  joinAll(): void {
    for (let edge = 0; edge < this.a.length; edge++) if (this.gone[edge] === 0) this.queue(edge);
    for (;;) {
      this.joinCheapest();
      const fallen: number[] = [];
      for (let edge = 0; edge < this.a.length; edge++) {
        if (this.gone[edge] === 0 && this.rules.mayJoin(edge) && this.rules.isWorth(this.costOf(edge)))
          fallen.push(edge);
      }
      if (fallen.length === 0) return;
      for (const edge of fallen) this.queue(edge);
    }
  }

  private joinCheapest(): void {
    const { heap, rules } = this;
    for (let next = heap.pop(); next !== undefined; next = heap.pop()) {
      const { edge, cost, version } = next;
      if (this.gone[edge] === 1 || this.version[edge] !== version) continue;
      const now = this.costOf(edge);
      if (now > cost) {
        this.queue(edge);
        continue;
      }
      if (!rules.isWorth(now)) return;
      rules.onDecision?.(edge);
      this.join(edge);
    }
  }

  private queue(edge: number): void {
    this.version[edge] = this.version[edge]! + 1;
    if (this.rules.mayJoin(edge)) this.heap.push({ cost: this.costOf(edge), edge, version: this.version[edge]! });
  }

  /** Joins the ends of an edge, whatever it costs. */
  join(edge: number): void {
    const { edges, changes } = this;
    const [a, b] = [this.a[edge]!, this.b[edge]!];
    // The one with fewer neighbours goes: the outside of a page may have thousands.
    const swap = edges[a]!.size < edges[b]!.size;
    const stays = swap ? b : a;
    const goes = swap ? a : b;
    this.gone[edge] = 1;
    edges[stays]!.delete(goes);
    edges[goes]!.delete(stays);
    this.parent[goes] = stays;
    // More than either has counted to: the sum over an edge's two ends only grows.
    changes[stays] = changes[stays]! + changes[goes]! + 1;
    this.rules.joinNodes(stays, goes, edge);
    for (const [far, other] of edges[goes]!) this.move(other, far, stays, goes);
    edges[goes]!.clear();
  }

  /** Carries the edge from a node that is gone to a third one over to the node that it went into. */
  private move(edge: number, far: number, stays: number, goes: number): void {
    const twin = this.edges[stays]!.get(far);
    this.edges[far]!.delete(goes);
    this.changes[far] = this.changes[far]! + 1;
    if (twin === undefined) {
      this.a[edge] = Math.min(stays, far);
      this.b[edge] = Math.max(stays, far);
      this.connect(stays, far, edge);
      this.queue(edge);
    } else {
      this.gone[edge] = 1;
      this.rules.joinEdges(twin, edge);
      this.queue(twin);
    }
  }
}

const NO_EDGES: ReadonlyMap<number, number> = new Map();
