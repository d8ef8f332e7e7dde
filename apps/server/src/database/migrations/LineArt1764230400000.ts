import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Further ink files, the raster before a revision, and the trim of a job. */
export class LineArt1764230400000 implements MigrationInterface {
  readonly name = 'LineArt1764230400000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE page_ink (
      id TEXT PRIMARY KEY, page_id TEXT NOT NULL REFERENCES page(id) ON DELETE CASCADE,
      file_name TEXT NOT NULL, file_hash TEXT NOT NULL, format TEXT NOT NULL, mode TEXT NOT NULL,
      grey_hash TEXT NOT NULL, created_at TEXT NOT NULL)`);
    await runner.query(`CREATE INDEX page_ink_page ON page_ink(page_id, created_at)`);
    await runner.query(`ALTER TABLE page ADD COLUMN previous_grey_hash TEXT`);
    await runner.query(`ALTER TABLE job ADD COLUMN trim TEXT`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE job DROP COLUMN trim`);
    await runner.query(`ALTER TABLE page DROP COLUMN previous_grey_hash`);
    await runner.query(`DROP TABLE page_ink`);
  }
}
