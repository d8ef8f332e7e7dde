import { unzipSync } from 'fflate';

/** An archive may unpack to this many bytes at most. */
const MAX_UNPACKED_BYTES = 2_000_000_000;

/** The files of an archive of one folder, by their names without it. @throws RangeError when it would unpack to more than two gigabytes. */
export function readFolderZip(bytes: Uint8Array): Map<string, Uint8Array> {
  let unpacked = 0;
  const files = unzipSync(bytes, {
    filter: (file) => {
      unpacked += file.originalSize;
      if (unpacked > MAX_UNPACKED_BYTES) throw new RangeError('the archive unpacks to more than 2 GB');
      return true;
    },
  });
  const manifest = Object.keys(files).find((name) => /(^|\/)manifest\.json$/.test(name)) ?? '';
  const folder = manifest.slice(0, manifest.lastIndexOf('/') + 1);
  return new Map(
    Object.entries(files).flatMap(([name, content]) =>
      name.startsWith(folder) ? [[name.slice(folder.length), content] as const] : [],
    ),
  );
}
