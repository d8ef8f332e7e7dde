import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Jobs say what their pages are checked by. */
export class Checks1764748800000 implements MigrationInterface {
  readonly name = 'Checks1764748800000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE job ADD COLUMN checks TEXT`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE job DROP COLUMN checks`);
  }
}
