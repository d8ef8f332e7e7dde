/** What is measured of a page as soon as it is in. */
export interface PageMeasures {
  readonly regions: number;
  /** Gaps that stand to be ruled on, ruled on or not. */
  readonly gaps: number;
  readonly looseEnds: number;
  readonly panels: number;
  /** Share of the ink that is hatching, 0..100; unknown of pages that were measured before. */
  readonly hatchingPercent?: number;
}

/** What the minutes of a page are made of. */
export const EFFORT_TERMS = ['page', 'regions', 'gaps', 'looseEnds', 'panels', 'hatching'] as const;
export type EffortTerm = (typeof EFFORT_TERMS)[number];

/** Minutes a page takes, with a deviation, and what they come from. */
export interface EffortEstimate {
  readonly minutes: number;
  /** Standard deviation, in minutes. */
  readonly deviation: number;
  /** Minutes of each term, the largest first. */
  readonly drivers: readonly { readonly term: EffortTerm; readonly minutes: number }[];
}

/** What is believed before any page was timed: minutes for each term, and how sure that is. */
const PRIOR: Readonly<Record<EffortTerm, { readonly minutes: number; readonly deviation: number }>> = {
  page: { minutes: 10, deviation: 8 },
  regions: { minutes: 6, deviation: 4 },
  gaps: { minutes: 2, deviation: 2 },
  looseEnds: { minutes: 1, deviation: 1 },
  panels: { minutes: 3, deviation: 2 },
  hatching: { minutes: 1, deviation: 1 },
};
/** A page's minutes lie about the sum of its terms by so much, as far as anyone knows; weighs as much as so many pages. */
const [PRIOR_NOISE, PRIOR_PAGES] = [15, 4];
/** No page takes less, in minutes. */
const LEAST_MINUTES = 2;

/** Terms as they are counted: by hundred regions and loose ends, by ten gaps, by a tenth of the ink. */
function termsOf({ regions, gaps, looseEnds, panels, hatchingPercent = 0 }: PageMeasures): number[] {
  return [1, regions / 100, gaps / 10, looseEnds / 100, panels, hatchingPercent / 10];
}

/**
 * Fits minutes to measures by least squares on timed pages, from a stated prior that counts while there are few (Bayesian
 * linear regression with a normal prior).
 *
 * @param timed pages that are done, with their minutes. @returns estimates for other pages.
 */
export function fitEffort(
  timed: readonly (PageMeasures & { readonly minutes: number })[],
): (page: PageMeasures) => EffortEstimate {
  const prior = EFFORT_TERMS.map((term) => PRIOR[term]);
  let noise = PRIOR_NOISE ** 2;
  let fit = solveFit(timed, prior, noise);
  // The noise is learned from what the first fit leaves.
  const left = timed.reduce((sum, page) => sum + (page.minutes - dot(fit.mean, termsOf(page))) ** 2, 0);
  noise = (left + PRIOR_PAGES * noise) / (timed.length + PRIOR_PAGES);
  fit = solveFit(timed, prior, noise);
  return (page) => {
    const terms = termsOf(page);
    const minutes = Math.max(LEAST_MINUTES, dot(fit.mean, terms));
    const variance =
      noise +
      dot(
        terms,
        fit.covariance.map((row) => dot(row, terms)),
      );
    const drivers = EFFORT_TERMS.map((term, k) => ({ term, minutes: fit.mean[k]! * terms[k]! }));
    return { minutes, deviation: Math.sqrt(variance), drivers: drivers.sort((a, b) => b.minutes - a.minutes) };
  };
}

const dot = (a: readonly number[], b: readonly number[]): number => a.reduce((sum, one, k) => sum + one * b[k]!, 0);

function solveFit(
  timed: readonly (PageMeasures & { readonly minutes: number })[],
  prior: readonly { readonly minutes: number; readonly deviation: number }[],
  noise: number,
): { readonly mean: number[]; readonly covariance: number[][] } {
  const precision = prior.map((one, row) => prior.map((_, column) => (row === column ? 1 / one.deviation ** 2 : 0)));
  const right = prior.map((one) => one.minutes / one.deviation ** 2);
  for (const page of timed) {
    const terms = termsOf(page);
    terms.forEach((a, row) => {
      right[row] = right[row]! + (a * page.minutes) / noise;
      terms.forEach((b, column) => (precision[row]![column] = precision[row]![column]! + (a * b) / noise));
    });
  }
  const covariance = invert(precision);
  return { mean: covariance.map((row) => dot(row, right)), covariance };
}

/** The inverse of a symmetric positive matrix (Gauss-Jordan). */
function invert(matrix: readonly (readonly number[])[]): number[][] {
  const size = matrix.length;
  const rows = matrix.map((row, k) => [...row, ...row.map((_, column) => Number(column === k))]);
  for (let k = 0; k < size; k++) {
    const pivot = rows[k]![k]!;
    rows[k] = rows[k]!.map((one) => one / pivot);
    for (let other = 0; other < size; other++) {
      if (other === k) continue;
      const factor = rows[other]![k]!;
      rows[other] = rows[other]!.map((one, column) => one - factor * rows[k]![column]!);
    }
  }
  return rows.map((row) => row.slice(size));
}
