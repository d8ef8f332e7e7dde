import { randomUUID } from 'node:crypto';
import { open, rename, rm, type FileHandle } from 'node:fs/promises';

/**
 * A file that is written piece by piece beside its name: under the name stands what stood there before, or all of the new.
 */
export class FileSink {
  private constructor(
    private readonly handle: FileHandle,
    private readonly beside: string,
    private readonly path: string,
  ) {}

  /** Writes a file by `write`. @throws what it throws, or the error of the system; nothing is left then. */
  static async write(path: string, write: (sink: FileSink) => Promise<void>): Promise<void> {
    const beside = `${path}.${randomUUID()}.part`;
    const sink = new FileSink(await open(beside, 'wx'), beside, path);
    try {
      await write(sink);
      await sink.finish();
    } catch (error) {
      await sink.handle.close().catch(() => undefined);
      await rm(beside, { force: true });
      throw error;
    }
  }

  async write(bytes: Uint8Array): Promise<void> {
    let from = 0;
    while (from < bytes.length) from += (await this.handle.write(bytes, from, bytes.length - from)).bytesWritten;
  }

  /** Writes over bytes that were written before. */
  async patch(at: number, bytes: Uint8Array): Promise<void> {
    this.patches.push([at, bytes]);
  }

  /** Bytes put in at the end: writing at a place would move where the next ones go. */
  private readonly patches: (readonly [number, Uint8Array])[] = [];

  private async finish(): Promise<void> {
    for (const [at, bytes] of this.patches) await this.handle.write(bytes, 0, bytes.length, at);
    await this.handle.sync();
    await this.handle.close();
    await rename(this.beside, this.path);
  }
}
