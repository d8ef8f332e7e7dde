import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { openZip } from '@jumble/read-back';
import { ZipFile } from 'yazl';
import type { PackedFile, PackTask } from './tasks.ts';

/** The same files give the same archive. */
const MADE = new Date(1980, 0, 2);
const SUMS = 'SHA256SUMS';

/** What puts a file into an archive. Pictures are compressed already. */
type Put = (name: string, bytes: Uint8Array) => Promise<void>;

/** Writes an archive of files that are made one after the other. @throws what `make` throws; the error of the system. */
export async function writeZip(target: string, make: (put: Put) => Promise<void>): Promise<void> {
  const zip = new ZipFile();
  const written = pipeline(zip.outputStream, createWriteStream(target));
  const made = make((name, bytes) => {
    zip.addBuffer(Buffer.from(bytes), name, { compress: false, mtime: MADE });
    return Promise.resolve();
  });
  try {
    await Promise.race([made, written]);
    await made;
  } finally {
    zip.end();
    await written;
  }
}

/** Packs files with a list of their SHA-256 sums, and reads the archive again. */
export async function pack({ files, target }: PackTask): Promise<null> {
  const zip = new ZipFile();
  const written = pipeline(zip.outputStream, createWriteStream(target));
  // Told by who waits for it below.
  written.catch(() => undefined);
  const sums = new Map<string, string>();
  const open: { close: () => void }[] = [];
  const add = async (file: PackedFile): Promise<void> => {
    if ('bytes' in file) {
      sums.set(file.name, createHash('sha256').update(file.bytes).digest('hex'));
      zip.addBuffer(Buffer.from(file.bytes), file.name, { compress: false, mtime: MADE });
    } else if (!file.isFolder) {
      sums.set(file.name, await sumOf(createReadStream(file.path)));
      zip.addFile(file.path, file.name, { compress: false, mtime: MADE });
    } else {
      const inner = await openZip(file.path);
      open.push(inner);
      for (const entry of inner.entries) {
        const name = `${file.name}/${entry.fileName}`;
        const bytes = await inner.read(entry);
        sums.set(name, createHash('sha256').update(bytes).digest('hex'));
        zip.addReadStreamLazy(name, { compress: false, mtime: MADE, size: bytes.length }, (done) => {
          inner
            .stream(entry)
            .then((stream) => done(null, stream as NodeJS.ReadableStream), done as (error: unknown) => void);
        });
      }
    }
  };
  try {
    for (const file of files) await add(file);
  } catch (error) {
    (zip.outputStream as Readable).destroy();
    throw error;
  }
  const list = [...sums].map(([name, sum]) => `${sum}  ${name}\n`).join('');
  zip.addBuffer(Buffer.from(list), SUMS, { compress: false, mtime: MADE });
  zip.end();
  await written;
  for (const one of open) one.close();
  await check(target, sums, list);
  return null;
}

async function sumOf(stream: NodeJS.ReadableStream): Promise<string> {
  const hash = createHash('sha256');
  for await (const piece of stream) hash.update(piece as Buffer);
  return hash.digest('hex');
}

/** Reads an archive again, by code that did not write it. */
async function check(path: string, sums: ReadonlyMap<string, string>, list: string): Promise<void> {
  const zip = await openZip(path);
  try {
    for (const entry of zip.entries) {
      const expected = sums.get(entry.fileName) ?? createHash('sha256').update(list).digest('hex');
      if ((await sumOf(await zip.stream(entry))) !== expected)
        throw new Error(`the archive holds other bytes under ${entry.fileName}`);
    }
    if (zip.entries.length !== sums.size + 1) throw new Error('files are missing in the archive');
  } finally {
    zip.close();
  }
}
