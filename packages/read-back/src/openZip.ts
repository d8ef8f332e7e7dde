import { open, type Entry, type ZipFile } from 'yauzl';
import { ReadBackError } from './ExpectedPage.ts';

/** A zip that is read entry by entry. */
export interface OpenZip {
  /** In the order of the archive. */
  readonly entries: readonly Entry[];
  /** @throws Error for what is damaged. */
  read(entry: Entry): Promise<Buffer>;
  stream(entry: Entry): Promise<NodeJS.ReadableStream>;
  close(): void;
}

/** Opens an archive. Names that lead out of it are refused by the library. */
export async function openZip(path: string): Promise<OpenZip> {
  const zip = await new Promise<ZipFile>((resolve, reject) =>
    open(path, { lazyEntries: true, autoClose: false, validateEntrySizes: true }, (error, opened) =>
      error === null ? resolve(opened) : reject(error),
    ),
  );
  try {
    const entries = await new Promise<Entry[]>((resolve, reject) => {
      const found: Entry[] = [];
      zip.on('entry', (entry: Entry) => {
        found.push(entry);
        zip.readEntry();
      });
      zip.on('end', () => resolve(found));
      zip.on('error', reject);
      zip.readEntry();
    });
    const stream = (entry: Entry): Promise<NodeJS.ReadableStream> =>
      new Promise((resolve, reject) =>
        zip.openReadStream(entry, (error, opened) => (error === null ? resolve(opened) : reject(error))),
      );
    return {
      entries,
      stream,
      close: () => zip.close(),
      read: async (entry) => {
        const pieces: Buffer[] = [];
        for await (const piece of await stream(entry)) pieces.push(piece as Buffer);
        return Buffer.concat(pieces);
      },
    };
  } catch (error) {
    zip.close();
    throw error;
  }
}

/** The entry of this name. @throws ReadBackError where it is missing. */
export function entryOf({ entries }: OpenZip, name: string): Entry {
  const entry = entries.find(({ fileName }) => fileName === name);
  if (entry === undefined) throw new ReadBackError(`${name} is missing`);
  return entry;
}
