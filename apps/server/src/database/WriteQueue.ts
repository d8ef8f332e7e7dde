import { setTimeout as delay } from 'node:timers/promises';
import type Database from 'better-sqlite3';
import type { DataSource, EntityManager } from 'typeorm';
import type { BetterSqlite3Driver } from 'typeorm/driver/better-sqlite3/BetterSqlite3Driver.js';

/** How long a write waits for another program to let go of the database. */
const LOCK_WAIT_MS = 1500;
const LOCK_RETRY_MS = 30;

/**
 * Every write goes through here, one after the other, each in a transaction of its own on a connection that
 * nothing else uses.
 *
 * SQLite ends a transaction by itself after some errors (a full disk, an I/O error), not after others. So
 * transactions are begun and ended on the connection itself, which knows whether one is open
 * (`inTransaction`); a count kept beside it goes wrong at the first such error, and what is written then is
 * acknowledged and never committed. No write starts, and none is acknowledged, while a transaction is open:
 * a connection that cannot be brought back to none is closed and opened anew.
 */
export class WriteQueue {
  private tail: Promise<unknown> = Promise.resolve();
  private writer: DataSource | null;

  constructor(
    writer: DataSource,
    private readonly reopen: () => Promise<DataSource>,
  ) {
    this.writer = writer;
  }

  /**
   * Runs `work` when all earlier writes are done; resolves once it is committed. `work` must await all that it
   * starts, and let errors through.
   *
   * @throws what `work` throws, or the error of SQLite; nothing of it is stored then.
   */
  run<T>(work: (manager: EntityManager) => Promise<T>): Promise<T> {
    const result = this.tail.then(() => this.transact(work));
    this.tail = result.catch(() => undefined);
    return result;
  }

  /** Waits for what is under way, then closes the connection. */
  async close(): Promise<void> {
    await this.tail;
    await this.drop();
  }

  private async transact<T>(work: (manager: EntityManager) => Promise<T>): Promise<T> {
    this.writer ??= await this.reopen();
    const { manager, driver } = this.writer;
    const database = (driver as BetterSqlite3Driver).databaseConnection as Database.Database;
    await begin(database);
    try {
      const result = await work(manager);
      if (!database.inTransaction) throw new Error('The transaction ended before it was committed.');
      database.exec('COMMIT');
      if (database.inTransaction) throw new Error('The transaction is still open after its commit.');
      return result;
    } catch (error) {
      await this.rollBack(database);
      throw error;
    }
  }

  private async rollBack(database: Database.Database): Promise<void> {
    try {
      if (database.inTransaction) database.exec('ROLLBACK');
    } catch {
      // Told by what follows: the transaction is still open.
    }
    if (database.inTransaction) await this.drop();
  }

  /** Closing a connection rolls back what is open on it. */
  private async drop(): Promise<void> {
    const { writer } = this;
    this.writer = null;
    await writer?.destroy();
  }
}

/** Begins a transaction that holds the right to write from the start; waits for other programs without stopping this one. */
async function begin(database: Database.Database): Promise<void> {
  const end = performance.now() + LOCK_WAIT_MS;
  for (;;) {
    try {
      database.exec('BEGIN IMMEDIATE');
      return;
    } catch (error) {
      const busy = (error as { code?: string }).code?.startsWith('SQLITE_BUSY') === true;
      if (!busy || performance.now() >= end) throw error;
    }
    await delay(LOCK_RETRY_MS);
  }
}
