import { readHistory } from '@jumble/core';
import type { StepView } from '@jumble/contracts';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { CastSheets } from '../cast/CastSheets.ts';
import type { PageEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { DomainError } from '../errors/DomainError.ts';
import { loggedStep, stepsOfPage } from '../history/stepLog.ts';
import { PageDocuments } from './PageDocuments.ts';

/** Undo and redo over a page and its job's cast sheet, in the order things were done. */
@Injectable()
export class PageHistory {
  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
    @Inject(PageDocuments) private readonly documents: PageDocuments,
    @Inject(CastSheets) private readonly sheets: CastSheets,
  ) {}

  log(page: PageEntity): Promise<Omit<StepView, 'edits'>[]> {
    return stepsOfPage(this.dataSource.manager, page);
  }

  /** Takes back the last step, or does the last one taken back again; that too is appended. */
  step(page: PageEntity, direction: 'undo' | 'redo'): Promise<StepView> {
    return this.queue.run(async (manager) => {
      const state = readHistory(await stepsOfPage(manager, page));
      const seq = state[direction].at(-1);
      if (seq === undefined) {
        throw new DomainError(
          409,
          `nothing-to-${direction}`,
          direction === 'undo' ? 'There is nothing to undo.' : 'There is nothing to redo.',
        );
      }
      const step = await loggedStep(manager, seq);
      const edits = direction === 'undo' ? step.inverse : step.edits;
      const appended = { kind: direction, ofSeq: seq, label: step.label, edits };
      return step.scope === 'page'
        ? this.documents.appendIn(manager, page.id, null, appended)
        : this.sheets.appendIn(manager, page.jobId, null, appended);
    });
  }
}
