import type { EntityManager } from 'typeorm';
import { LogEntryEntity } from '../database/entities.ts';
import { currentPerson } from './currentPerson.ts';

/** What goes into a job's logbook beside the steps. */
export interface NewLogEntry {
  readonly jobId: string;
  readonly pageId: string | null;
  readonly kind: 'page' | 'revised' | 'handoff' | 'returned';
  /** In words. */
  readonly what: string;
}

/** Writes it down, inside the caller's transaction. */
export async function logEntry(manager: EntityManager, entry: NewLogEntry): Promise<void> {
  await manager.insert(LogEntryEntity, { ...entry, person: currentPerson(), at: new Date().toISOString() });
}
