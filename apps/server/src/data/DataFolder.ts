import type { DataSource } from 'typeorm';
import { openDatabase, openReader, openWriter } from '../database/openDatabase.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { DiskFileStore } from '../storage/DiskFileStore.ts';
import type { FileStore } from '../storage/FileStore.ts';
import { lockFolder } from './lockFolder.ts';
import { prepareFolder } from './prepareFolder.ts';

/** The folder that holds everything: opened, and this process's alone until it is closed. */
export interface DataFolder {
  readonly reader: DataSource;
  readonly queue: WriteQueue;
  readonly files: FileStore;
  close(): Promise<void>;
}

/**
 * Opens a data folder, making it where there is none. Nothing in it is touched before it is locked.
 *
 * @throws StartError when it is in use, cannot be written, or its database is damaged.
 */
export async function openDataFolder(folder: string): Promise<DataFolder> {
  await prepareFolder(folder);
  const lock = lockFolder(folder);
  try {
    const writer = await openDatabase(folder);
    const reader = await openReader(folder);
    const queue = new WriteQueue(writer, () => openWriter(folder));
    const files = new DiskFileStore(folder);
    return {
      reader,
      queue,
      files,
      async close() {
        await queue.close();
        await reader.destroy();
        lock.release();
      },
    };
  } catch (error) {
    lock.release();
    throw error;
  }
}
