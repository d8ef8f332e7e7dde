import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { DeliveryRule } from '@jumble/core';
import Database from 'better-sqlite3';
import { DataSource } from 'typeorm';
import { deliveryRule } from '../../../../packages/core/src/cast/checkDelivery.ts';
import { checkRecord } from '../../../../packages/core/src/model/checkRecord.ts';
import { MIGRATIONS, openDatabase } from './openDatabase.ts';

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'jumble-migrations-'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

/** A database as it was before hand-offs were packages. */
async function before(): Promise<DataSource> {
  const upTo = MIGRATIONS.findIndex(({ name }) => name.startsWith('Packages'));
  const source = new DataSource({
    type: 'better-sqlite3',
    database: join(folder, 'jumble.sqlite'),
    driver: Database,
    migrations: MIGRATIONS.slice(0, upTo),
  });
  await source.initialize();
  await source.runMigrations();
  await source.query(`INSERT INTO job (id, name, created_at) VALUES ('j', 'Tram', '2026-01-01')`);
  await source.query(`INSERT INTO page (id, job_id, name, position, file_name, file_hash, format, mode, bits_per_channel, width, height,
    grey_hash, revision, drawn_state, region_count, filled_count) VALUES ('p', 'j', 'One', 0, 'a.png', 'f', 'png', 'grey', 8, 9, 9, 'g', 3, '', 4, 4)`); // prettier-ignore
  return source;
}

const handoffs = [
  ['1', 'part', 'ora', 'scene', 'ready', 'tram_one_flats.ora', 'aa', 120],
  ['2', 'single', 'tif-cmyk', 'scratch', 'building', 'tram_one_flats_cmyk.tif', null, null],
] as const;

test('hand-offs of before are packages of one page afterwards, with their files and rules', async () => {
  const old = await before();
  for (const row of handoffs)
    await old.query(`INSERT INTO handoff (id, split, container, palette, state, file_name, file_hash, size_bytes, page_id, trap, page_revision, created_at)
      VALUES (?, ?, ?, ?, ?, ?, ?, ?, 'p', '{}', 3, '2026-02-0' || ?)`, [...row, row[0]]); // prettier-ignore
  await old.destroy();

  const now = await openDatabase(folder);
  const packages = (await now.query(`SELECT * FROM package ORDER BY created_at`)) as { id: string; rule: string; palette: string; state: string; file_hash: string | null }[]; // prettier-ignore
  const files = (await now.query(`SELECT * FROM handoff ORDER BY id`)) as { package_id: string; file_hash: string | null; state: string; page_revision: number }[]; // prettier-ignore
  expect(packages.map(({ palette, state, file_hash }) => [palette, state, file_hash])).toEqual([
    ['scene', 'ready', null],
    // Nobody builds it any more.
    ['scratch', 'failed', null],
  ]);
  expect(files.map(({ package_id, file_hash, page_revision }) => [package_id, file_hash, page_revision])).toEqual([
    [packages[0]!.id, 'aa', 3],
    [packages[1]!.id, null, 3],
  ]);
  const rules = packages.map(({ rule }) => JSON.parse(rule) as DeliveryRule);
  expect(rules.map(({ format, layers, colours }) => [format, layers, colours])).toEqual([
    ['ora', 'part', 'rgb'],
    ['tif', 'single', 'cmyk'],
  ]);
  // They are rules as they are kept now.
  for (const { id: _, ...rule } of rules) expect(() => checkRecord('rule', deliveryRule, rule)).not.toThrow();
  await now.destroy();
});

test('calendars and rates that are none are not set afterwards, and those that are stay', async () => {
  const whole = '{"weekdays":[1],"hoursADay":6,"daysOff":[]}';
  await (await before()).destroy();
  const old = await openDatabase(folder);
  await old.undoLastMigration();
  for (const [id, calendar, rate] of [
    ['null', 'null', '[]'],
    ['torn', '{"weekdays":', '7'],
    ['whole', whole, '{"per":"page","amount":40,"currency":"EUR"}'],
  ])
    await old.query(`INSERT INTO job (id, name, created_at, calendar, rate) VALUES (?, 'Tram', '2026-01-02', ?, ?)`, [id, calendar, rate]); // prettier-ignore
  await old.runMigrations();
  expect(await old.query(`SELECT id, calendar, rate IS NULL AS "none" FROM job WHERE id <> 'j' ORDER BY id`)).toEqual([
    { id: 'null', calendar: null, none: 1 },
    { id: 'torn', calendar: null, none: 1 },
    { id: 'whole', calendar: whole, none: 0 },
  ]);
  await old.destroy();
});

test('every migration can be taken back and done again', async () => {
  await (await before()).destroy();
  const now = await openDatabase(folder);
  const tables = async (): Promise<unknown> =>
    now.query(`SELECT name, sql FROM sqlite_master WHERE type = 'table' ORDER BY name`);
  const whole = await tables();
  await now.undoLastMigration();
  await now.undoLastMigration();
  expect(((await now.query(`SELECT COUNT(*) AS count FROM page`)) as { count: number }[])[0]!.count).toBe(1);
  await now.runMigrations();
  expect(await tables()).toEqual(whole);
  await now.destroy();
});
