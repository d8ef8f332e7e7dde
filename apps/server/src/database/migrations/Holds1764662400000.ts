import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Groups of the cast say what they are; jobs say how near the colours of lines may come. */
export class Holds1764662400000 implements MigrationInterface {
  readonly name = 'Holds1764662400000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE job ADD COLUMN holds TEXT`);
    await runner.query(`ALTER TABLE cast_group ADD COLUMN kind TEXT`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE cast_group DROP COLUMN kind`);
    await runner.query(`ALTER TABLE job DROP COLUMN holds`);
  }
}
