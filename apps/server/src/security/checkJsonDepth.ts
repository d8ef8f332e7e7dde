/** Nothing that is sent to us nests deeper; what does would exhaust the stack of whatever walks it. */
const MAX_DEPTH = 32;

const QUOTE = 0x22;
const BACKSLASH = 0x5c;

/**
 * Refuses JSON that nests too deep, before it is parsed.
 *
 * @param body the bytes of the request.
 * @throws Error with `status` 400.
 */
export function checkJsonDepth(body: Uint8Array): void {
  let depth = 0;
  let inText = false;
  for (let k = 0; k < body.length; k++) {
    const byte = body[k]!;
    if (inText) {
      if (byte === BACKSLASH) k++;
      else if (byte === QUOTE) inText = false;
    } else if (byte === QUOTE) inText = true;
    // [ and {, ] and } differ in one bit.
    else if ((byte | 0x20) === 0x7b) {
      if (++depth > MAX_DEPTH) {
        throw Object.assign(new Error(`The request nests deeper than ${MAX_DEPTH} levels.`), { status: 400 });
      }
    } else if ((byte | 0x20) === 0x7d) depth--;
  }
}
