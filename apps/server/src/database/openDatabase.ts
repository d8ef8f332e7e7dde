import { join } from 'node:path';
import Database from 'better-sqlite3';
import { DataSource } from 'typeorm';
import { StartError } from '../errors/StartError.ts';
import { ENTITIES } from './entities.ts';
import { CastMerging1764316800000 } from './migrations/CastMerging1764316800000.ts';
import { CastStacking1764403200000 } from './migrations/CastStacking1764403200000.ts';
import { Initial1764043200000 } from './migrations/Initial1764043200000.ts';
import { LineArt1764230400000 } from './migrations/LineArt1764230400000.ts';
import { StoredCuts1764489600000 } from './migrations/StoredCuts1764489600000.ts';
import { Checks1764748800000 } from './migrations/Checks1764748800000.ts';
import { Holds1764662400000 } from './migrations/Holds1764662400000.ts';
import { Desk1764921600000 } from './migrations/Desk1764921600000.ts';
import { Packages1764835200000 } from './migrations/Packages1764835200000.ts';
import { PlanRepairs1765008000000 } from './migrations/PlanRepairs1765008000000.ts';
import { Trap1764576000000 } from './migrations/Trap1764576000000.ts';

/** In their order. */
export const MIGRATIONS = [
  Initial1764043200000,
  LineArt1764230400000,
  CastMerging1764316800000,
  CastStacking1764403200000,
  StoredCuts1764489600000,
  Trap1764576000000,
  Holds1764662400000,
  Checks1764748800000,
  Packages1764835200000,
  Desk1764921600000,
  PlanRepairs1765008000000,
];

/** A reader waits this long for another program to let go of the database; the whole server waits with it. */
const READER_WAIT_MS = 100;

const databasePath = (dataFolder: string): string => join(dataFolder, 'jumble.sqlite');

/**
 * Opens the connection that all writes go through. It does not wait for locks by itself: that would stop the
 * server; the write queue waits without stopping it.
 */
export function openWriter(dataFolder: string): Promise<DataSource> {
  return new DataSource({
    type: 'better-sqlite3',
    database: databasePath(dataFolder),
    driver: Database,
    entities: ENTITIES,
    migrations: MIGRATIONS,
    enableWAL: true,
    timeout: 0,
    prepareDatabase: (database: Database.Database) => {
      // An acknowledged edit survives a killed process and a power cut.
      database.pragma('synchronous = FULL');
    },
  }).initialize();
}

/** Opens a connection that sees what is committed and nothing else, and cannot write. */
export function openReader(dataFolder: string): Promise<DataSource> {
  return new DataSource({
    type: 'better-sqlite3',
    database: databasePath(dataFolder),
    driver: Database,
    entities: ENTITIES,
    timeout: READER_WAIT_MS,
    // Benchmarks count them.
    ...(process.env.JUMBLE_LOG_QUERIES === '1'
      ? { logging: ['query' as const], logger: 'simple-console' as const }
      : {}),
    prepareDatabase: (database: Database.Database) => void database.pragma('query_only = ON'),
  }).initialize();
}

/**
 * Opens the database for writing, checks that it is whole, and brings it up to date.
 *
 * @throws StartError when it is damaged, cannot be opened, or another program holds it.
 */
export async function openDatabase(dataFolder: string): Promise<DataSource> {
  const path = databasePath(dataFolder);
  try {
    const writer = await openWriter(dataFolder);
    const [{ quick_check: found }] = (await writer.query('PRAGMA quick_check(1)')) as [{ quick_check: string }];
    if (found !== 'ok') throw new StartError(damaged(path, found));
    await writer.runMigrations();
    return writer;
  } catch (error) {
    if (error instanceof StartError) throw error;
    const { code = '', message } = error as Error & { code?: string };
    if (code === 'SQLITE_NOTADB' || code.startsWith('SQLITE_CORRUPT')) throw new StartError(damaged(path, message));
    if (code.startsWith('SQLITE_BUSY')) {
      throw new StartError(`Another program holds the database ${path}. Close it, then start Jumble again.`);
    }
    throw new StartError(`The database ${path} cannot be opened (${message}). Check the folder and the disk.`);
  }
}

function damaged(path: string, what: string): string {
  return `The database ${path} is damaged (${what.split('\n')[0]}). Put a copy of the data folder in its place, or start with another one: JUMBLE_DATA=/another/folder`;
}
