import { resolve } from 'node:path';

/** Where the server listens and keeps its things. */
export interface ServerConfig {
  readonly port: number;
  readonly dataFolder: string;
  /** The built interface; null serves the interface of nothing (tests of the server alone). */
  readonly webFolder: string | null;
  /** The worker's program. */
  readonly workerFile: string;
}

/**
 * Reads PORT, JUMBLE_DATA and JUMBLE_WEB.
 *
 * @throws RangeError when PORT is no port.
 */
export function readConfig(env: NodeJS.ProcessEnv, workerFile: string): ServerConfig {
  const port = env.PORT === undefined || env.PORT === '' ? 4317 : Number(env.PORT);
  if (!Number.isInteger(port) || port < 0 || port > 65535) {
    throw new RangeError(`\`PORT\` must be an integer from 0 to 65535; received ${env.PORT}`);
  }
  return {
    port,
    dataFolder: resolve(env.JUMBLE_DATA ?? '.data'),
    webFolder: env.JUMBLE_WEB === undefined ? null : resolve(env.JUMBLE_WEB),
    workerFile,
  };
}

/** Injection token of the {@link ServerConfig}. */
export const SERVER_CONFIG = Symbol('ServerConfig');
