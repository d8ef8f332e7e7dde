// TypeScript for Jest, by swc. Jest runs modules in a context whose every global is looked up through an interceptor:
// loops over pixels that name Math or Int32Array run three times slower than anywhere else. Each module takes what it
// may name into its own scope first. Left out is what tests replace: timers, dates, whatever a simulated browser adds.
import swcJest from '@swc/jest';

const LANGUAGE =
  'Array ArrayBuffer Atomics BigInt Boolean DataView Error Float32Array Float64Array Infinity Int16Array Int32Array Int8Array JSON Map Math NaN Number Object RangeError Set SharedArrayBuffer String TypeError Uint16Array Uint32Array Uint8Array Uint8ClampedArray WeakMap isNaN';
const PREAMBLE = `const {${LANGUAGE.split(' ').join()}} = globalThis;`;

/** @returns swc's transformer, with a preamble before the first line of each module, which keeps its number. */
export function createTransformer(options) {
  const swc = swcJest.createTransformer(options);
  const withPreamble = (result) => ({ ...result, code: PREAMBLE + result.code });
  return {
    ...swc,
    getCacheKey: (...args) => PREAMBLE + swc.getCacheKey(...args),
    process: (...args) => withPreamble(swc.process(...args)),
    processAsync: async (...args) => withPreamble(await swc.processAsync(...args)),
  };
}
export default { createTransformer };
