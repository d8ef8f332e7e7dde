// All tests: installs what is missing, then types, lint, units, and the real interface in Chromium.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { ensureInstalled, root, run } from './install.mjs';

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
  console.log('Installing chromium (once) ...');
  const quiet = { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } };
  const install = () =>
    spawnSync('apt-get', ['install', '-y', '--no-install-recommends', 'chromium'], { cwd: root, ...quiet });
  if (install().status !== 0) {
    run('apt-get', ['update'], quiet);
    run('apt-get', ['install', '-y', '--no-install-recommends', 'chromium'], quiet);
  }
}

const STEPS = [
  ['types', 'npm', ['run', '-s', 'typecheck']],
  ['lint', 'npm', ['run', '-s', 'lint']],
  ['units', 'npm', ['run', '-s', 'unit']],
  ['build', 'npm', ['run', '-s', 'build']],
  ['interface', bin('playwright'), ['test', '-c', 'e2e/playwright.config.ts']],
];

ensureInstalled();
ensureChromium();
let failed = 0;
for (const [name, command, args] of STEPS) {
  console.log(`\n== ${name}`);
  const { status } = spawnSync(command, args, { cwd: root, stdio: 'inherit' });
  if (status !== 0) {
    failed++;
    console.log(`== ${name}: failed`);
  }
}
console.log(`\n${STEPS.length - failed} of ${STEPS.length} steps passed${failed === 0 ? '.' : `, ${failed} failed.`}`);
process.exitCode = failed === 0 ? 0 : 1;
