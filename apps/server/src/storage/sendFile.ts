import { open } from 'node:fs/promises';
import { extname } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { Response } from 'express';
import { DomainError } from '../errors/DomainError.ts';

/**
 * Sends a file of the store.
 *
 * @param forever its address changes with its content.
 * @throws DomainError 410 when the file is not there any more; nothing was sent then.
 */
export async function sendFile(response: Response, path: string, type: string, forever = true): Promise<void> {
  const handle = await open(path, 'r').catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'ENOENT') throw error;
    response.removeHeader('Content-Encoding');
    response.removeHeader('Content-Disposition');
    throw new DomainError(
      410,
      'file-missing',
      'A file of this page is missing from the data folder. What was decided on the page is kept. Put the folder back from a copy, or upload the page as a revised file.',
    );
  });
  response.setHeader('Content-Type', type);
  response.setHeader('Content-Length', (await handle.stat()).size);
  if (forever) response.setHeader('Cache-Control', 'private, max-age=31536000, immutable');
  // One who goes away in the middle is no fault of ours.
  await pipeline(handle.createReadStream(), response).catch(() => response.destroy());
}

/** A file that is kept under another name than people gave it. */
export interface NamedFile {
  readonly path: string;
  readonly name: string;
}

const TYPES: Readonly<Record<string, string>> = {
  '.ora': 'image/openraster',
  '.png': 'image/png',
  '.tif': 'image/tiff',
  '.svg': 'image/svg+xml',
  '.pdf': 'application/pdf',
  '.zip': 'application/zip',
};

/** Sends a file of the store to be saved under its name, as what its ending says; as bytes where nothing is known of that. */
export async function sendDownload(response: Response, { path, name }: NamedFile): Promise<void> {
  response.attachment(name);
  await sendFile(response, path, TYPES[extname(name).toLowerCase()] ?? 'application/octet-stream', false);
}
