import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Jobs, pages, cast sheets with colours per scene, the log, and hand-offs. */
export class Initial1764043200000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    const statements = [
      `CREATE TABLE job (
        id TEXT PRIMARY KEY, name TEXT NOT NULL, due_on TEXT, created_at TEXT NOT NULL,
        cast_revision INTEGER NOT NULL DEFAULT 0,
        palette TEXT NOT NULL DEFAULT 'scene' CHECK (palette IN ('scene', 'scratch')))`,
      `CREATE TABLE page (
        id TEXT PRIMARY KEY, job_id TEXT NOT NULL REFERENCES job(id) ON DELETE CASCADE,
        name TEXT NOT NULL, position INTEGER NOT NULL,
        file_name TEXT NOT NULL, file_hash TEXT NOT NULL, format TEXT NOT NULL, mode TEXT NOT NULL,
        bits_per_channel INTEGER NOT NULL, width INTEGER NOT NULL, height INTEGER NOT NULL, dpi REAL,
        grey_hash TEXT NOT NULL, revision INTEGER NOT NULL, drawn_state TEXT NOT NULL,
        region_count INTEGER NOT NULL, filled_count INTEGER NOT NULL, thumbnail_hash TEXT)`,
      `CREATE INDEX page_job ON page(job_id, position)`,
      `CREATE TABLE step (
        seq INTEGER PRIMARY KEY AUTOINCREMENT, scope TEXT NOT NULL CHECK (scope IN ('page', 'cast')),
        scope_id TEXT NOT NULL, revision INTEGER NOT NULL,
        kind TEXT NOT NULL CHECK (kind IN ('do', 'undo', 'redo')), of_seq INTEGER REFERENCES step(seq),
        label TEXT NOT NULL, edits TEXT NOT NULL, inverse TEXT NOT NULL, at TEXT NOT NULL)`,
      `CREATE UNIQUE INDEX step_scope_revision ON step(scope, scope_id, revision)`,
      `CREATE INDEX step_of ON step(of_seq)`,
      `CREATE TABLE page_snapshot (
        page_id TEXT PRIMARY KEY REFERENCES page(id) ON DELETE CASCADE,
        revision INTEGER NOT NULL, records TEXT NOT NULL)`,
      `CREATE TABLE cast_group (
        job_id TEXT NOT NULL REFERENCES job(id) ON DELETE CASCADE, id TEXT NOT NULL,
        name TEXT NOT NULL, sort_order REAL NOT NULL, PRIMARY KEY (job_id, id))`,
      `CREATE TABLE cast_part (
        job_id TEXT NOT NULL REFERENCES job(id) ON DELETE CASCADE, id TEXT NOT NULL,
        group_id TEXT NOT NULL, name TEXT NOT NULL, sort_order REAL NOT NULL, slot TEXT,
        empty INTEGER NOT NULL, scratch TEXT, PRIMARY KEY (job_id, id),
        FOREIGN KEY (job_id, group_id) REFERENCES cast_group(job_id, id) DEFERRABLE INITIALLY DEFERRED)`,
      `CREATE INDEX cast_part_group ON cast_part(job_id, group_id)`,
      `CREATE TABLE scene (
        job_id TEXT NOT NULL REFERENCES job(id) ON DELETE CASCADE, id TEXT NOT NULL,
        name TEXT NOT NULL, sort_order REAL NOT NULL, PRIMARY KEY (job_id, id))`,
      `CREATE TABLE part_colour (
        job_id TEXT NOT NULL, scene_id TEXT NOT NULL, part_id TEXT NOT NULL, colour TEXT NOT NULL,
        PRIMARY KEY (job_id, scene_id, part_id),
        FOREIGN KEY (job_id, scene_id) REFERENCES scene(job_id, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
        FOREIGN KEY (job_id, part_id) REFERENCES cast_part(job_id, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED)`,
      `CREATE INDEX part_colour_part ON part_colour(job_id, part_id)`,
      `CREATE TABLE handoff (
        id TEXT PRIMARY KEY, page_id TEXT NOT NULL REFERENCES page(id) ON DELETE CASCADE,
        split TEXT NOT NULL, container TEXT NOT NULL, trap TEXT NOT NULL, palette TEXT NOT NULL,
        page_revision INTEGER NOT NULL, state TEXT NOT NULL, problem TEXT, file_name TEXT NOT NULL,
        file_hash TEXT, size_bytes INTEGER, created_at TEXT NOT NULL)`,
      `CREATE INDEX handoff_page ON handoff(page_id, created_at)`,
    ];
    for (const statement of statements) await runner.query(statement);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of [
      'handoff',
      'part_colour',
      'scene',
      'cast_part',
      'cast_group',
      'page_snapshot',
      'step',
      'page',
      'job',
    ]) {
      await runner.query(`DROP TABLE ${table}`);
    }
  }
}
