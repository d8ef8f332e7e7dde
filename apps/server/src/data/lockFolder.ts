import { join } from 'node:path';
import Database from 'better-sqlite3';
import { StartError } from '../errors/StartError.ts';

/** A folder that is this process's alone. */
export interface FolderLock {
  release(): void;
}

/**
 * Locks a data folder by a transaction that is held on a small SQLite file of its own: the system ends it with
 * the process, however that ends, so a killed server leaves no lock behind.
 *
 * @throws StartError when another process has it.
 */
export function lockFolder(folder: string): FolderLock {
  let lock: Database.Database | undefined;
  try {
    lock = new Database(join(folder, 'lock.sqlite'), { timeout: 0 });
    lock.exec('BEGIN EXCLUSIVE');
  } catch (error) {
    lock?.close();
    const { code = '', message } = error as Error & { code?: string };
    throw new StartError(
      code.startsWith('SQLITE_BUSY')
        ? `Jumble runs on the data folder ${folder} already. Use that one, stop it first, or choose another folder: JUMBLE_DATA=/another/folder`
        : `The data folder ${folder} cannot be locked (${message}). Check that it can be written, or choose another one: JUMBLE_DATA=/another/folder`,
    );
  }
  const held = lock;
  return { release: () => void held.close() };
}
