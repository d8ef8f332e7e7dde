// Prints the benchmark table: kernels pinned to one core, then the real interface and the server.
import { join } from 'node:path';
import { ensureInstalled, root, run } from './install.mjs';
import { build } from './build.mjs';

ensureInstalled();
build();
run(process.execPath, ['--import', 'tsx', join(root, 'bench', 'src', 'main.ts'), ...process.argv.slice(2)]);
