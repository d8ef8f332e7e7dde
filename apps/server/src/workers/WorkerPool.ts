import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { Piscina } from 'piscina';
import { SERVER_CONFIG, type ServerConfig } from '../config.ts';
import type { WorkerTasks } from './tasks.ts';

/** Heavy work off the event loop, in at most two threads. */
@Injectable()
export class WorkerPool implements OnApplicationShutdown {
  private readonly pool: Piscina;

  constructor(@Inject(SERVER_CONFIG) config: ServerConfig) {
    this.pool = new Piscina({
      filename: config.workerFile,
      minThreads: 0,
      maxThreads: 2,
      // An idle thread gives its page's rasters back.
      idleTimeout: 20_000,
      // Development and tests run the worker from its TypeScript.
      execArgv: config.workerFile.endsWith('.ts') ? ['--import', 'tsx'] : [],
    });
  }

  run<K extends keyof WorkerTasks>(
    task: WorkerTasks[K]['task'] & { kind: K },
    options: { signal?: AbortSignal; transfer?: readonly MessagePortLike[] } = {},
  ): Promise<WorkerTasks[K]['result']> {
    const answer = this.pool.run(task, {
      ...(options.signal === undefined ? {} : { signal: options.signal }),
      ...(options.transfer === undefined ? {} : { transferList: [...options.transfer] as never[] }),
    }) as Promise<WorkerTasks[K]['result']>;
    return answer.catch((error: unknown) => {
      throw withCode(error);
    });
  }

  async onApplicationShutdown(): Promise<void> {
    await this.pool.destroy();
  }
}

type MessagePortLike = import('node:worker_threads').MessagePort;

/** An error loses its code on the way between threads; those of the system say it first in their message. */
function withCode(error: unknown): unknown {
  if (!(error instanceof Error) || 'code' in error) return error;
  const code = /^(E[A-Z0-9]+): /.exec(error.message)?.[1];
  return code === undefined ? error : Object.assign(error, { code });
}
