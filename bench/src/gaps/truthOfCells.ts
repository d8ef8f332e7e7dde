import { keyOfCut, type Survey } from '@jumble/core';

/** On paper the cell, less than 0 on ink, and the region of each cell. */
interface Meant {
  readonly field: ArrayLike<number>;
  readonly regions: Pick<Survey['regions'], 'ofCell'>;
}

/** Which intended regions cells lie in, and groups of cells that are joined one by one. */
export class TruthOfCells {
  /** For each group, by its first cell, the px it shares with each intended region. */
  private shares: Map<number, number>[];
  private parent: Int32Array;

  /** @param shut the survey of the same drawing without gaps, undivided otherwise. */
  constructor(survey: Pick<Survey, 'field' | 'graph'>, shut: Meant) {
    const { count } = survey.graph.facts;
    this.parent = Int32Array.from({ length: count }, (_, cell) => cell);
    this.shares = Array.from({ length: count }, () => new Map());
    for (let at = 0; at < survey.field.length; at++) {
      const [cell, meant] = [survey.field[at]!, shut.field[at]!];
      // Ink of the outline that was cut open is paper in one and ink in the other: neither counts.
      if (cell < 0 || meant < 0) continue;
      const share = this.shares[cell]!;
      const region = shut.regions.ofCell[meant]!;
      share.set(region, (share.get(region) ?? 0) + 1);
    }
  }

  /** By the part every pixel was meant to have. */
  static byPart(survey: Pick<Survey, 'field' | 'graph'>, parts: Uint8Array): TruthOfCells {
    return new TruthOfCells(survey, {
      field: parts,
      regions: { ofCell: Int32Array.from({ length: 256 }, (_, part) => part) },
    });
  }

  /** Another one, whose groups are joined apart from these. */
  copy(): TruthOfCells {
    const other = Object.create(TruthOfCells.prototype) as TruthOfCells;
    other.shares = this.shares.map((share) => new Map(share));
    other.parent = this.parent.slice();
    return other;
  }

  /** Whether two cells lie in groups that were meant to be apart. */
  areApart(a: number, b: number): boolean {
    const [one, two] = [this.regionOf(a), this.regionOf(b)];
    return one >= 0 && two >= 0 && one !== two;
  }

  join(a: number, b: number): void {
    const [keep, gone] = [this.find(a), this.find(b)];
    if (keep === gone) return;
    this.parent[gone] = keep;
    for (const [region, px] of this.shares[gone]!)
      this.shares[keep]!.set(region, (this.shares[keep]!.get(region) ?? 0) + px);
  }

  /** Paper of a group that was meant to lie in some region, in px. */
  areaOf(cell: number): number {
    let area = 0;
    for (const px of this.shares[this.find(cell)]!.values()) area += px;
    return area;
  }

  /** The region that most of a group lies in, -1 for none. */
  private regionOf(cell: number): number {
    let [best, most] = [-1, 0];
    for (const [region, px] of this.shares[this.find(cell)]!) if (px > most) [best, most] = [region, px];
    return best;
  }

  private find(cell: number): number {
    let node = cell;
    while (this.parent[node] !== node) node = this.parent[node]!;
    return node;
  }
}

/** Keys of the closures that lie between cells of two intended regions. */
export function closuresThatPart(survey: Survey, shut: Survey): Set<string> {
  const truth = new TruthOfCells(survey, shut);
  const { cuts, pairs } = survey.graph;
  const keys = new Set<string>();
  cuts.forEach((cut, k) => {
    const pair = pairs.ofCut[k]!;
    if (pair >= 0 && truth.areApart(pairs.a[pair]!, pairs.b[pair]!)) keys.add(keyOfCut(cut));
  });
  return keys;
}
