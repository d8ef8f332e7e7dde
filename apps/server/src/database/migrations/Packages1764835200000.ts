import { randomUUID } from 'node:crypto';
import type { MigrationInterface, QueryRunner } from 'typeorm';

interface OldHandoff {
  readonly id: string;
  readonly page_id: string;
  readonly job_id: string;
  readonly split: string;
  readonly container: string;
  readonly palette: string;
  readonly page_revision: number;
  readonly state: string;
  readonly problem: string | null;
  readonly file_name: string;
  readonly file_hash: string | null;
  readonly size_bytes: number | null;
  readonly created_at: string;
}

/** Delivery rules and printers' profiles; hand-offs of one or more pages are packages; what comes back, and pages from elsewhere. */
export class Packages1764835200000 implements MigrationInterface {
  readonly name = 'Packages1764835200000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE delivery_rule (
      job_id TEXT NOT NULL REFERENCES job(id) ON DELETE CASCADE, id TEXT NOT NULL, rule TEXT NOT NULL,
      PRIMARY KEY (job_id, id))`);
    await runner.query(`CREATE TABLE profile (
      id TEXT PRIMARY KEY, job_id TEXT NOT NULL REFERENCES job(id) ON DELETE CASCADE, name TEXT NOT NULL,
      file_hash TEXT NOT NULL, created_at TEXT NOT NULL)`);
    await runner.query(`CREATE TABLE package (
      id TEXT PRIMARY KEY, job_id TEXT NOT NULL REFERENCES job(id) ON DELETE CASCADE, rule TEXT NOT NULL,
      palette TEXT NOT NULL, state TEXT NOT NULL, problem TEXT, file_name TEXT NOT NULL, file_hash TEXT,
      size_bytes INTEGER, created_at TEXT NOT NULL)`);
    await runner.query(`CREATE INDEX package_job ON package(job_id, created_at)`);
    await runner.query(`CREATE TABLE returned_file (
      id TEXT PRIMARY KEY, page_id TEXT NOT NULL REFERENCES page(id) ON DELETE CASCADE, file_name TEXT NOT NULL,
      file_hash TEXT NOT NULL, size_bytes INTEGER NOT NULL, report TEXT NOT NULL, created_at TEXT NOT NULL)`);
    await runner.query(`CREATE INDEX returned_file_page ON returned_file(page_id, created_at)`);
    await runner.query(`CREATE TABLE foreign_check (
      id TEXT PRIMARY KEY, job_id TEXT NOT NULL REFERENCES job(id) ON DELETE CASCADE, ink_name TEXT NOT NULL,
      ink_hash TEXT NOT NULL, flats_name TEXT, flats_hash TEXT, picture_hash TEXT, found TEXT,
      created_at TEXT NOT NULL)`);
    const old = (await runner.query(
      `SELECT handoff.*, page.job_id FROM handoff JOIN page ON page.id = handoff.page_id`,
    )) as OldHandoff[];
    await runner.query(`DROP TABLE handoff`);
    await runner.query(`CREATE TABLE handoff (
      id TEXT PRIMARY KEY, package_id TEXT NOT NULL REFERENCES package(id) ON DELETE CASCADE,
      page_id TEXT NOT NULL REFERENCES page(id) ON DELETE CASCADE, place INTEGER NOT NULL,
      made_from TEXT NOT NULL, page_revision INTEGER NOT NULL, state TEXT NOT NULL, problem TEXT,
      file_name TEXT NOT NULL, file_hash TEXT, size_bytes INTEGER, read_back TEXT)`);
    await runner.query(`CREATE INDEX handoff_package ON handoff(package_id, place)`);
    await runner.query(`CREATE INDEX handoff_page ON handoff(page_id)`);
    for (const one of old) await keep(runner, one);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['foreign_check', 'returned_file', 'handoff', 'package', 'profile', 'delivery_rule'])
      await runner.query(`DROP TABLE ${table}`);
    await runner.query(`CREATE TABLE handoff (
      id TEXT PRIMARY KEY, page_id TEXT NOT NULL REFERENCES page(id) ON DELETE CASCADE,
      split TEXT NOT NULL, container TEXT NOT NULL, trap TEXT NOT NULL, palette TEXT NOT NULL,
      page_revision INTEGER NOT NULL, state TEXT NOT NULL, problem TEXT, file_name TEXT NOT NULL,
      file_hash TEXT, size_bytes INTEGER, created_at TEXT NOT NULL)`);
    await runner.query(`CREATE INDEX handoff_page ON handoff(page_id, created_at)`);
  }
}

/** What was handed off before is a package of one page, without an archive of its own. */
async function keep(runner: QueryRunner, one: OldHandoff): Promise<void> {
  const [format, colours = 'rgb'] = one.container.split('-') as [string, string?];
  const rule = {
    id: 'earlier',
    name: 'Earlier hand-off',
    order: 0,
    format,
    layers: one.split,
    layerOrder: 'stack',
    layerName: '{name}',
    fileName: '{job}_{page}_flats',
    colours,
    profile: null,
    dpi: null,
    trap: null,
    underlapPx: null,
    holds: 'layer',
    smooth: false,
    inkBits: 8,
    inkDpi: null,
    shading: false,
    closures: false,
    scene: null,
    area: 'file',
    notes: false,
  };
  const id = randomUUID();
  const state = one.state === 'building' ? 'failed' : one.state;
  await runner.query(
    `INSERT INTO package (id, job_id, rule, palette, state, problem, file_name, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
    [id, one.job_id, JSON.stringify(rule), one.palette, state, one.problem, one.file_name, one.created_at],
  );
  await runner.query(
    `INSERT INTO handoff (id, package_id, page_id, place, made_from, page_revision, state, problem, file_name, file_hash, size_bytes)
      VALUES (?, ?, ?, 0, '', ?, ?, ?, ?, ?, ?)`,
    [one.id, id, one.page_id, one.page_revision, state, one.problem, one.file_name, one.file_hash, one.size_bytes],
  );
}
