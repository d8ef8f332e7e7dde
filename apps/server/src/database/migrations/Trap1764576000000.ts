import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Jobs and parts say how far colour runs under the ink. */
export class Trap1764576000000 implements MigrationInterface {
  readonly name = 'Trap1764576000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE job ADD COLUMN trap TEXT`);
    await runner.query(`ALTER TABLE cast_part ADD COLUMN trap TEXT`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE cast_part DROP COLUMN trap`);
    await runner.query(`ALTER TABLE job DROP COLUMN trap`);
  }
}
