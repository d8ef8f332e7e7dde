import { readHistory, type RecordEdit } from '@jumble/core';
import type { StepView } from '@jumble/contracts';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource, type EntityManager } from 'typeorm';
import { CastSheets } from '../cast/CastSheets.ts';
import { StepEntity, type PageEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { DomainError } from '../errors/DomainError.ts';
import { PageDocuments } from '../pages/PageDocuments.ts';

/** Undo and redo over a page and its job's cast sheet, in the order things were done. */
@Injectable()
export class History {
  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
    @Inject(PageDocuments) private readonly documents: PageDocuments,
    @Inject(CastSheets) private readonly sheets: CastSheets,
  ) {}

  async log(page: PageEntity, manager: EntityManager = this.dataSource.manager): Promise<Omit<StepView, 'edits'>[]> {
    const rows = await manager
      .createQueryBuilder(StepEntity, 'step')
      .select(['step.seq', 'step.scope', 'step.revision', 'step.kind', 'step.ofSeq', 'step.label', 'step.at'])
      .where("(step.scope = 'page' AND step.scope_id = :page) OR (step.scope = 'cast' AND step.scope_id = :job)", {
        page: page.id,
        job: page.jobId,
      })
      .orderBy('step.seq')
      .getMany();
    return rows.map(({ seq, scope, revision, kind, ofSeq, label, at }) => ({
      seq,
      scope,
      revision,
      kind,
      of: ofSeq,
      label,
      at,
    }));
  }

  /** Takes back the last step, or does the last one taken back again; that too is appended. */
  step(page: PageEntity, direction: 'undo' | 'redo'): Promise<StepView> {
    return this.queue.run(async (manager) => {
      const state = readHistory(await this.log(page, manager));
      const seq = state[direction].at(-1);
      if (seq === undefined) {
        throw new DomainError(
          409,
          `nothing-to-${direction}`,
          direction === 'undo' ? 'There is nothing to undo.' : 'There is nothing to redo.',
        );
      }
      const step = await manager.findOneByOrFail(StepEntity, { seq });
      const edits = JSON.parse(direction === 'undo' ? step.inverse : step.edits) as RecordEdit[];
      const appended = { kind: direction, ofSeq: seq, label: step.label, edits };
      return step.scope === 'page'
        ? this.documents.appendIn(manager, page.id, null, appended)
        : this.sheets.appendIn(manager, page.jobId, null, appended);
    });
  }
}
