import { rm } from 'node:fs/promises';
import { dirname } from 'node:path';
import { MAX_FILE_BYTES } from '@jumble/core';
import { Inject, Injectable, type CallHandler, type ExecutionContext, type NestInterceptor } from '@nestjs/common';
import type { Request, Response } from 'express';
import { from, lastValueFrom, type Observable } from 'rxjs';
import { DomainError } from '../errors/DomainError.ts';
import { sizeInWords } from '../limits.ts';
import { FILE_STORE, type FileStore } from '../storage/FileStore.ts';
import { receivePageFile } from './receivePageFile.ts';

/** What a form adds to the file that it carries, at most. */
const FORM_BYTES = 64 * 1024;
/** How long a client may take to read the refusal of what it still sends. */
const LINGER_MS = 5000;

/** Receives the uploaded file into the store's own incoming folder; what nobody took over is gone before the answer. */
@Injectable()
export class PageFileInterceptor implements NestInterceptor {
  private readonly inner: NestInterceptor;

  constructor(@Inject(FILE_STORE) files: FileStore) {
    this.inner = new (receivePageFile(() => dirname(files.incoming())))();
  }

  async intercept(context: ExecutionContext, next: CallHandler): Promise<Observable<unknown>> {
    const http = context.switchToHttp();
    const request = http.getRequest<Request & { file?: Express.Multer.File }>();
    const receiving = Promise.resolve(this.inner.intercept(context, next));
    // What breaks off because we stopped reading is told already.
    receiving.catch(() => undefined);
    const answer = await Promise.race([receiving, overLimit(request, http.getResponse<Response>())]);
    const { file } = request;
    if (file === undefined) return answer;
    // What cannot be removed now goes at the next start: no reason to fail what was done.
    const clear = (): Promise<void> => rm(file.path, { force: true }).catch(() => undefined);
    return from(lastValueFrom(answer, { defaultValue: undefined }).finally(clear));
  }
}

/**
 * Rejects as soon as a request is, or says that it will be, larger than a file may be. The parser of forms would
 * read one to its end before it says so.
 */
function overLimit(request: Request, response: Response): Promise<never> {
  const most = MAX_FILE_BYTES + FORM_BYTES;
  return new Promise((_, reject) => {
    let bytes = 0;
    const count = (piece: Buffer): void => check((bytes += piece.length));
    const check = (size: number): void => {
      if (size <= most) return;
      request.off('data', count);
      stopReading(request, response);
      reject(
        new DomainError(
          413,
          'page-file-too-large',
          `The file is larger than ${sizeInWords(MAX_FILE_BYTES)}. Save it with compression or at a lower resolution. Nothing was stored.`,
        ),
      );
    };
    check(Number(request.headers['content-length'] ?? 0));
    request.on('data', count);
  });
}

/**
 * Nothing more of this request is read. The connection is closed for writing once the answer is out, and for good a
 * while later: Node and the parser of forms would each destroy it at once, and a client whose next write fails never
 * reads the answer.
 */
function stopReading(request: Request, response: Response): void {
  const { socket } = request;
  response.setHeader('Connection', 'close');
  socket.pause();
  const destroy = socket.destroy.bind(socket);
  let isClosing = false;
  socket.destroySoon = socket.destroy = (error?: Error) => {
    if (!isClosing) setTimeout(() => destroy(error), LINGER_MS).unref();
    isClosing = true;
    return socket.end();
  };
}
