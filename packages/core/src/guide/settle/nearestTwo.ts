import { ciede2000 } from '../../colour/ciede2000.ts';
import type { Lab } from '../../colour/lab.ts';
import { leastOf } from './leastOf.ts';

const { min, round } = Math;

/** The nearest of some colours and how far it is (CIEDE2000), and how far the next one. */
export function nearestTwo(lab: Lab, labs: readonly Lab[]): { best: number; first: number; second: number } {
  let [best, first, second] = [0, Infinity, Infinity];
  for (const k of nearestByEye(lab, labs)) {
    const distance = round(ciede2000(lab, labs[k]!) * 1e6) / 1e6;
    if (distance < first || (distance === first && k < best)) {
      second = first;
      first = distance;
      best = k;
    } else if (distance < second) second = distance;
  }
  return { best, first, second: second === Infinity ? first + 50 : second };
}

/** Colours that are looked at closely: those nearest in Lab. */
const CLOSE = 10;

function nearestByEye(lab: Lab, labs: readonly Lab[]): Int32Array {
  const far = new Float64Array(labs.length);
  for (let k = 0; k < far.length; k++) {
    const { l, a, b } = labs[k]!;
    far[k] = (l - lab.l) ** 2 + (a - lab.a) ** 2 + (b - lab.b) ** 2;
  }
  const found = new Int32Array(min(labs.length, CLOSE));
  leastOf(far, found);
  return found;
}
