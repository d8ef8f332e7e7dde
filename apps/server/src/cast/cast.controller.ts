import { randomUUID } from 'node:crypto';
import {
  AppendEditsDto,
  ImportCastDto,
  type AppendedView,
  type DocumentView,
  type PartUsageView,
} from '@jumble/contracts';
import { importCast, readCastSheet } from '@jumble/core';
import { castToCsv, castToPdf, castToTokens, readCastFile } from '@jumble/formats';
import { Body, Controller, Get, Inject, Param, Post, Res } from '@nestjs/common';
import type { Response } from 'express';
import { DrawQueue } from '../pages/DrawQueue.ts';
import { CastSheets } from './CastSheets.ts';
import { PartUsage } from './PartUsage.ts';

@Controller('api/jobs/:jobId/cast')
export class CastController {
  constructor(
    @Inject(CastSheets) private readonly sheets: CastSheets,
    @Inject(PartUsage) private readonly use: PartUsage,
    @Inject(DrawQueue) private readonly drawQueue: DrawQueue,
  ) {}

  @Get()
  async get(@Param('jobId') jobId: string): Promise<DocumentView> {
    const { revision, records } = await this.sheets.load(jobId);
    return { revision, records: [...records] };
  }

  @Post('edits')
  async append(@Param('jobId') jobId: string, @Body() body: AppendEditsDto): Promise<AppendedView> {
    const step = await this.sheets.append(jobId, body.baseRevision, body.label, body.edits);
    this.drawQueue.castChanged(jobId);
    return { step };
  }

  /** Where each part is used: pages, and places on each of them. */
  @Get('usage')
  usage(@Param('jobId') jobId: string): Promise<PartUsageView[]> {
    return this.use.of(jobId);
  }

  /** Brings a cast file in, as one step, or nothing of it. */
  @Post('import')
  async import(@Param('jobId') jobId: string, @Body() body: ImportCastDto): Promise<AppendedView> {
    const { revision, records } = await this.sheets.load(jobId);
    const edits = importCast(readCastSheet(records), readCastFile(body.text), randomUUID);
    const step = await this.sheets.append(jobId, revision, 'Import a cast file', edits);
    this.drawQueue.castChanged(jobId);
    return { step };
  }

  @Get('sheet.pdf')
  async pdf(@Param('jobId') jobId: string, @Res() response: Response): Promise<void> {
    const { records } = await this.sheets.load(jobId);
    const bytes = await castToPdf(readCastSheet(records), await this.sheets.nameOf(jobId));
    response.type('application/pdf').attachment('cast-sheet.pdf').send(Buffer.from(bytes));
  }

  @Get('colours.json')
  async tokens(@Param('jobId') jobId: string, @Res() response: Response): Promise<void> {
    const { records } = await this.sheets.load(jobId);
    response
      .type('application/json')
      .attachment('cast-colours.json')
      .send(castToTokens(readCastSheet(records)));
  }

  @Get('colours.csv')
  async csv(@Param('jobId') jobId: string, @Res() response: Response): Promise<void> {
    const { records } = await this.sheets.load(jobId);
    response
      .type('text/csv')
      .attachment('cast-colours.csv')
      .send(castToCsv(readCastSheet(records)));
  }
}
