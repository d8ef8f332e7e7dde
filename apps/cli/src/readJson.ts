import { readFile } from 'node:fs/promises';
import { UsageError } from './UsageError.ts';

/** Reads a JSON file. @param what it is, for the message. @throws UsageError with one line that names the file. */
export async function readJson(path: string, what: string): Promise<unknown> {
  const text = await readFile(path, 'utf8').catch(() => {
    throw new UsageError(`${path}: the ${what} cannot be opened; check its name.`);
  });
  try {
    // Some editors begin a file with a byte order mark.
    return JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch (error) {
    throw new UsageError(`${path}: it is not JSON (${(error as Error).message}).`);
  }
}
