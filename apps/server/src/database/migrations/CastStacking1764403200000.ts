import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Stacking, markings on parts, reference pictures beside the cast sheet, and pages worked on at half size. */
export class CastStacking1764403200000 implements MigrationInterface {
  readonly name = 'CastStacking1764403200000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE cast_group ADD COLUMN stack REAL`);
    await runner.query(`ALTER TABLE cast_part ADD COLUMN stack REAL`);
    await runner.query(`ALTER TABLE cast_part ADD COLUMN on_part TEXT`);
    await runner.query(`ALTER TABLE page ADD COLUMN full_grey_hash TEXT`);
    await runner.query(`ALTER TABLE page ADD COLUMN full_width INTEGER`);
    await runner.query(`ALTER TABLE page ADD COLUMN full_height INTEGER`);
    await runner.query(`ALTER TABLE page_ink ADD COLUMN full_grey_hash TEXT`);
    await runner.query(`CREATE TABLE reference_picture (
      id TEXT PRIMARY KEY, job_id TEXT NOT NULL REFERENCES job(id) ON DELETE CASCADE,
      name TEXT NOT NULL, file_hash TEXT NOT NULL, width INTEGER NOT NULL, height INTEGER NOT NULL,
      created_at TEXT NOT NULL)`);
    await runner.query(`CREATE INDEX reference_picture_job ON reference_picture(job_id, created_at)`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE reference_picture`);
    await runner.query(`ALTER TABLE page_ink DROP COLUMN full_grey_hash`);
    for (const column of ['full_height', 'full_width', 'full_grey_hash'])
      await runner.query(`ALTER TABLE page DROP COLUMN ${column}`);
    await runner.query(`ALTER TABLE cast_part DROP COLUMN on_part`);
    await runner.query(`ALTER TABLE cast_part DROP COLUMN stack`);
    await runner.query(`ALTER TABLE cast_group DROP COLUMN stack`);
  }
}
