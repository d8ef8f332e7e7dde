import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Notes on parts, and parts that were merged into others. */
export class CastMerging1764316800000 implements MigrationInterface {
  readonly name = 'CastMerging1764316800000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE cast_part ADD COLUMN notes TEXT`);
    await runner.query(`CREATE TABLE part_alias (
      job_id TEXT NOT NULL REFERENCES job(id) ON DELETE CASCADE,
      id TEXT NOT NULL, part_id TEXT NOT NULL, PRIMARY KEY (job_id, id))`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE part_alias`);
    await runner.query(`ALTER TABLE cast_part DROP COLUMN notes`);
  }
}
