// Builds the interface and the server, when their sources are newer than the last build.
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { ensureInstalled, root, run } from './install.mjs';

const SOURCES = ['packages', 'apps/server', 'apps/web', 'demo'];

function fingerprint() {
  const hash = createHash('sha256').update(readFileSync(join(root, 'package-lock.json')));
  const visit = (folder) => {
    for (const entry of readdirSync(folder, { withFileTypes: true })) {
      if (['node_modules', 'dist'].includes(entry.name)) continue;
      const path = join(folder, entry.name);
      if (entry.isDirectory()) visit(path);
      else if (!/\.test\.tsx?$/.test(entry.name)) hash.update(path).update(String(statSync(path).mtimeMs));
    }
  };
  SOURCES.forEach((folder) => visit(join(root, folder)));
  return hash.digest('hex');
}

export function build() {
  const stamp = join(root, 'apps', 'server', 'dist', '.fingerprint');
  const now = fingerprint();
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
  console.log('Building the interface and the server ...');
  const bin = join(root, 'node_modules', '.bin');
  run(join(bin, 'vite'), ['build', '--logLevel', 'warn'], { cwd: join(root, 'apps', 'web') });
  run(join(bin, 'rolldown'), ['-c', 'rolldown.config.mjs', '--log-level', 'warn'], {
    cwd: join(root, 'apps', 'server'),
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  writeFileSync(stamp, now);
}

if (import.meta.url === pathToFileURL(process.argv[1]).href) {
  ensureInstalled();
  build();
}
