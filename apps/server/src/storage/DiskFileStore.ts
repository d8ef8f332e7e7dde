import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, mkdirSync, rmSync } from 'node:fs';
import { mkdir, open, rename, rm, stat, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { FileKind, FileStore } from './FileStore.ts';

const HASH = /^[0-9a-f]{64}$/;

/** Files in a folder; written aside, synced, then renamed into place. */
export class DiskFileStore implements FileStore {
  private readonly incomingFolder: string;

  /** Whatever a killed server left half-written is cleared away. */
  constructor(private readonly root: string) {
    this.incomingFolder = join(root, 'incoming');
    rmSync(this.incomingFolder, { recursive: true, force: true });
    mkdirSync(this.incomingFolder, { recursive: true });
  }

  incoming(): string {
    return join(this.incomingFolder, randomUUID());
  }

  async put(kind: FileKind, bytes: Uint8Array): Promise<{ hash: string; sizeBytes: number }> {
    const path = this.incoming();
    try {
      await writeFile(path, bytes);
      return await this.adopt(kind, path);
    } catch (error) {
      await rm(path, { force: true });
      throw error;
    }
  }

  async adopt(kind: FileKind, path: string): Promise<{ hash: string; sizeBytes: number }> {
    const digest = createHash('sha256');
    await pipeline(createReadStream(path), digest);
    const hash = digest.digest('hex');
    const { size } = await stat(path);
    const handle = await open(path, 'r+');
    try {
      await handle.sync();
    } finally {
      await handle.close();
    }
    const target = this.pathOf(kind, hash);
    await mkdir(dirname(target), { recursive: true });
    await rename(path, target);
    const folder = await open(dirname(target), 'r');
    try {
      await folder.sync();
    } finally {
      await folder.close();
    }
    return { hash, sizeBytes: size };
  }

  pathOf(kind: FileKind, hash: string): string {
    if (!HASH.test(hash)) throw new RangeError('`hash` must be a SHA-256 in hexadecimal');
    return join(this.root, kind, hash.slice(0, 2), hash);
  }

  read(kind: FileKind, hash: string): Readable {
    return createReadStream(this.pathOf(kind, hash));
  }

  async remove(kind: FileKind, hash: string): Promise<void> {
    await rm(this.pathOf(kind, hash), { force: true });
  }
}
