// Core and formats are checked without DOM and Node, the rest with what it runs in.
import { join } from 'node:path';
import { root, run } from './install.mjs';

for (const project of ['packages/core', '.', 'apps/web']) {
  run(join(root, 'node_modules', '.bin', 'tsc'), ['-p', join(root, project, 'tsconfig.json')]);
}
