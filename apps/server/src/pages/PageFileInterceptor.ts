import { rm } from 'node:fs/promises';
import { dirname } from 'node:path';
import { MAX_FILE_BYTES } from '@jumble/raster-io';
import {
  HttpException,
  Inject,
  Injectable,
  type CallHandler,
  type ExecutionContext,
  type NestInterceptor,
} from '@nestjs/common';
import type { Request, Response } from 'express';
import { from, lastValueFrom, type Observable } from 'rxjs';
import { DomainError } from '../errors/DomainError.ts';
import { megabytes } from '../limits.ts';
import { FILE_STORE, type FileStore } from '../storage/FileStore.ts';
import { receivePageFile } from './receivePageFile.ts';

/** What a form adds to the file that it carries, at most. */
const FORM_BYTES = 64 * 1024;
/** How long a client may take to read the refusal of what it still sends. */
const LINGER_MS = 500;

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
    const refuse = (): DomainError => {
      stopReading(request, http.getResponse<Response>());
      return new DomainError(
        413,
        'page-file-too-large',
        `The file is larger than ${megabytes(MAX_FILE_BYTES)}. Save it with compression or at a lower resolution. Nothing was stored.`,
      );
    };
    if (Number(request.headers['content-length'] ?? 0) > MAX_FILE_BYTES + FORM_BYTES) throw refuse();
    const answer = await Promise.resolve(this.inner.intercept(context, next)).catch((error: unknown) => {
      throw error instanceof HttpException && error.getStatus() === 413 ? refuse() : error;
    });
    const { file } = request;
    if (file === undefined) return answer;
    // What cannot be removed now goes at the next start: no reason to fail what was done.
    const clear = (): Promise<void> => rm(file.path, { force: true }).catch(() => undefined);
    return from(lastValueFrom(answer, { defaultValue: undefined }).finally(clear));
  }
}

/** Nothing more of this request is read; the connection ends once the answer is out. */
function stopReading(request: Request, response: Response): void {
  const { socket } = request;
  response.setHeader('Connection', 'close');
  socket.pause();
  response.once('finish', () => setTimeout(() => socket.destroy(), LINGER_MS).unref());
}
