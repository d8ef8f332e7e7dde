import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Plans of jobs and pages, time that was worked, who did a step, and a logbook. */
export class Desk1764921600000 implements MigrationInterface {
  readonly name = 'Desk1764921600000';

  async up(runner: QueryRunner): Promise<void> {
    for (const column of ['series TEXT', 'client TEXT', 'rate TEXT', 'calendar TEXT'])
      await runner.query(`ALTER TABLE job ADD COLUMN ${column}`);
    for (const column of [
      'book_number TEXT',
      'is_spread INTEGER NOT NULL DEFAULT 0',
      'due_on TEXT',
      'person TEXT',
      'agreed TEXT',
      'measures TEXT',
    ])
      await runner.query(`ALTER TABLE page ADD COLUMN ${column}`);
    await runner.query(`ALTER TABLE step ADD COLUMN person TEXT`);
    await runner.query(`CREATE TABLE work_time (
      page_id TEXT NOT NULL REFERENCES page(id) ON DELETE CASCADE, stage TEXT NOT NULL, person TEXT NOT NULL,
      day TEXT NOT NULL, by_hand INTEGER NOT NULL, seconds INTEGER NOT NULL, note TEXT,
      PRIMARY KEY (page_id, stage, person, day, by_hand))`);
    await runner.query(`CREATE TABLE person_clock (person TEXT PRIMARY KEY, until_ms INTEGER NOT NULL)`);
    await runner.query(`CREATE TABLE log_entry (
      id INTEGER PRIMARY KEY AUTOINCREMENT, job_id TEXT NOT NULL REFERENCES job(id) ON DELETE CASCADE, page_id TEXT,
      kind TEXT NOT NULL, what TEXT NOT NULL, person TEXT, at TEXT NOT NULL)`);
    await runner.query(`CREATE INDEX log_entry_job ON log_entry(job_id, at)`);
    await runner.query(`CREATE TABLE log_note (
      job_id TEXT NOT NULL REFERENCES job(id) ON DELETE CASCADE, entry TEXT NOT NULL, why TEXT NOT NULL,
      PRIMARY KEY (job_id, entry))`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['log_note', 'log_entry', 'person_clock', 'work_time'])
      await runner.query(`DROP TABLE ${table}`);
    await runner.query(`ALTER TABLE step DROP COLUMN person`);
    for (const column of ['book_number', 'is_spread', 'due_on', 'person', 'agreed', 'measures'])
      await runner.query(`ALTER TABLE page DROP COLUMN ${column}`);
    for (const column of ['series', 'client', 'rate', 'calendar'])
      await runner.query(`ALTER TABLE job DROP COLUMN ${column}`);
  }
}
