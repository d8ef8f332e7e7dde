// Starts Jumble with its demo data: installs, builds and seeds what is missing, then serves.
import { spawn, spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensureInstalled, root } from './install.mjs';

ensureInstalled();
const { build } = await import('./build.mjs');
build();

// What lies in the data folder is its owner's alone.
process.umask(0o077);

// Clean drawings of the demo's pages lie in the tray of the simulated scanner.
const tray = join(root, '.data', 'scanner-tray');
spawnSync(process.execPath, ['--import', 'tsx', join(root, 'demo', 'src', 'fillTray.ts'), tray], {
  cwd: root,
  stdio: ['ignore', 'inherit', 'inherit'],
});

const server = spawn(process.execPath, [join(root, 'apps', 'server', 'dist', 'main.js')], {
  cwd: root,
  env: {
    JUMBLE_DATA: join(root, '.data'),
    JUMBLE_SCANNER: tray,
    ...process.env,
    JUMBLE_WEB: join(root, 'apps', 'web', 'dist'),
  },
  stdio: ['ignore', 'pipe', 'inherit'],
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));

let said = '';
server.stdout.on('data', (chunk) => {
  if (said === null) return;
  said += chunk;
  const address = /open at (http:\S+)/.exec(said)?.[1];
  if (address === undefined) return;
  said = null;
  const seeded = spawnSync(process.execPath, ['--import', 'tsx', join(root, 'demo', 'src', 'seedDemo.ts'), address], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  if (seeded.status !== 0) console.error('The demo data could not be put in; Jumble runs without it.');
  console.log(`Jumble is open at ${address}`);
});
