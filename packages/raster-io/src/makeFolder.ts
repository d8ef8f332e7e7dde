import { mkdir, stat } from 'node:fs/promises';
import { dirname, resolve } from 'node:path';

/**
 * Makes a folder and those it lies in, step by step: Node's own recursive way never ends where nothing can be
 * made, as in `/proc`.
 *
 * @param mode rights of the folders that are made.
 * @throws the error of the system; ENOTDIR where a file stands in the way.
 */
export async function makeFolder(path: string, mode = 0o777): Promise<void> {
  const folder = resolve(path);
  const there = await stat(folder).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return null;
    throw error;
  });
  if (there?.isDirectory() === true) return;
  if (there !== null) throw Object.assign(new Error(`ENOTDIR: not a folder, '${folder}'`), { code: 'ENOTDIR' });
  if (dirname(folder) !== folder) await makeFolder(dirname(folder), mode);
  await mkdir(folder, mode).catch((error: NodeJS.ErrnoException) => {
    // Another process made it meanwhile.
    if (error.code !== 'EEXIST') throw error;
  });
}
