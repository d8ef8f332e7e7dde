// Says every fifteen seconds how far `npm ci` has come; the parent ends it. A process of its own: the parent waits for npm.
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const root = join(import.meta.dirname, '..');
const { packages } = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8'));
const wanted = Object.entries(packages).flatMap(([path, { optional }]) => (path === '' || optional ? [] : [path]));
const started = Date.now();

setInterval(() => {
  const there = wanted.filter((path) => existsSync(join(root, path, 'package.json'))).length;
  const seconds = Math.round((Date.now() - started) / 1000);
  const what =
    there < wanted.length
      ? `${there} of ${wanted.length} packages are there`
      : 'all packages are there; the database driver is compiled';
  console.log(`  ${seconds} s: ${what} ...`);
}, 15_000);
