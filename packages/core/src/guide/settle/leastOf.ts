/**
 * Puts the places of the least values into `into`, the least first, of equal ones the first.
 *
 * @returns how many: less than `into` holds where there are fewer values.
 */
export function leastOf(values: Float64Array, into: Int32Array): number {
  let count = 0;
  for (let k = 0; k < values.length; k++) {
    const value = values[k]!;
    let place = count;
    if (count < into.length) count++;
    else if (value < values[into[count - 1]!]!) place = count - 1;
    else continue;
    for (; place > 0 && values[into[place - 1]!]! > value; place--) into[place] = into[place - 1]!;
    into[place] = k;
  }
  return count;
}
