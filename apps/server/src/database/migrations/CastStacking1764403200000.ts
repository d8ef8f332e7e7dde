import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Stacking, markings on parts, and reference pictures beside the cast sheet. */
export class CastStacking1764403200000 implements MigrationInterface {
  readonly name = 'CastStacking1764403200000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE cast_group ADD COLUMN stack REAL`);
    await runner.query(`ALTER TABLE cast_part ADD COLUMN stack REAL`);
    await runner.query(`ALTER TABLE cast_part ADD COLUMN on_part TEXT`);
    await runner.query(`CREATE TABLE reference_picture (
      id TEXT PRIMARY KEY, job_id TEXT NOT NULL REFERENCES job(id) ON DELETE CASCADE,
      name TEXT NOT NULL, file_hash TEXT NOT NULL, width INTEGER NOT NULL, height INTEGER NOT NULL,
      created_at TEXT NOT NULL)`);
    await runner.query(`CREATE INDEX reference_picture_job ON reference_picture(job_id, created_at)`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE reference_picture`);
    await runner.query(`ALTER TABLE cast_part DROP COLUMN on_part`);
    await runner.query(`ALTER TABLE cast_part DROP COLUMN stack`);
    await runner.query(`ALTER TABLE cast_group DROP COLUMN stack`);
  }
}
