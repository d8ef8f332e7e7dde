import { AppendEditsDto, type AppendedView, type DocumentView } from '@jumble/contracts';
import { readCastSheet } from '@jumble/core';
import { castToCsv, castToTokens } from '@jumble/formats';
import { Body, Controller, Get, Inject, Param, Post, Res } from '@nestjs/common';
import type { Response } from 'express';
import { DrawQueue } from '../pages/DrawQueue.ts';
import { CastSheets } from './CastSheets.ts';

@Controller('api/jobs/:jobId/cast')
export class CastController {
  constructor(
    @Inject(CastSheets) private readonly sheets: CastSheets,
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
