import type { AddLogEntryDto, LogEntryView } from '@jumble/contracts';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { JobEntity, LogNoteEntity, PageEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { DomainError, notFound } from '../errors/DomainError.ts';
import { logEntry } from '../history/logEntry.ts';

/** Most entries that are listed. */
const MOST_LISTED = 1000;
/** A browser's clock may be ahead by so much, in ms. */
const AHEAD_MS = 5 * 60_000;
/** Records of a page whose steps mean something beyond it. */
const MEANT = ['waiver/', 'certificate', 'trap', 'prep', 'hold/', 'scene', 'notes'];

/** What was decided and what happened in a job: steps of the cast, those of pages that mean something beyond them, and what went out or came. */
@Injectable()
export class Logbook {
  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
  ) {}

  /** The newest first. @param search words that must occur. */
  async of(jobId: string, search: string): Promise<LogEntryView[]> {
    const { manager } = this.dataSource;
    if (!(await manager.existsBy(JobEntity, { id: jobId }))) throw notFound('job');
    const keys = MEANT.map((key) => `step.edits LIKE '%"key":"${key}%'`).join(' OR ');
    const rows = (await manager.query(
      `SELECT log.*, log_note.why, page.name AS "pageName" FROM (
        SELECT 'step/' || seq AS entry, at, CASE scope WHEN 'cast' THEN 'cast' ELSE 'decision' END AS kind, label AS what,
          step.person AS who, CASE scope WHEN 'page' THEN scope_id END AS "pageId"
        FROM step WHERE (scope = 'cast' AND scope_id = ?)
          OR (scope = 'page' AND scope_id IN (SELECT id FROM page WHERE job_id = ?) AND (${keys}))
        UNION ALL
        SELECT 'log/' || id, at, kind, what, person, page_id FROM log_entry WHERE job_id = ?
      ) log LEFT JOIN log_note ON log_note.job_id = ? AND log_note.entry = log.entry
      LEFT JOIN page ON page.id = log."pageId" ORDER BY log.at DESC`,
      [jobId, jobId, jobId, jobId],
    )) as LogEntryView[];
    const words = search.toLowerCase().split(/\s+/).filter(Boolean);
    const found = rows.filter(({ what, who, why, kind, pageName }) => {
      const text = [what, who, why, kind, pageName].join(' ').toLowerCase();
      return words.every((word) => text.includes(word));
    });
    return found.slice(0, MOST_LISTED);
  }

  /** Writes down what somebody says. */
  async add(jobId: string, { what, why = '', pageId, at }: AddLogEntryDto): Promise<void> {
    const when = at === undefined ? new Date() : new Date(at);
    if (when.getTime() > Date.now() + AHEAD_MS)
      throw new DomainError(400, 'bad-value', '`at` must not be yet to come.');
    await this.queue.run(async (manager) => {
      if (!(await manager.existsBy(JobEntity, { id: jobId }))) throw notFound('job');
      if (pageId !== undefined && !(await manager.existsBy(PageEntity, { id: pageId, jobId }))) throw notFound('page');
      const id = await logEntry(manager, {
        ...{ jobId, pageId: pageId ?? null, kind: 'note', what: what.trim() },
        at: when.toISOString(),
      });
      if (why.trim() !== '') await manager.insert(LogNoteEntity, { jobId, entry: `log/${id}`, why: why.trim() });
    });
  }

  /** Says why something was done; empty takes it back. */
  async note(jobId: string, entry: string, why: string): Promise<void> {
    if (!/^(?:step|log)\/\d{1,12}$/.test(entry))
      throw new DomainError(400, 'bad-value', 'There is no such entry in the logbook.');
    await this.queue.run(async (manager) => {
      if (!(await manager.existsBy(JobEntity, { id: jobId }))) throw notFound('job');
      if (why.trim() === '') await manager.delete(LogNoteEntity, { jobId, entry });
      else await manager.upsert(LogNoteEntity, { jobId, entry, why: why.trim() }, ['jobId', 'entry']);
    });
  }
}
