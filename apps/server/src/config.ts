import { resolve } from 'node:path';
import { StartError } from './errors/StartError.ts';

/** Where the server listens and keeps its things. */
export interface ServerConfig {
  readonly port: number;
  readonly dataFolder: string;
  /** The built interface; null serves the interface of nothing (tests of the server alone). */
  readonly webFolder: string | null;
  /** Folder of the sheets that lie ready for the simulated scanner; null where none is connected. */
  readonly scannerTray: string | null;
  /** The worker's program. */
  readonly workerFile: string;
}

/**
 * Reads PORT, JUMBLE_DATA, JUMBLE_WEB and JUMBLE_SCANNER.
 *
 * @throws StartError when PORT is no port.
 */
export function readConfig(env: NodeJS.ProcessEnv, workerFile: string): ServerConfig {
  const { PORT = '' } = env;
  const port = PORT === '' ? 4317 : Number(PORT);
  if (!/^\d*$/.test(PORT) || port > 65535) {
    throw new StartError(`PORT must be a whole number from 0 to 65535, not ${JSON.stringify(PORT)}.`);
  }
  return {
    port,
    dataFolder: resolve(env.JUMBLE_DATA ?? '.data'),
    webFolder: env.JUMBLE_WEB === undefined ? null : resolve(env.JUMBLE_WEB),
    scannerTray: env.JUMBLE_SCANNER === undefined ? null : resolve(env.JUMBLE_SCANNER),
    workerFile,
  };
}

/** Injection token of the {@link ServerConfig}. */
export const SERVER_CONFIG = Symbol('ServerConfig');
