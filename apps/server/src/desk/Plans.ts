import type {
  JobPlan,
  PageFacts,
  PagePlan,
  RateDto,
  TimeStage,
  UpdateJobPlanDto,
  UpdatePagePlansDto,
} from '@jumble/contracts';
import {
  DEFAULT_CALENDAR,
  fitEffort,
  forecast,
  workingDaysBefore,
  type EffortEstimate,
  type PageMeasures,
  type WorkCalendar,
} from '@jumble/core';
import { Inject, Injectable, Logger } from '@nestjs/common';
import { DataSource, In } from 'typeorm';
import { JobEntity, PageEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { notFound } from '../errors/DomainError.ts';

/** Days whose pace counts. */
const PACE_DAYS = 5;
/** What is left of a page that took longer than was expected, as a share of the estimate. */
const LEAST_LEFT = 0.1;

interface PageRow {
  readonly id: string;
  readonly jobId: string;
  readonly name: string;
  readonly position: number;
  readonly thumbnailHash: string | null;
  readonly bookNumber: string | null;
  readonly isSpread: number;
  readonly dueOn: string | null;
  readonly person: string | null;
  readonly agreed: string | null;
  readonly regionCount: number;
  readonly filledCount: number;
  readonly measures: string | null;
  /** Latest revision that went out; null for none. */
  readonly handedOff: number | null;
  /** Latest revision since then; a certificate changes nothing of what went out. */
  readonly changedSince: number | null;
}

interface TimeRow {
  readonly pageId: string;
  readonly stage: TimeStage;
  readonly day: string;
  readonly seconds: number;
}

/** What is planned, what was worked, and what follows from both: four queries, however many jobs there are. */
@Injectable()
export class Plans {
  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
  ) {}

  /** All jobs, the newest first. @param today `YYYY-MM-DD` where the person is. */
  async all(today: string): Promise<JobPlan[]> {
    const { manager } = this.dataSource;
    const jobs = await manager.find(JobEntity, { order: { createdAt: 'DESC' } });
    const pages = (await manager.query(
      `SELECT page.id, job_id AS "jobId", name, position, thumbnail_hash AS "thumbnailHash", book_number AS "bookNumber",
        is_spread AS "isSpread", due_on AS "dueOn", person, agreed, region_count AS "regionCount",
        filled_count AS "filledCount", measures, sent.revision_sent AS "handedOff",
        (SELECT MAX(step.revision) FROM step WHERE step.scope = 'page' AND step.scope_id = page.id
          AND step.revision > sent.revision_sent AND step.edits NOT LIKE '[{"key":"certificate"%') AS "changedSince"
      FROM page LEFT JOIN (SELECT page_id, MAX(page_revision) AS revision_sent FROM handoff WHERE state = 'ready'
        GROUP BY page_id) sent ON sent.page_id = page.id ORDER BY position`,
    )) as PageRow[];
    const times = (await manager.query(
      `SELECT page_id AS "pageId", stage, day, SUM(seconds) AS seconds FROM work_time GROUP BY page_id, stage, day`,
    )) as TimeRow[];
    const timesOf = groupBy(times, ({ pageId }) => pageId);
    const pagesOf = groupBy(pages, ({ jobId }) => jobId);
    const estimate = fitEffort(timedPages(pages, timesOf));
    return jobs.map((job) => planOf(job, pagesOf.get(job.id) ?? [], timesOf, estimate, today));
  }

  async one(jobId: string, today: string): Promise<JobPlan> {
    const plan = (await this.all(today)).find(({ id }) => id === jobId);
    if (plan === undefined) throw notFound('job');
    return plan;
  }

  async updateJob(id: string, { series, client, rate, calendar }: UpdateJobPlanDto): Promise<void> {
    await this.queue.run(async (manager) => {
      if (!(await manager.existsBy(JobEntity, { id }))) throw notFound('job');
      const change = {
        ...(series === undefined ? {} : { series: series.trim() || null }),
        ...(client === undefined ? {} : { client: client.trim() || null }),
        ...(rate === undefined ? {} : { rate: rate === null ? null : JSON.stringify(rate) }),
        ...(calendar === undefined ? {} : { calendar: JSON.stringify(calendar) }),
      };
      if (Object.keys(change).length > 0) await manager.update(JobEntity, { id }, change);
    });
  }

  async updatePages(jobId: string, plan: UpdatePagePlansDto): Promise<void> {
    const { pageIds, bookNumber, isSpread, dueOn, person, agreed } = plan;
    await this.queue.run(async (manager) => {
      const known = await manager.countBy(PageEntity, { jobId, id: In(pageIds) });
      if (known !== pageIds.length) throw notFound('page');
      const change = {
        ...(bookNumber === undefined ? {} : { bookNumber: bookNumber.trim() || null }),
        ...(isSpread === undefined ? {} : { isSpread: Number(isSpread) }),
        ...(dueOn === undefined ? {} : { dueOn }),
        ...(person === undefined ? {} : { person: person.trim() || null }),
        ...(agreed === undefined ? {} : { agreed: agreed.trim() || null }),
      };
      if (Object.keys(change).length > 0) await manager.update(PageEntity, { jobId, id: In(pageIds) }, change);
    });
  }
}

function groupBy<T>(all: readonly T[], keyOf: (one: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const one of all) {
    const known = groups.get(keyOf(one));
    if (known === undefined) groups.set(keyOf(one), [one]);
    else known.push(one);
  }
  return groups;
}

/** What is stored as JSON, or null where nothing is, or what is not whole: one bad row must not hide the other jobs. */
function stored<T extends object>(text: string | null, isWhole: (value: Partial<T>) => boolean): T | null {
  if (text === null) return null;
  try {
    const value = JSON.parse(text) as Partial<T> | null;
    if (value !== null && isWhole(value)) return value as T;
  } catch {
    // Told below like anything else that cannot be read.
  }
  new Logger('Plans').warn(`What is stored of a plan cannot be read, and counts as not set: ${text.slice(0, 80)}`);
  return null;
}

const factsOf = ({ measures }: PageRow): PageFacts | null =>
  measures === null ? null : (JSON.parse(measures) as PageFacts);
const secondsOf = (times: readonly TimeRow[]): number => times.reduce((sum, { seconds }) => sum + seconds, 0);

/** Pages that went out and were worked on here: what effort is learned from. */
function timedPages(
  pages: readonly PageRow[],
  timesOf: ReadonlyMap<string, readonly TimeRow[]>,
): (PageMeasures & { minutes: number })[] {
  return pages.flatMap((page) => {
    const facts = factsOf(page);
    const minutes = secondsOf(timesOf.get(page.id) ?? []) / 60;
    return facts === null || page.handedOff === null || minutes < 1 ? [] : [{ ...facts, minutes }];
  });
}

function planOf(
  job: JobEntity,
  rows: readonly PageRow[],
  timesOf: ReadonlyMap<string, readonly TimeRow[]>,
  estimate: (page: PageMeasures) => EffortEstimate,
  today: string,
): JobPlan {
  const calendar =
    stored<WorkCalendar>(
      job.calendar,
      ({ weekdays, daysOff, hoursADay }) =>
        Array.isArray(weekdays) && Array.isArray(daysOff) && typeof hoursADay === 'number',
    ) ?? DEFAULT_CALENDAR;
  const pages = rows.map((row) => pagePlan(row, timesOf.get(row.id) ?? [], estimate));
  const days = new Map<string, number>();
  for (const { id } of rows)
    for (const { day, seconds } of timesOf.get(id) ?? []) days.set(day, (days.get(day) ?? 0) + seconds / 60);
  const left = pages.flatMap((page) => page.left ?? []);
  const lastDays = workingDaysBefore(calendar, today, PACE_DAYS).map((day) => days.get(day) ?? 0);
  const rate = stored<RateDto>(job.rate, ({ amount }) => typeof amount === 'number');
  const workedMinutes = [...days.values()].reduce((sum, one) => sum + one, 0);
  return {
    id: job.id,
    name: job.name,
    series: job.series,
    client: job.client,
    dueOn: job.dueOn,
    rate,
    calendar,
    pages,
    forecast: forecast({ left, lastDays, calendar, from: today }),
    lastDays,
    pay: rate === null ? null : payOf(rate, pages, workedMinutes, left),
    days: [...days].sort(([a], [b]) => (a < b ? -1 : 1)).map(([day, minutes]) => ({ day, minutes })),
  };
}

function pagePlan(row: PageRow, times: readonly TimeRow[], estimate: (page: PageMeasures) => EffortEstimate): PagePlan {
  const facts = factsOf(row);
  const seconds: Partial<Record<TimeStage, number>> = {};
  for (const one of times) seconds[one.stage] = (seconds[one.stage] ?? 0) + one.seconds;
  const { id, name, position, thumbnailHash, bookNumber, dueOn, person, agreed, regionCount, filledCount } = row;
  const plan = {
    id,
    name,
    position,
    thumbnailHash,
    bookNumber,
    isSpread: row.isSpread === 1,
    dueOn,
    person,
    agreed,
    regionCount,
    filledCount,
    facts,
    handedOff: row.handedOff === null ? null : row.changedSince === null ? ('now' as const) : ('before' as const),
    seconds,
    estimate: facts === null ? null : estimate(facts),
  };
  return { ...plan, left: leftOf(plan) };
}

/** What is left to do on a page: what was not worked yet, or what its open regions come to; nothing once it went out as it is. */
function leftOf(page: Omit<PagePlan, 'left'>): PagePlan['left'] {
  const { handedOff, estimate, seconds, regionCount, filledCount } = page;
  if (handedOff === 'now' || estimate === null) return null;
  const worked = Object.values(seconds).reduce((sum, one) => sum + one, 0) / 60;
  const openShare = regionCount === 0 ? 0 : (regionCount - filledCount) / regionCount;
  const minutes = Math.max(Math.max(LEAST_LEFT, openShare) * estimate.minutes, estimate.minutes - worked);
  return { minutes, deviation: (estimate.deviation * minutes) / estimate.minutes };
}

function payOf(
  rate: RateDto,
  pages: readonly PagePlan[],
  workedMinutes: number,
  left: readonly { readonly minutes: number }[],
): JobPlan['pay'] {
  const allMinutes = workedMinutes + left.reduce((sum, { minutes }) => sum + minutes, 0);
  const panels = (some: readonly PagePlan[]): number => some.reduce((sum, { facts }) => sum + (facts?.panels ?? 0), 0);
  const done = pages.filter(({ handedOff }) => handedOff === 'now');
  const worth = (some: readonly PagePlan[], minutes: number): number =>
    rate.amount * (rate.per === 'page' ? some.length : rate.per === 'panel' ? panels(some) : minutes / 60);
  const perHour = (sum: number, minutes: number): number | null => (minutes < 1 ? null : (sum * 60) / minutes);
  return {
    total: worth(pages, allMinutes),
    perHourSoFar: perHour(worth(done, workedMinutes), workedMinutes),
    perHourExpected: perHour(worth(pages, allMinutes), allMinutes),
  };
}
