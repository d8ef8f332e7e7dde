import { createReadStream } from 'node:fs';
import type { Response } from 'express';

/** Sends a file of the store. @param forever its address changes with its content. */
export function sendFile(response: Response, path: string, type: string, forever = true): void {
  response.setHeader('Content-Type', type);
  if (forever) response.setHeader('Cache-Control', 'private, max-age=31536000, immutable');
  const stream = createReadStream(path);
  stream.on('error', () => response.destroy());
  stream.pipe(response);
}
