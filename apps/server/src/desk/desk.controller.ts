import {
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
import { DomainError } from '../errors/DomainError.ts';
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

  /** The time sheet, to be billed. */
  @Get('jobs/:id/time-sheet.csv')
  async timeSheet(@Param('id') id: string, @Res() response: Response): Promise<void> {
    response.type('text/csv').attachment('time-sheet.csv').send(tableToCsv(TIME_COLUMNS.map(({ field }) => field), await this.timeRows(id))); // prettier-ignore
  }

  @Get('jobs/:id/time-sheet.pdf')
  async timePdf(@Param('id') id: string, @Res() response: Response): Promise<void> {
    const { name } = await this.plans.one(id, dayFrom(undefined));
    await sendPdf(response, 'time-sheet.pdf', `Time of ${name}`, TIME_COLUMNS, await this.timeRows(id));
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

  @Get('jobs/:id/logbook.csv')
  async logCsv(
    @Param('id') id: string,
    @Query('search') search: string | undefined,
    @Res() response: Response,
  ): Promise<void> {
    const csv = tableToCsv(LOG_COLUMNS.map(({ field }) => field), await this.logRows(id, search)); // prettier-ignore
    response.type('text/csv').attachment('logbook.csv').send(csv);
  }

  @Get('jobs/:id/logbook.pdf')
  async logPdf(
    @Param('id') id: string,
    @Query('search') search: string | undefined,
    @Res() response: Response,
  ): Promise<void> {
    const { name } = await this.plans.one(id, dayFrom(undefined));
    await sendPdf(response, 'logbook.pdf', `Logbook of ${name}`, LOG_COLUMNS, await this.logRows(id, search));
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

async function sendPdf(
  response: Response,
  file: string,
  title: string,
  columns: readonly PdfColumn[],
  rows: readonly Readonly<Record<string, string | number>>[],
): Promise<void> {
  const bytes = await tableToPdf(title, columns, rows);
  response.type('application/pdf').attachment(file).send(Buffer.from(bytes));
}

function dayFrom(text: string | undefined): string {
  const day = text ?? new Date().toISOString().slice(0, 10);
  if (!/^\d{4}-\d\d-\d\d$/.test(day) || Number.isNaN(Date.parse(day)))
    throw new DomainError(400, 'bad-value', '`today` must be a day like 2026-05-01.');
  return day;
}
