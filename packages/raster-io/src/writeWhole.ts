import { randomUUID } from 'node:crypto';
import { open, rename, rm } from 'node:fs/promises';

/**
 * Writes a file beside its name, then renames it: under the name stands what stood there before or all of the new,
 * whatever happens in between. Where it fails nothing is left.
 *
 * @throws the error of the system.
 */
export async function writeWhole(path: string, bytes: Uint8Array | string): Promise<void> {
  const beside = `${path}.${randomUUID()}.part`;
  try {
    const handle = await open(beside, 'wx');
    try {
      await handle.writeFile(bytes);
      await handle.sync();
    } finally {
      await handle.close();
    }
    await rename(beside, path);
  } catch (error) {
    await rm(beside, { force: true });
    throw error;
  }
}
