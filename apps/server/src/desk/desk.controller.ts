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
import { tableToCsv } from '@jumble/formats';
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
    const rows = (await this.times.list(id)).map((one) => ({
      day: one.day,
      person: one.person,
      page: one.pageName,
      stage: one.stage,
      minutes: Math.round(one.seconds / 6) / 10,
      'by hand': one.byHand ? 'yes' : '',
      note: one.note ?? '',
    }));
    const fields = ['day', 'person', 'page', 'stage', 'minutes', 'by hand', 'note'];
    response.type('text/csv').attachment('time-sheet.csv').send(tableToCsv(fields, rows));
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
    const rows = (await this.logbook.of(id, search ?? '')).map(({ at, kind, what, who, why, pageName }) => ({
      at,
      kind,
      page: pageName ?? '',
      what,
      who: who ?? '',
      why: why ?? '',
    }));
    const csv = tableToCsv(['at', 'kind', 'page', 'what', 'who', 'why'], rows);
    response.type('text/csv').attachment('logbook.csv').send(csv);
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

function dayFrom(text: string | undefined): string {
  const day = text ?? new Date().toISOString().slice(0, 10);
  if (!/^\d{4}-\d\d-\d\d$/.test(day) || Number.isNaN(Date.parse(day)))
    throw new DomainError(400, 'bad-value', '`today` must be a day like 2026-05-01.');
  return day;
}
