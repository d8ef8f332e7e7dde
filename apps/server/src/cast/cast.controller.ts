import { randomUUID } from 'node:crypto';
import { ImportCastDto, type AppendedView, type DocumentView, readAppendEdits } from '@jumble/contracts';
import { importCast, readCastSheet } from '@jumble/core';
import { readCastFile } from '@jumble/formats';
import { Body, Controller, Get, Inject, Param, Post, Res } from '@nestjs/common';
import type { Response } from 'express';
import type { CastFileTask } from '../workers/tasks.ts';
import { WorkerPool } from '../workers/WorkerPool.ts';
import { CastSheets } from './CastSheets.ts';

@Controller('api/jobs/:jobId/cast')
export class CastController {
  constructor(
    @Inject(CastSheets) private readonly sheets: CastSheets,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
  ) {}

  @Get()
  async get(@Param('jobId') jobId: string): Promise<DocumentView> {
    const { revision, records } = await this.sheets.load(jobId);
    return { revision, records: [...records] };
  }

  @Post('edits')
  async append(@Param('jobId') jobId: string, @Body() body: unknown): Promise<AppendedView> {
    const { baseRevision, label, edits } = readAppendEdits(body);
    const step = await this.sheets.append(jobId, baseRevision, label, edits);
    return { step };
  }

  /** Brings a cast file in, as one step, or nothing of it. */
  @Post('import')
  async import(@Param('jobId') jobId: string, @Body() body: ImportCastDto): Promise<AppendedView> {
    const { revision, records } = await this.sheets.load(jobId);
    const edits = importCast(readCastSheet(records), readCastFile(body.text), randomUUID);
    const step = await this.sheets.append(jobId, revision, 'Import a cast file', edits);
    return { step };
  }

  @Get('sheet.pdf')
  pdf(@Param('jobId') jobId: string, @Res() response: Response): Promise<void> {
    return this.send(jobId, response, 'pdf', 'application/pdf', 'cast-sheet.pdf');
  }

  @Get('colours.json')
  tokens(@Param('jobId') jobId: string, @Res() response: Response): Promise<void> {
    return this.send(jobId, response, 'tokens', 'application/json', 'cast-colours.json');
  }

  @Get('colours.csv')
  csv(@Param('jobId') jobId: string, @Res() response: Response): Promise<void> {
    return this.send(jobId, response, 'csv', 'text/csv', 'cast-colours.csv');
  }

  /** A large sheet takes seconds to write: that is a worker's work. */
  private async send(
    jobId: string,
    response: Response,
    format: CastFileTask['format'],
    type: string,
    name: string,
  ): Promise<void> {
    const { records } = await this.sheets.load(jobId);
    const title = await this.sheets.nameOf(jobId);
    const bytes = await this.pool.run({ kind: 'castFile', format, title, sheet: readCastSheet(records) });
    response.type(type).attachment(name).send(Buffer.from(bytes));
  }
}
