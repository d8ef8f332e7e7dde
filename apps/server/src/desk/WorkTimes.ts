import type { AddTimeDto, CorrectTimeDto, TimeStage, WorkTimeView } from '@jumble/contracts';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource, type EntityManager } from 'typeorm';
import { PageEntity, PersonClockEntity, WorkTimeEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { DomainError, notFound } from '../errors/DomainError.ts';

/** Most that is taken at once, in ms: browsers send every half minute. */
const MOST_MS = 15 * 60_000;
/** A browser's clock may be ahead by so much, in ms. */
const AHEAD_MS = 5 * 60_000;

/** Time that was worked, by page, stage, person and day. */
@Injectable()
export class WorkTimes {
  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
  ) {}

  /** Adds time; what another tab of the same person counted already is left out. @returns seconds that were added. */
  add(pageId: string, { person, stage, fromMs, toMs, day }: AddTimeDto): Promise<number> {
    if (toMs < fromMs || toMs - fromMs > MOST_MS || toMs > Date.now() + AHEAD_MS)
      throw new DomainError(
        400,
        'bad-value',
        '`fromMs` to `toMs` must be a quarter of an hour at most, not yet to come.',
      );
    return this.queue.run(async (manager) => {
      if (!(await manager.existsBy(PageEntity, { id: pageId }))) throw notFound('page');
      const clock = await manager.findOneBy(PersonClockEntity, { person });
      const from = Math.max(fromMs, clock?.untilMs ?? 0);
      const seconds = Math.round((toMs - from) / 1000);
      if (seconds <= 0) return 0;
      await manager.upsert(PersonClockEntity, { person, untilMs: toMs }, ['person']);
      await addSeconds(manager, { pageId, stage, person, day, byHand: 0 }, seconds, null);
      return seconds;
    });
  }

  async correct(pageId: string, { person, stage, day, minutes, note }: CorrectTimeDto): Promise<void> {
    await this.queue.run(async (manager) => {
      if (!(await manager.existsBy(PageEntity, { id: pageId }))) throw notFound('page');
      await addSeconds(manager, { pageId, stage, person, day, byHand: 1 }, minutes * 60, note === '' ? null : note);
    });
  }

  /** The newest day first. */
  async list(jobId: string): Promise<WorkTimeView[]> {
    const rows = await this.dataSource.manager
      .createQueryBuilder(WorkTimeEntity, 'time')
      .innerJoin(PageEntity, 'page', 'page.id = time.page_id')
      .select(['time.page_id AS "pageId"', 'page.name AS "pageName"', 'time.stage AS stage', 'time.person AS person'])
      .addSelect(['time.day AS day', 'time.by_hand AS "byHand"', 'time.seconds AS seconds', 'time.note AS note'])
      .where('page.job_id = :jobId', { jobId })
      .orderBy('time.day', 'DESC')
      .addOrderBy('page.position')
      .getRawMany<Omit<WorkTimeView, 'byHand' | 'stage'> & { byHand: number; stage: TimeStage }>();
    return rows.map((row) => ({ ...row, byHand: row.byHand === 1 }));
  }
}

type TimeKey = Pick<WorkTimeEntity, 'pageId' | 'stage' | 'person' | 'day' | 'byHand'>;

async function addSeconds(manager: EntityManager, key: TimeKey, seconds: number, note: string | null): Promise<void> {
  const known = await manager.findOneBy(WorkTimeEntity, key);
  await manager.upsert(
    WorkTimeEntity,
    { ...key, seconds: (known?.seconds ?? 0) + seconds, note: note ?? known?.note ?? null },
    ['pageId', 'stage', 'person', 'day', 'byHand'],
  );
}
