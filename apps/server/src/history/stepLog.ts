import type { RecordEdit } from '@jumble/core';
import type { StepScope, StepView } from '@jumble/contracts';
import type { EntityManager } from 'typeorm';
import { currentPerson } from './currentPerson.ts';
import { StepEntity, type PageEntity } from '../database/entities.ts';
import { DomainError } from '../errors/DomainError.ts';

/** A step that is about to be written. */
export interface NewStep {
  readonly scope: StepScope;
  readonly scopeId: string;
  readonly revision: number;
  readonly kind: 'do' | 'undo' | 'redo';
  readonly ofSeq: number | null;
  readonly label: string;
  readonly edits: readonly RecordEdit[];
  readonly inverse: readonly RecordEdit[];
}

/** Appends a step to the log, inside the caller's transaction. */
export async function appendStep(manager: EntityManager, step: NewStep): Promise<StepView> {
  const row = {
    scope: step.scope,
    scopeId: step.scopeId,
    revision: step.revision,
    kind: step.kind,
    ofSeq: step.ofSeq,
    label: step.label,
    edits: JSON.stringify(step.edits),
    inverse: JSON.stringify(step.inverse),
    at: new Date().toISOString(),
    person: currentPerson(),
  };
  const { identifiers } = await manager.insert(StepEntity, row);
  return viewOfStep({ ...row, seq: (identifiers[0] as { seq: number }).seq });
}

export function viewOfStep(row: StepEntity): StepView {
  return {
    seq: row.seq,
    scope: row.scope,
    revision: row.revision,
    kind: row.kind,
    of: row.ofSeq,
    label: row.label,
    edits: JSON.parse(row.edits) as RecordEdit[],
    at: row.at,
  };
}

/** The log of a page and of its job's cast sheet, without what the steps did, oldest first. */
export async function stepsOfPage(
  manager: EntityManager,
  page: Pick<PageEntity, 'id' | 'jobId'>,
): Promise<Omit<StepView, 'edits'>[]> {
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

/** A step with what it did and what takes it back. */
export async function loggedStep(
  manager: EntityManager,
  seq: number,
): Promise<Pick<NewStep, 'scope' | 'label' | 'edits' | 'inverse'>> {
  const { scope, label, edits, inverse } = await manager.findOneByOrFail(StepEntity, { seq });
  return { scope, label, edits: JSON.parse(edits) as RecordEdit[], inverse: JSON.parse(inverse) as RecordEdit[] };
}

/** The steps of a document after a revision, oldest first. */
export async function stepsSince(
  manager: EntityManager,
  scope: StepScope,
  scopeId: string,
  revision: number,
): Promise<StepView[]> {
  const rows = await manager
    .getRepository(StepEntity)
    .createQueryBuilder('step')
    .where('step.scope = :scope AND step.scope_id = :scopeId AND step.revision > :revision', {
      scope,
      scopeId,
      revision,
    })
    .orderBy('step.revision')
    .getMany();
  return rows.map(viewOfStep);
}

/** 409 with what the client missed: it applies its own edits on top, or asks. */
export async function staleEdit(
  manager: EntityManager,
  scope: StepScope,
  scopeId: string,
  baseRevision: number,
): Promise<DomainError> {
  return new DomainError(
    409,
    'stale-edit',
    'Someone else changed this meanwhile (another tab, perhaps). Your change was not stored yet; it is put on top of theirs.',
    { missed: await stepsSince(manager, scope, scopeId, baseRevision) },
  );
}
