import { rm } from 'node:fs/promises';
import { dirname } from 'node:path';
import { Inject, Injectable, type CallHandler, type ExecutionContext, type NestInterceptor } from '@nestjs/common';
import { from, lastValueFrom, type Observable } from 'rxjs';
import { FILE_STORE, type FileStore } from '../storage/FileStore.ts';
import { receivePageFile } from './receivePageFile.ts';

/** Receives the uploaded file into the store's own incoming folder; what nobody took over is gone before the answer. */
@Injectable()
export class PageFileInterceptor implements NestInterceptor {
  private readonly inner: NestInterceptor;

  constructor(@Inject(FILE_STORE) files: FileStore) {
    this.inner = new (receivePageFile(() => dirname(files.incoming())))();
  }

  async intercept(context: ExecutionContext, next: CallHandler): Promise<Observable<unknown>> {
    const answer = await this.inner.intercept(context, next);
    const { file } = context.switchToHttp().getRequest<{ file?: Express.Multer.File }>();
    if (file === undefined) return answer;
    // What cannot be removed now goes at the next start: no reason to fail what was done.
    const clear = (): Promise<void> => rm(file.path, { force: true }).catch(() => undefined);
    return from(lastValueFrom(answer, { defaultValue: undefined }).finally(clear));
  }
}
