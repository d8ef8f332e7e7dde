import { dirname } from 'node:path';
import { Inject, Injectable, type CallHandler, type ExecutionContext, type NestInterceptor } from '@nestjs/common';
import type { Observable } from 'rxjs';
import { FILE_STORE, type FileStore } from '../storage/FileStore.ts';
import { receivePageFile } from './receivePageFile.ts';

/** Receives the uploaded file into the store's own incoming folder. */
@Injectable()
export class PageFileInterceptor implements NestInterceptor {
  private readonly inner: NestInterceptor;

  constructor(@Inject(FILE_STORE) files: FileStore) {
    this.inner = new (receivePageFile(() => dirname(files.incoming())))();
  }

  intercept(context: ExecutionContext, next: CallHandler): Observable<unknown> | Promise<Observable<unknown>> {
    return this.inner.intercept(context, next);
  }
}
