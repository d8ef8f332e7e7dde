// Prints where the time of the last `npm test` went: by step, and the slowest test files.
import { existsSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { pathToFileURL } from 'node:url';
import { root } from './install.mjs';

/** What `npm test` leaves behind for this. */
export const RESULTS = join(root, 'test-results');
export const STEP_TIMES = join(RESULTS, 'steps.json');
export const UNIT_TIMES = join(RESULTS, 'units.json');
/** Named in e2e/playwright.config.ts as well. */
export const WALK_TIMES = join(RESULTS, 'walks.json');

const read = (file) => (existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null);

function unitFiles() {
  return (read(UNIT_TIMES)?.testResults ?? []).map(({ name, startTime, endTime }) => ({
    file: relative(root, name),
    seconds: (endTime - startTime) / 1000,
  }));
}

function walkFiles() {
  const secondsOf = ({ specs = [], suites = [] }) =>
    specs
      .flatMap(({ tests }) => tests.flatMap(({ results }) => results))
      .reduce((sum, { duration }) => sum + duration / 1000, 0) +
    suites.reduce((sum, suite) => sum + secondsOf(suite), 0);
  return (read(WALK_TIMES)?.suites ?? []).map((suite) => ({
    file: join('e2e', 'src', suite.file),
    seconds: secondsOf(suite),
  }));
}

/** Prints both tables, in Markdown. */
export function printTimes() {
  const last = read(STEP_TIMES);
  if (last === null) {
    console.log('No run of npm test left its times here.');
    return;
  }
  const table = (head, rows) =>
    [
      `| ${head} | seconds |`,
      '| --- | --: |',
      ...rows.map(([name, seconds]) => `| ${name} | ${Math.round(seconds)} |`),
      '',
    ].join('\n');
  console.log(table('step', [...last.steps, ['from start to end', last.seconds]]));
  const slowest = [...unitFiles(), ...walkFiles()].sort((one, other) => other.seconds - one.seconds).slice(0, 10);
  console.log(
    table(
      'file, two of them at a time',
      slowest.map(({ file, seconds }) => [file, seconds]),
    ),
  );
}

if (import.meta.url === pathToFileURL(process.argv[1]).href) printTimes();
