import {
  AddLogEntryDto,
  AddTimeDto,
  CorrectTimeDto,
  LogNoteDto,
  UpdateJobPlanDto,
  UpdatePagePlansDto,
  type JobPlan,
  type LogEntryView,
  type WorkTimeView,
} from '@jumble/contracts';
import { tableToCsv, tableToPdf, type PdfColumn } from '@jumble/formats';
import { Body, Controller, Get, HttpCode, Inject, Param, Patch, Post, Put, Query, Res } from '@nestjs/common';
import type { Response } from 'express';
import { DomainError, notFound } from '../errors/DomainError.ts';
import { Logbook } from './Logbook.ts';
import { Plans } from './Plans.ts';
import { WorkTimes } from './WorkTimes.ts';

@Controller('api')
export class DeskController {
  constructor(
    @Inject(Plans) private readonly plans: Plans,
    @Inject(WorkTimes) private readonly times: WorkTimes,
    @Inject(Logbook) private readonly logbook: Logbook,
  ) {}

  /** Every job with its plan, its time and its forecast. @param today where the person is. */
  @Get('plans')
  all(@Query('today') today: string | undefined): Promise<JobPlan[]> {
    return this.plans.all(dayFrom(today));
  }

  @Get('jobs/:id/plan')
  one(@Param('id') id: string, @Query('today') today: string | undefined): Promise<JobPlan> {
    return this.plans.one(id, dayFrom(today));
  }

  @Patch('jobs/:id/plan')
  async updateJob(
    @Param('id') id: string,
    @Body() body: UpdateJobPlanDto,
    @Query('today') today: string | undefined,
  ): Promise<JobPlan> {
    await this.plans.updateJob(id, body);
    return this.plans.one(id, dayFrom(today));
  }

  /** Sets what is planned for several pages. */
  @Patch('jobs/:id/pages/plan')
  @HttpCode(204)
  updatePages(@Param('id') id: string, @Body() body: UpdatePagePlansDto): Promise<void> {
    return this.plans.updatePages(id, body);
  }

  /** Counts time that was worked just now. */
  @Post('pages/:id/time')
  async addTime(@Param('id') id: string, @Body() body: AddTimeDto): Promise<{ readonly seconds: number }> {
    return { seconds: await this.times.add(id, body) };
  }

  /** Corrects time by hand: it stands apart. */
  @Post('pages/:id/time/corrections')
  @HttpCode(204)
  correctTime(@Param('id') id: string, @Body() body: CorrectTimeDto): Promise<void> {
    return this.times.correct(id, body);
  }

  @Get('jobs/:id/time')
  listTime(@Param('id') id: string): Promise<WorkTimeView[]> {
    return this.times.list(id);
  }

  /** The time sheet, to be billed: CSV or PDF. */
  @Get('jobs/:id/time-sheet.:format')
  async timeSheet(@Param('id') id: string, @Param('format') format: string, @Res() response: Response): Promise<void> {
    await this.sendTable(response, id, format, 'time-sheet', 'Time of', TIME_COLUMNS, await this.timeRows(id));
  }

  private async timeRows(id: string): Promise<Record<string, string | number>[]> {
    return (await this.times.list(id)).map((one) => ({
      day: one.day,
      person: one.person,
      page: one.pageName,
      stage: one.stage,
      minutes: Math.round(one.seconds / 6) / 10,
      'by hand': one.byHand ? 'yes' : '',
      note: one.note ?? '',
    }));
  }

  @Get('jobs/:id/logbook')
  log(@Param('id') id: string, @Query('search') search: string | undefined): Promise<LogEntryView[]> {
    return this.logbook.of(id, search ?? '');
  }

  @Post('jobs/:id/logbook')
  @HttpCode(204)
  addEntry(@Param('id') id: string, @Body() body: AddLogEntryDto): Promise<void> {
    return this.logbook.add(id, body);
  }

  @Get('jobs/:id/logbook.:format')
  async logTable(
    @Param('id') id: string,
    @Param('format') format: string,
    @Query('search') search: string | undefined,
    @Res() response: Response,
  ): Promise<void> {
    await this.sendTable(response, id, format, 'logbook', 'Logbook of', LOG_COLUMNS, await this.logRows(id, search));
  }

  private async logRows(id: string, search = ''): Promise<Record<string, string>[]> {
    return (await this.logbook.of(id, search)).map(({ at, kind, what, who, why, pageName }) => ({
      at,
      kind,
      page: pageName ?? '',
      what,
      who: who ?? '',
      why: why ?? '',
    }));
  }

  /** Sends a table of a job as CSV or PDF. @throws DomainError 404 for another format. */
  private async sendTable(
    response: Response,
    jobId: string,
    format: string,
    file: string,
    title: string,
    columns: readonly PdfColumn[],
    rows: readonly Readonly<Record<string, string | number>>[],
  ): Promise<void> {
    if (format !== 'csv' && format !== 'pdf') throw notFound('format');
    response.attachment(`${file}.${format}`);
    if (format === 'csv') {
      response.type('text/csv').send(tableToCsv(columns.map(({ field }) => field), rows)); // prettier-ignore
      return;
    }
    const { name } = await this.plans.one(jobId, dayFrom(undefined));
    response.type('application/pdf').send(Buffer.from(await tableToPdf(`${title} ${name}`, columns, rows)));
  }

  @Put('jobs/:id/logbook/:table/:number/why')
  @HttpCode(204)
  note(
    @Param('id') id: string,
    @Param('table') table: string,
    @Param('number') number: string,
    @Body() { why }: LogNoteDto,
  ): Promise<void> {
    return this.logbook.note(id, `${table}/${number}`, why);
  }
}

const TIME_COLUMNS: readonly PdfColumn[] = [
  { field: 'day', share: 2 },
  { field: 'person', share: 2 },
  { field: 'page', share: 3 },
  { field: 'stage', share: 2 },
  { field: 'minutes', share: 1 },
  { field: 'by hand', share: 1 },
  { field: 'note', share: 4 },
];
const LOG_COLUMNS: readonly PdfColumn[] = [
  { field: 'at', share: 4 },
  { field: 'kind', share: 2 },
  { field: 'page', share: 3 },
  { field: 'what', share: 8 },
  { field: 'who', share: 2 },
  { field: 'why', share: 5 },
];

function dayFrom(text: string | undefined): string {
  const day = text ?? new Date().toISOString().slice(0, 10);
  if (!/^\d{4}-\d\d-\d\d$/.test(day) || Number.isNaN(Date.parse(day)))
    throw new DomainError(400, 'bad-value', '`today` must be a day like 2026-05-01.');
  return day;
}
