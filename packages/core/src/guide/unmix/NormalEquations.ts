import { CholeskyDecomposition, Matrix } from 'ml-matrix';

/** Weighted least squares, gathered one equation at a time. */
export class NormalEquations {
  private readonly products: Float64Array;
  private readonly right: Float64Array;

  constructor(private readonly size: number) {
    this.products = new Float64Array(size * size);
    this.right = new Float64Array(size);
  }

  /** Asks that the terms, each times its unknown, come to what is wanted. */
  add(terms: ArrayLike<number>, wanted: number, weight: number): void {
    const { size, products, right } = this;
    for (let k = 0; k < size; k++) {
      const term = weight * terms[k]!;
      right[k] = right[k]! + term * wanted;
      for (let j = 0; j <= k; j++) products[k * size + j] = products[k * size + j]! + term * terms[j]!;
    }
  }

  /** The unknowns, null where the equations do not tell them. */
  solve(): Float64Array | null {
    return solvePositive(this.products, this.right);
  }
}

/**
 * Solves a positive definite system (Cholesky).
 *
 * @param products `size * size`, row-major; what is right of the diagonal is not read.
 */
export function solvePositive(products: Float64Array, right: Float64Array): Float64Array | null {
  const size = right.length;
  const matrix = new Matrix(size, size);
  for (let k = 0; k < size; k++) {
    for (let j = 0; j <= k; j++) {
      matrix.set(k, j, products[k * size + j]!);
      matrix.set(j, k, products[k * size + j]!);
    }
  }
  const cholesky = new CholeskyDecomposition(matrix);
  if (!cholesky.isPositiveDefinite()) return null;
  return Float64Array.from(cholesky.solve(Matrix.columnVector(right)).to1DArray());
}
