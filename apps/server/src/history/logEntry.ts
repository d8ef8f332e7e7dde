import type { EntityManager } from 'typeorm';
import { LogEntryEntity } from '../database/entities.ts';
import { currentPerson } from './currentPerson.ts';

/** What goes into a job's logbook beside the steps. */
export interface NewLogEntry {
  readonly jobId: string;
  readonly pageId: string | null;
  readonly kind: 'page' | 'revised' | 'handoff' | 'returned' | 'note';
  /** In words. */
  readonly what: string;
  /** ISO 8601 in UTC. @default now */
  readonly at?: string;
}

/** Writes it down, inside the caller's transaction. @returns its id. */
export async function logEntry(manager: EntityManager, entry: NewLogEntry): Promise<number> {
  const { identifiers } = await manager.insert(LogEntryEntity, {
    at: new Date().toISOString(),
    ...entry,
    person: currentPerson(),
  });
  return (identifiers[0] as { id: number }).id;
}
