import { stat } from 'node:fs/promises';
import { makeFolder, writeWhole } from '@jumble/raster-io';
import { UsageError } from './UsageError.ts';

/** What the system's codes mean to who reads them in a terminal. */
const WORDS: Readonly<Record<string, string>> = {
  ENOSPC: 'the disk is full',
  EDQUOT: 'the disk is full for you',
  EACCES: 'you may not write there',
  EPERM: 'you may not write there',
  EROFS: 'the disk is read-only',
  EFBIG: 'the file would be larger than files may be',
  EISDIR: 'a folder has that name',
  ENOTDIR: 'a file has the name of its folder',
  ENOENT: 'nothing can be made there',
};

/**
 * Writes a result: beside its name first, then in its place, so that what stood there is whole until the new
 * one is.
 *
 * @param inputs files that were read: none of them is written over.
 * @throws UsageError with one line that names the file.
 */
export async function writeOutput(
  path: string,
  bytes: Uint8Array | string,
  inputs: readonly string[],
  option = '--out',
): Promise<void> {
  await checkNoInput(path, inputs, option);
  await writeBy(path, () => writeWhole(path, bytes), option);
}

/** Writes in whatever way. @throws UsageError with one line that names the file where the system refuses, or the format does. */
export async function writeBy(path: string, write: () => Promise<void>, option = '--out'): Promise<void> {
  await write().catch((error: unknown) => {
    // What is neither is a fault of ours.
    if (!(error instanceof RangeError) && (error as NodeJS.ErrnoException).code === undefined) throw error;
    throw new UsageError(`${path}: it cannot be written (${reason(error)}); choose another ${option}.`);
  });
}

/** @throws UsageError when the folder cannot be made or is a file. */
export async function makeOutputFolder(path: string): Promise<void> {
  await makeFolder(path).catch((error: unknown) => {
    throw new UsageError(`${path}: the folder cannot be made (${reason(error)}); choose another --out.`);
  });
}

/** @throws UsageError when a result would be written over a file that is read, whatever name it is called by. */
export async function checkNoInput(path: string, inputs: readonly string[], option = '--out'): Promise<void> {
  const target = await identify(path);
  if (target === null) return;
  for (const input of inputs) {
    if ((await identify(input)) === target) {
      throw new UsageError(`${path}: it would be written over the input ${input}; choose another ${option}.`);
    }
  }
}

async function identify(path: string): Promise<string | null> {
  const there = await stat(path, { bigint: true }).catch(() => null);
  return there === null ? null : `${there.dev}:${there.ino}`;
}

function reason(error: unknown): string {
  const { code = 'unknown', message } = error as NodeJS.ErrnoException;
  return WORDS[code] === undefined ? message.split('\n')[0]! : `${WORDS[code]}, ${code}`;
}
