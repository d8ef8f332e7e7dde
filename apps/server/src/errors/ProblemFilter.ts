import { CastFileError } from '@jumble/core';
import { Catch, HttpException, Logger, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common';
import { PageFileError } from '@jumble/raster-io';
import type { Response } from 'express';
import { MulterError } from 'multer';
import { DomainError } from './DomainError.ts';

/** Turns every error into a problem document (RFC 9457); what nobody foresaw is logged and told without its insides. */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  private readonly logger = new Logger('Problem');

  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>();
    const { status, code, detail, extra } = this.describe(error);
    if (response.headersSent) {
      response.destroy();
      return;
    }
    response
      .status(status)
      .type('application/problem+json')
      .send(
        JSON.stringify({
          type: `urn:jumble:${code}`,
          title: code.replaceAll('-', ' '),
          status,
          detail,
          code,
          ...extra,
        }),
      );
  }

  private describe(error: unknown): { status: number; code: string; detail: string; extra?: object } {
    if (error instanceof DomainError) {
      return { status: error.status, code: error.code, detail: error.message, extra: error.extra };
    }
    if (error instanceof PageFileError) {
      const { fault, message } = error;
      return {
        status: fault === 'too-large' ? 413 : 422,
        code: `page-file-${fault}`,
        detail: `${message} Nothing was stored.`,
      };
    }
    if (error instanceof MulterError) {
      const tooLarge = error.code === 'LIMIT_FILE_SIZE';
      return {
        status: tooLarge ? 413 : 400,
        code: tooLarge ? 'page-file-too-large' : 'bad-upload',
        detail: tooLarge
          ? 'The file has more than 300 MB. Save it with compression or at a lower resolution. Nothing was stored.'
          : `The upload was not understood (${error.message}). Nothing was stored; try again.`,
      };
    }
    if (error instanceof HttpException) {
      const status = error.getStatus();
      if (status === 413) {
        return {
          status,
          code: 'too-large',
          detail: 'The request is too large. Nothing was stored; do it in smaller steps.',
        };
      }
      const body = error.getResponse() as { message?: string | string[] } | string;
      const message = typeof body === 'string' ? body : body.message;
      return {
        status,
        code: status === 404 ? 'not-found' : status === 400 ? 'bad-request' : 'refused',
        detail: Array.isArray(message) ? message.join('; ') : (message ?? error.message),
      };
    }
    if (error instanceof CastFileError) return { status: 422, code: 'cast-file', detail: error.message };
    if (error instanceof RangeError || error instanceof TypeError) {
      if (/^`/.test(error.message)) return { status: 400, code: 'bad-value', detail: error.message };
    }
    const code = (error as NodeJS.ErrnoException | null)?.code;
    if (code === 'ENOSPC' || code === 'SQLITE_FULL') {
      return {
        status: 507,
        code: 'disk-full',
        detail: 'The disk is full. Everything stored before is kept; free some space and do it again.',
      };
    }
    if (code === 'ECONNABORTED' || (error as Error | null)?.message === 'Request aborted') {
      return {
        status: 400,
        code: 'connection-lost',
        detail: 'The connection broke in the middle. Nothing was stored; try again.',
      };
    }
    if ((error as { status?: number } | null)?.status === 413) {
      return {
        status: 413,
        code: 'too-large',
        detail: 'The request is too large. Nothing was stored; do it in smaller steps.',
      };
    }
    if ((error as { status?: number } | null)?.status === 400) {
      return { status: 400, code: 'bad-request', detail: 'The request is not well formed. Nothing was stored.' };
    }
    this.logger.error(error instanceof Error ? error.stack : String(error));
    return {
      status: 500,
      code: 'unexpected',
      detail: 'Something went wrong in Jumble itself. What was stored before is kept; try again.',
    };
  }
}
