import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Calendars and rates that are none (`null` as a text, a list) were taken once, and then no plan could be read any more. */
export class PlanRepairs1765008000000 implements MigrationInterface {
  readonly name = 'PlanRepairs1765008000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const column of ['calendar', 'rate'])
      await runner.query(`UPDATE job SET ${column} = NULL WHERE ${column} IS NOT NULL
        AND CASE WHEN json_valid(${column}) THEN json_type(${column}) <> 'object' ELSE 1 END`);
  }

  /** What was mended stays so. */
  async down(): Promise<void> {
    await Promise.resolve();
  }
}
