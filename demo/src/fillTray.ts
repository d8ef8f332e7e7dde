import { existsSync, mkdirSync } from 'node:fs';
import { rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { drawPage, STEADY_PAGE_COUNT, renderInkPng } from './renderPage.ts';

// Lays the demo's drawings into the tray of the simulated scanner, once.
const tray = process.argv[2];
if (tray === undefined) throw new Error('the folder of the tray is missing');
mkdirSync(tray, { recursive: true });
for (let number = 1; number <= STEADY_PAGE_COUNT; number++) {
  const path = join(tray, `${drawPage(number).name}.png`);
  if (existsSync(path)) continue;
  await writeFile(`${path}.part`, await renderInkPng(number));
  await rename(`${path}.part`, path);
}
