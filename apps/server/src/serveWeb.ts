import { extname } from 'node:path';
import type { NestExpressApplication } from '@nestjs/platform-express';
import type { NextFunction, Request, Response } from 'express';
import { notFound } from './errors/DomainError.ts';

/**
 * Serves the built interface: its files, and its one page at every address that is neither a file's nor the
 * API's. A file that is not there is not there: the page in its place would be a riddle to whoever asked.
 */
export function serveWeb(app: NestExpressApplication, folder: string): void {
  app.useStaticAssets(folder, { index: false, redirect: false });
  app.use((request: Request, response: Response, next: NextFunction): void => {
    const { method, path } = request;
    if ((method !== 'GET' && method !== 'HEAD') || path === '/api' || path.startsWith('/api/')) return next();
    if (extname(path) !== '') return next(notFound('file'));
    response.sendFile('index.html', { root: folder }, (error?: Error) => {
      if (error !== undefined) next(error);
    });
  });
}
