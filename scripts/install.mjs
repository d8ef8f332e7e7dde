// Makes sure that what package-lock.json names is installed, and says so in one line when it is not.
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

export const root = join(import.meta.dirname, '..');

/** Runs a command in the repository's root and ends the process with its code when it fails. */
export function run(command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (result.error) {
    console.error(`${command} could not be started: ${result.error.message}`);
    process.exit(1);
  }
  if (result.status !== 0) process.exit(result.status ?? 1);
}

/** `npm ci`, unless the installed packages are those of the lock file already. */
export function ensureInstalled() {
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const stamp = join(root, 'node_modules', '.jumble-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  console.log('Installing what Jumble needs (a few minutes, once) ...');
  const progress = spawn(process.execPath, [join(import.meta.dirname, 'sayProgress.mjs')], { stdio: 'inherit' });
  process.once('exit', () => progress.kill());
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
  progress.kill();
  writeFileSync(stamp, lock);
}
