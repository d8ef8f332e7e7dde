/** One measured figure. */
export interface Row {
  readonly what: string;
  readonly value: number;
  readonly unit: string;
  /** The figure to reach; most is an upper limit, least a lower one. */
  readonly target?: { readonly most: number } | { readonly least: number };
  readonly note?: string;
}

/** Prints a table. @returns how many targets were missed. */
export function printTable(title: string, rows: readonly Row[]): number {
  let missed = 0;
  const cells = rows.map(({ what, value, unit, target, note }) => {
    const met = target === undefined ? null : 'most' in target ? value <= target.most : value >= target.least;
    if (met === false) missed++;
    const wanted = target === undefined ? '' : 'most' in target ? `<= ${target.most}` : `>= ${target.least}`;
    return [what, `${format(value)} ${unit}`.trim(), wanted, met === null ? '' : met ? 'met' : 'MISSED', note ?? ''];
  });
  const table = [['', 'measured', 'target', '', ''], ...cells];
  const widths = table[0]!.map((_, column) => Math.max(...table.map((row) => row[column]!.length)));
  process.stdout.write(`\n${title}\n`);
  for (const row of table)
    process.stdout.write(
      `${row
        .map((cell, k) => cell.padEnd(widths[k]!))
        .join('  ')
        .trimEnd()}\n`,
    );
  process.stdout.write('\n');
  return missed;
}

function format(value: number): string {
  return Math.abs(value) >= 100 ? value.toFixed(0) : Math.abs(value) >= 10 ? value.toFixed(1) : value.toFixed(3);
}

/** The value below which a share of the samples lies. */
export function quantile(samples: readonly number[], share: number): number {
  const sorted = [...samples].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.ceil(share * sorted.length) - 1)]!;
}
