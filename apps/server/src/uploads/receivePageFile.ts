import { randomUUID } from 'node:crypto';
import { basename } from 'node:path';
import { cleanName } from '@jumble/core';
import type { NestInterceptor, Type } from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { diskStorage } from 'multer';
import { DomainError } from '../errors/DomainError.ts';

/** A file that has arrived whole, outside the store. */
export interface ArrivedFile {
  readonly path: string;
  readonly name: string;
}

/** Receives one uploaded file under a name of ours in the store's incoming folder; its size is limited by who calls. */
export function receivePageFile(incomingFolder: () => string): Type<NestInterceptor> {
  return FileInterceptor('file', {
    storage: diskStorage({
      destination: (_request, _file, done) => done(null, incomingFolder()),
      filename: (_request, _file, done) => done(null, randomUUID()),
    }),
    limits: { files: 1, fields: 4, fieldSize: 1024 },
  });
}

/** @throws DomainError 400 when the request carried no file. */
export function arrivedFile(file: Express.Multer.File | undefined): ArrivedFile {
  if (file === undefined) {
    throw new DomainError(400, 'no-file', 'No file came with the request. Choose a PNG, TIFF, JPEG, GIF or WebP file.');
  }
  // Browsers send UTF-8, the parser reads Latin-1.
  const name = Buffer.from(file.originalname, 'latin1').toString('utf8');

  const clean = cleanName(basename(name.replaceAll('\\', '/'))).slice(0, 200);
  return { path: file.path, name: clean || 'page' };
}
