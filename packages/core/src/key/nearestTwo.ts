import { ciede2000 } from '../colour/ciede2000.ts';
import type { Lab } from '../colour/lab.ts';

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
const CLOSE = 16;

function nearestByEye(lab: Lab, labs: readonly Lab[]): number[] {
  if (labs.length <= CLOSE) return [...labs.keys()];
  const far = new Float64Array(labs.length);
  const found: number[] = [];
  for (let k = 0; k < labs.length; k++) {
    const [dl, da, db] = [labs[k]!.l - lab.l, labs[k]!.a - lab.a, labs[k]!.b - lab.b];
    far[k] = dl * dl + da * da + db * db;
    if (found.length === CLOSE && far[k]! >= far[found[CLOSE - 1]!]!) continue;
    let at = min(found.length, CLOSE - 1);
    for (; at > 0 && far[found[at - 1]!]! > far[k]!; at--) found[at] = found[at - 1]!;
    found[at] = k;
  }
  return found;
}
