import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Gaps found once are kept beside the page, so that it opens without looking for them again. */
export class StoredCuts1764489600000 implements MigrationInterface {
  readonly name = 'StoredCuts1764489600000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE page ADD COLUMN cuts_hash TEXT`);
    await runner.query(`ALTER TABLE page ADD COLUMN cuts_sign TEXT`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE page DROP COLUMN cuts_sign`);
    await runner.query(`ALTER TABLE page DROP COLUMN cuts_hash`);
  }
}
