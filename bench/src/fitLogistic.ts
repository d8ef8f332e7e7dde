export interface Sample {
  readonly features: readonly number[];
  readonly right: boolean;
  readonly weight: number;
}

/** Logistic regression by Newton's method, held to some start by a Gaussian prior of this strength. */
export function fitLogistic(samples: readonly Sample[], start: readonly number[], prior: number): number[] {
  const n = start.length;
  let w = new Array<number>(n).fill(0);
  for (let round = 0; round < 30; round++) {
    const gradient = w.map((v, k) => -prior * (v - start[k]!));
    const hessian = Array.from({ length: n }, (_, i) => Array.from({ length: n }, (_, j) => (i === j ? prior : 0)));
    for (const { features, right, weight } of samples) {
      const p = 1 / (1 + Math.exp(-features.reduce((sum, feature, k) => sum + feature * w[k]!, 0)));
      for (let i = 0; i < n; i++) {
        gradient[i]! += weight * ((right ? 1 : 0) - p) * features[i]!;
        for (let j = 0; j < n; j++) hessian[i]![j]! += weight * p * (1 - p) * features[i]! * features[j]!;
      }
    }
    const step = solve(hessian, gradient);
    w = w.map((v, k) => v + step[k]!);
  }
  return w;
}

function solve(matrix: number[][], right: number[]): number[] {
  const rows = matrix.map((row, k) => [...row, right[k]!]);
  const n = rows.length;
  for (let c = 0; c < n; c++) {
    const pivot = rows
      .slice(c)
      .reduce((best, row, k) => (Math.abs(row[c]!) > Math.abs(rows[best]![c]!) ? c + k : best), c);
    [rows[c], rows[pivot]] = [rows[pivot]!, rows[c]!];
    for (let r = 0; r < n; r++) {
      if (r === c) continue;
      const factor = rows[r]![c]! / rows[c]![c]!;
      for (let k = c; k <= n; k++) rows[r]![k]! -= factor * rows[c]![k]!;
    }
  }
  return rows.map((row, k) => row[n]! / row[k]!);
}
