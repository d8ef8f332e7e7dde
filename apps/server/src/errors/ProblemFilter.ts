import { CastFileError } from '@jumble/core';
import { Catch, HttpException, Logger, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common';
import { PageFileError } from '@jumble/raster-io';
import type { Response } from 'express';
import { MulterError } from 'multer';
import { sizeInWords } from '../limits.ts';
import { DomainError } from './DomainError.ts';

interface Description {
  readonly status: number;
  readonly code: string;
  readonly detail: string;
  readonly extra?: object;
}

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

  private describe(error: unknown): Description {
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
      return {
        status: 400,
        code: 'bad-upload',
        detail: `The upload was not understood (${error.message}). Nothing was stored; try again.`,
      };
    }
    if (error instanceof CastFileError) return { status: 422, code: 'cast-file', detail: error.message };
    if (error instanceof RangeError || error instanceof TypeError) {
      if (/^`/.test(error.message)) return { status: 400, code: 'bad-value', detail: error.message };
    }
    const { message, status, limit, ...rest } = error as NodeJS.ErrnoException & { status?: number; limit?: number };
    const code = String(rest.code ?? '');
    if (FULL.has(code)) {
      return {
        status: 507,
        code: 'disk-full',
        detail: 'The disk is full. Everything stored before is kept; free some space and do it again.',
      };
    }
    if (code.startsWith('SQLITE_BUSY') || code.startsWith('SQLITE_LOCKED')) {
      return {
        status: 503,
        code: 'database-locked',
        detail: 'Another program holds the database. Nothing was stored; close that program and do it again.',
      };
    }
    if (DISK_FAULTS.has(code) || code.startsWith('SQLITE_IOERR')) {
      this.logger.error(message);
      return {
        status: 507,
        code: 'disk-failed',
        detail: `The disk refuses to be written (${code}). Everything stored before is kept; check the disk and do it again.`,
      };
    }
    if (code === 'ECONNABORTED' || message === 'Request aborted') {
      return {
        status: 400,
        code: 'connection-lost',
        detail: 'The connection broke in the middle. Nothing was stored; try again.',
      };
    }
    if (error instanceof HttpException) return describeHttp(error);
    if (status !== undefined && status >= 400 && status < 500) return describeRefusal(status, message, limit);
    this.logger.error(error instanceof Error ? error.stack : String(error));
    return {
      status: 500,
      code: 'unexpected',
      detail: 'Something went wrong in Jumble itself. What was stored before is kept; try again.',
    };
  }
}

const FULL = new Set(['ENOSPC', 'EDQUOT', 'SQLITE_FULL']);
const DISK_FAULTS = new Set(['EIO', 'EROFS', 'EFBIG', 'SQLITE_READONLY', 'SQLITE_CANTOPEN']);

/** A refusal of the framework: a body that breaks a rule, an address that is nobody's. */
function describeHttp(error: HttpException): Description {
  const body = error.getResponse() as { message?: string | string[] } | string;
  const said = typeof body === 'string' ? body : body.message;
  const status = error.getStatus();
  if (status === 404) {
    return { status, code: 'not-found', detail: 'There is nothing at this address. Go back to the desk.' };
  }
  return {
    status,
    code: status === 400 ? 'bad-request' : 'refused',
    detail: Array.isArray(said) ? said.join('; ') : (said ?? error.message),
  };
}

/** A refusal of what reads requests and sends files. */
function describeRefusal(status: number, message: string, limit: number | undefined): Description {
  if (status === 413) {
    const most = limit === undefined ? 'is allowed' : sizeInWords(limit);
    return {
      status,
      code: 'too-large',
      detail: `The request is larger than ${most}. Nothing was stored; do it in smaller steps.`,
    };
  }
  if (status === 404) return { status, code: 'not-found', detail: 'There is no such file.' };
  if (status === 416) return { status, code: 'bad-range', detail: 'The file has no such piece.' };
  return { status, code: 'bad-request', detail: `The request is not well formed (${message}). Nothing was stored.` };
}
