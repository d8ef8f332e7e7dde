import {
  applyEdits,
  checkCastEdit,
  MAX_PARTS,
  type CastPart,
  type Json,
  type RecordEdit,
  type Records,
} from '@jumble/core';
import type { StepView } from '@jumble/contracts';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource, type EntityManager } from 'typeorm';
import {
  CastGroupEntity,
  CastPartEntity,
  JobEntity,
  PartAliasEntity,
  PartColourEntity,
  SceneEntity,
} from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { DomainError, notFound } from '../errors/DomainError.ts';
import { appendStep, staleEdit } from '../history/appendStep.ts';

/** A cast sheet at a revision. */
export interface CastState {
  readonly revision: number;
  readonly records: Records;
}

/** Keeps cast sheets in their tables, with a log of their own. */
@Injectable()
export class CastSheets {
  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
  ) {}

  async load(jobId: string, manager: EntityManager = this.dataSource.manager): Promise<CastState> {
    const job = await manager.findOneBy(JobEntity, { id: jobId });
    if (job === null) throw notFound('job');
    const records = new Map<string, Json>();
    for (const { id, name, order, stack } of await manager.findBy(CastGroupEntity, { jobId })) {
      records.set(`group/${id}`, { name, order, ...(stack === null ? {} : { stack }) });
    }
    for (const { id, name, order } of await manager.findBy(SceneEntity, { jobId })) {
      records.set(`scene/${id}`, { name, order });
    }
    for (const one of await manager.findBy(CastPartEntity, { jobId })) {
      const { id, groupId, name, order, slot, empty, scratch, notes, stack, onPart } = one;
      records.set(`part/${id}`, {
        groupId,
        name,
        order,
        slot,
        empty: empty === 1,
        ...(notes === null ? {} : { notes }),
        ...(stack === null ? {} : { stack }),
        ...(onPart === null ? {} : { on: onPart }),
      });
      if (scratch !== null) records.set(`scratch/${id}`, scratch);
    }
    for (const { id, partId } of await manager.findBy(PartAliasEntity, { jobId })) records.set(`alias/${id}`, partId);
    for (const { sceneId, partId, colour } of await manager.findBy(PartColourEntity, { jobId })) {
      records.set(`colour/${sceneId}/${partId}`, colour);
    }
    if (job.palette === 'scratch') records.set('palette', 'scratch');
    return { revision: job.castRevision, records };
  }

  async nameOf(jobId: string): Promise<string> {
    const job = await this.dataSource.manager.findOneBy(JobEntity, { id: jobId });
    if (job === null) throw notFound('job');
    return job.name;
  }

  /**
   * Appends a change of the sheet.
   *
   * @throws TypeError or RangeError for an edit that breaks a rule; DomainError 409 when stale,
   *   422 when it would leave a part without its group or a colour without its part.
   */
  append(jobId: string, baseRevision: number, label: string, edits: readonly RecordEdit[]): Promise<StepView> {
    for (const edit of edits) checkCastEdit(edit);
    return this.queue.run((manager) =>
      this.appendIn(manager, jobId, baseRevision, { kind: 'do', ofSeq: null, label, edits }),
    );
  }

  /** Writes what a new job begins with. It is no step: nobody undoes it. */
  async begin(manager: EntityManager, jobId: string, edits: readonly RecordEdit[]): Promise<void> {
    for (const { key, value } of edits) await writeRecord(manager, jobId, key, value);
  }

  async appendIn(
    manager: EntityManager,
    jobId: string,
    baseRevision: number | null,
    step: { kind: 'do' | 'undo' | 'redo'; ofSeq: number | null; label: string; edits: readonly RecordEdit[] },
  ): Promise<StepView> {
    const state = await this.load(jobId, manager);
    if (baseRevision !== null && baseRevision !== state.revision) {
      throw await staleEdit(manager, 'cast', jobId, baseRevision);
    }
    const { records, inverse } = applyEdits(state.records, step.edits);
    checkWhole(records);
    const revision = state.revision + 1;
    const view = await appendStep(manager, { scope: 'cast', scopeId: jobId, revision, inverse, ...step });
    await manager.update(JobEntity, { id: jobId }, { castRevision: revision });
    for (const key of new Set(step.edits.map((edit) => edit.key))) {
      await writeRecord(manager, jobId, key, records.get(key) ?? null);
    }
    return view;
  }
}

/** What refers to something must find it. */
function checkWhole(records: Records): void {
  let parts = 0;
  for (const [key, value] of records) {
    const [table, first, second] = key.split('/');
    if (table === 'part') {
      parts++;
      const { groupId, on, name } = value as { groupId: string; on?: string; name: string };
      if (on !== undefined && (!records.has(`part/${on}`) || `part/${on}` === key)) {
        throw new DomainError(
          422,
          'cast-broken',
          `"${name}" would be a marking on a part that is not there. Say what it lies on first.`,
        );
      }
      if (!records.has(`group/${groupId}`)) {
        throw new DomainError(
          422,
          'cast-broken',
          `The part "${name}" would be left without its group. Move or delete it first.`,
        );
      }
    } else if (table === 'colour' && !(records.has(`scene/${first}`) && records.has(`part/${second}`))) {
      throw new DomainError(
        422,
        'cast-broken',
        'A colour would be left without its part or scene. Reload the cast sheet and do it again.',
      );
    } else if (table === 'alias' && !records.has(`part/${String(value)}`) && !records.has(`alias/${String(value)}`)) {
      throw new DomainError(
        422,
        'cast-broken',
        'A part was merged into one that is deleted by this. Merge it elsewhere first.',
      );
    } else if (table === 'scratch' && !records.has(`part/${first}`)) {
      throw new DomainError(
        422,
        'cast-broken',
        'A scratch colour would be left without its part. Reload the cast sheet and do it again.',
      );
    }
  }
  if (parts > MAX_PARTS) {
    throw new DomainError(422, 'cast-too-large', `A cast sheet holds at most ${MAX_PARTS} parts.`);
  }
}

/** A group, a scene or a part, as `checkCastEdit` let it through. */
type CastRow = Omit<CastPart, 'id'>;

async function writeRecord(manager: EntityManager, jobId: string, key: string, value: Json): Promise<void> {
  const [table, id, second] = key.split('/') as [string, string, string];
  const row = value as unknown as CastRow;
  switch (table) {
    case 'palette':
      await manager.update(JobEntity, { id: jobId }, { palette: value === 'scratch' ? 'scratch' : 'scene' });
      return;
    case 'group':
      if (value === null) await manager.delete(CastGroupEntity, { jobId, id });
      else
        await manager.upsert(
          CastGroupEntity,
          { jobId, id, name: row.name, order: row.order, stack: row.stack ?? null },
          ['jobId', 'id'],
        );
      return;
    case 'scene':
      if (value === null) await manager.delete(SceneEntity, { jobId, id });
      else await manager.upsert(SceneEntity, { jobId, id, name: row.name, order: row.order }, ['jobId', 'id']);
      return;
    case 'part':
      if (value === null) await manager.delete(CastPartEntity, { jobId, id });
      else {
        await manager.upsert(
          CastPartEntity,
          {
            jobId,
            id,
            groupId: row.groupId,
            name: row.name,
            order: row.order,
            slot: row.slot,
            empty: row.empty ? 1 : 0,
            notes: row.notes ?? null,
            stack: row.stack ?? null,
            onPart: row.on ?? null,
          },
          ['jobId', 'id'],
        );
      }
      return;
    case 'alias':
      if (value === null) await manager.delete(PartAliasEntity, { jobId, id });
      else await manager.upsert(PartAliasEntity, { jobId, id, partId: value as string }, ['jobId', 'id']);
      return;
    case 'scratch':
      await manager.update(CastPartEntity, { jobId, id }, { scratch: value as string | null });
      return;
    case 'colour':
      if (value === null) await manager.delete(PartColourEntity, { jobId, sceneId: id, partId: second });
      else {
        await manager.upsert(PartColourEntity, { jobId, sceneId: id, partId: second, colour: value as string }, [
          'jobId',
          'sceneId',
          'partId',
        ]);
      }
  }
}
