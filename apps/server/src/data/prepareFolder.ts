import { accessSync, chmodSync, constants, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { makeFolder } from '@jumble/raster-io';
import { StartError } from '../errors/StartError.ts';
import { FILE_KINDS } from '../storage/FileStore.ts';

/** Rights of what only its owner may see. */
const OWN_FOLDER = 0o700;
const OWN_FILE = 0o600;

/**
 * Makes the data folder where there is none, and takes from others the right to read what is ours in it. A
 * folder that was there keeps its own rights: other things may lie in it.
 *
 * @throws StartError when it is no folder, or cannot be made or written.
 */
export async function prepareFolder(folder: string): Promise<void> {
  const elsewhere = 'Choose another one: JUMBLE_DATA=/another/folder';
  try {
    await makeFolder(folder, OWN_FOLDER);
    accessSync(folder, constants.R_OK | constants.W_OK | constants.X_OK);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'ENOTDIR' || code === 'EEXIST')
      throw new StartError(`The data folder ${folder} is a file, or lies in one. ${elsewhere}`);
    throw new StartError(
      `The data folder ${folder} cannot be made or written (${code ?? String(error)}). ${elsewhere}`,
    );
  }
  for (const name of readdirSync(folder)) {
    if (/^(?:jumble|lock)\.sqlite(?:-wal|-shm|-journal)?$/.test(name)) chmodSync(join(folder, name), OWN_FILE);
    else if (FILE_KINDS.some((kind) => kind === name) || name === 'incoming') chmodSync(join(folder, name), OWN_FOLDER);
  }
}
