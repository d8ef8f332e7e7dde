/** Nodes that are their own roots. */
export function ownRoots(count: number): Int32Array {
  const parent = new Int32Array(count);
  for (let node = 0; node < count; node++) parent[node] = node;
  return parent;
}

/** The root of a node, halving the way to it (van Leeuwen and van der Weide 1977). @param parent of each node; roots are their own. */
export function findRoot(parent: Int32Array, node: number): number {
  while (parent[node]! !== node) {
    const up = parent[parent[node]!]!;
    parent[node] = up;
    node = up;
  }
  return node;
}

/** Joins the trees of two nodes; the lower root stays. */
export function joinRoots(parent: Int32Array, a: number, b: number): void {
  const rootA = findRoot(parent, a);
  const rootB = findRoot(parent, b);
  if (rootA < rootB) parent[rootB] = rootA;
  else if (rootB < rootA) parent[rootA] = rootB;
}
