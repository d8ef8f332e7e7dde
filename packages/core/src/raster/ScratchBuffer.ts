/** More bytes than these are not held on to: few pages ask for them, and a tab would keep them for good. */
const MOST_KEPT = 64 << 20;

/**
 * Memory for a raster that nobody keeps: the next one that is asked for lies in the same place. Page-sized rasters made
 * afresh for every page set off collections of all there is.
 */
export class ScratchBuffer {
  private buffer = new ArrayBuffer(0);

  /** So many bytes or more; what was written there last is still in it. */
  take(bytes: number): ArrayBuffer {
    if (bytes > MOST_KEPT) return new ArrayBuffer(bytes);
    if (this.buffer.byteLength < bytes) this.buffer = new ArrayBuffer(bytes);
    return this.buffer;
  }
}
