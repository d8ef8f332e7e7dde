import { Inject, Injectable } from '@nestjs/common';
import { DataSource, type EntityManager } from 'typeorm';

/**
 * Every write goes through here, one after the other, each in a transaction of its own. The driver
 * shares one connection: a second transaction begun meanwhile would be acknowledged and then lost
 * when the first rolls back.
 */
@Injectable()
export class WriteQueue {
  private tail: Promise<unknown> = Promise.resolve();

  constructor(@Inject(DataSource) private readonly dataSource: DataSource) {}

  /** Runs `work` when all earlier writes are done; resolves once it is committed. */
  run<T>(work: (manager: EntityManager) => Promise<T>): Promise<T> {
    const result = this.tail.then(() => this.dataSource.transaction(work));
    this.tail = result.catch(() => undefined);
    return result;
  }
}
