// All tests: installs what is missing, then types, lint, units, and the real interface in Chromium.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureInstalled, root, run } from './install.mjs';
import { printTimes, RESULTS, STEP_TIMES, UNIT_TIMES } from './testTimes.mjs';

const CHROMIUM = process.env.JUMBLE_CHROMIUM ?? '/usr/bin/chromium';
const bin = (name) => join(root, 'node_modules', '.bin', name);

/** Debian's Chromium drives the end-to-end tests. */
function ensureChromium() {
  if (existsSync(CHROMIUM)) return;
  if (process.getuid?.() !== 0) {
    console.error(
      `${CHROMIUM} is missing. Install Debian's package chromium, or name another one: JUMBLE_CHROMIUM=/path npm test`,
    );
    process.exit(1);
  }
  console.log('Installing Chromium, which the walks through the interface drive (a minute or two, once) ...');
  const quiet = { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } };
  const install = () =>
    spawnSync('apt-get', ['install', '-y', '--no-install-recommends', 'chromium'], { cwd: root, ...quiet });
  if (install().status !== 0) {
    run('apt-get', ['update'], quiet);
    run('apt-get', ['install', '-y', '--no-install-recommends', 'chromium'], quiet);
  }
}

/** Side by side where one leaves a core idle; each list one after the other. Tests use two cores by themselves. */
const ROUNDS = [
  [
    [['types', 'npm', ['run', '-s', 'typecheck']]],
    [
      ['lint', 'npm', ['run', '-s', 'lint']],
      ['build', 'npm', ['run', '-s', 'build']],
    ],
  ],
  [[['units', 'npm', ['run', '-s', 'unit', '--', '--json', `--outputFile=${UNIT_TIMES}`]]]],
  [[['interface', bin('playwright'), ['test', '-c', 'e2e/playwright.config.ts']]]],
];

/** Runs a command to its end. @returns its exit code, and null where it could not be started or was ended. */
function runStep(command, args) {
  return new Promise((resolve) => {
    const child = spawn(command, args, { cwd: root, stdio: 'inherit' });
    child.on('error', (error) => {
      console.error(`${command} could not be started: ${error.message}`);
      resolve(null);
    });
    child.on('exit', resolve);
  });
}

ensureInstalled();
ensureChromium();
rmSync(RESULTS, { recursive: true, force: true });
mkdirSync(RESULTS);
const times = [];
const failed = [];
const started = performance.now();
const secondsSince = (from) => (performance.now() - from) / 1000;
for (const round of ROUNDS) {
  await Promise.all(
    round.map(async (steps) => {
      for (const [name, command, args] of steps) {
        console.log(`\n== ${name}`);
        const from = performance.now();
        if ((await runStep(command, args)) !== 0) failed.push(name);
        times.push([name, secondsSince(from)]);
        console.log(`== ${name}: ${failed.includes(name) ? 'failed' : 'passed'}`);
      }
    }),
  );
}
writeFileSync(STEP_TIMES, JSON.stringify({ steps: times, seconds: secondsSince(started) }));
console.log('\n== where the time went');
printTimes();
const passed = times.length - failed.length;
console.log(
  `${passed} of ${times.length} steps passed${failed.length === 0 ? '.' : `; failed: ${failed.join(', ')}.`}`,
);
process.exitCode = failed.length === 0 ? 0 : 1;
