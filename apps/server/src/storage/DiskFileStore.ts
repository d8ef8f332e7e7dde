import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, mkdirSync, rmSync } from 'node:fs';
import { mkdir, open, readdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { FileKind, FileStore, StagedFile } from './FileStore.ts';

const HASH = /^[0-9a-f]{64}$/;

/** Files in a folder; written aside, synced, then renamed into place. */
export class DiskFileStore implements FileStore {
  private readonly incomingFolder: string;

  /** Whatever a killed server left half-written is cleared away: the folder must be this process's alone. */
  constructor(private readonly root: string) {
    this.incomingFolder = join(root, 'incoming');
    rmSync(this.incomingFolder, { recursive: true, force: true });
    mkdirSync(this.incomingFolder);
  }

  incoming(): string {
    return join(this.incomingFolder, randomUUID());
  }

  async stage(kind: FileKind, path: string): Promise<StagedFile> {
    const digest = createHash('sha256');
    await pipeline(createReadStream(path), digest);
    const { size } = await stat(path);
    await sync(path, 'r+');
    return { kind, hash: digest.digest('hex'), path, sizeBytes: size };
  }

  async stageBytes(kind: FileKind, bytes: Uint8Array): Promise<StagedFile> {
    const path = this.incoming();
    try {
      await writeFile(path, bytes);
      return await this.stage(kind, path);
    } catch (error) {
      await rm(path, { force: true });
      throw error;
    }
  }

  async place({ kind, hash, path }: StagedFile): Promise<void> {
    const target = this.pathOf(kind, hash);
    await mkdir(dirname(target), { recursive: true });
    await rename(path, target);
    await sync(dirname(target), 'r');
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

  async list(kind: FileKind): Promise<string[]> {
    const entries = await readdir(join(this.root, kind), { recursive: true, withFileTypes: true }).catch(
      (error: NodeJS.ErrnoException) => {
        if (error.code === 'ENOENT') return [];
        throw error;
      },
    );
    return entries.filter((entry) => entry.isFile() && HASH.test(entry.name)).map((entry) => entry.name);
  }
}

async function sync(path: string, flags: 'r' | 'r+'): Promise<void> {
  const handle = await open(path, flags);
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}
