// Takes the pictures of docs/screenshots from the demo data, in the real interface.
import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureInstalled, root } from './install.mjs';

ensureInstalled();
const { chromium } = await import('@playwright/test');
const dataFolder = mkdtempSync(join(tmpdir(), 'jumble-pictures-'));
const demo = spawn(process.execPath, [join(root, 'scripts', 'demo.mjs')], {
  cwd: root,
  env: { ...process.env, PORT: '0', JUMBLE_DATA: dataFolder },
  stdio: ['ignore', 'pipe', 'inherit'],
});
const address = await new Promise((resolve) => {
  demo.stdout.on('data', (chunk) => {
    const match = /Jumble is open at (http:\S+)/.exec(String(chunk));
    if (match !== null) resolve(match[1]);
  });
});
const browser = await chromium.launch({
  executablePath: process.env.JUMBLE_CHROMIUM ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-dev-shm-usage'],
});
const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
// Who has been here before.
await page.addInitScript(() => localStorage.setItem('jumble.firstSteps.putAway', '1'));
const wanted = process.argv.slice(2);

/** Takes one picture, unless others were asked for. */
/** @param after puts the page back as it was. */
async function shoot(name, prepare, after = () => undefined) {
  if (wanted.length > 0 && !wanted.includes(name)) return;
  await prepare();
  await page.waitForTimeout(700);
  await page.screenshot({ path: join(root, 'docs', 'screenshots', `${name}.png`) });
  console.log(`docs/screenshots/${name}.png`);
  await after();
}
const undo = async () => {
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.waitForTimeout(2500);
};
const ready = () =>
  page.waitForFunction(() => window.jumbleBench?.state.phase === 'ready', undefined, { timeout: 60_000 });
const [job] = await (await fetch(`${address}/api/jobs`)).json();
const benchUrl = (number, stage) => `${address}/jobs/${job.id}/pages/${job.pages[number - 1].id}/${stage}`;
const open = async (number, stage) => {
  await page.goto(benchUrl(number, stage));
  await ready();
};
const measured = () =>
  page.waitForFunction(
    () => window.jumbleBench?.state.phase === 'ready' && window.jumbleBench.state.facts !== null,
    undefined,
    { timeout: 60_000 },
  );
/** Two places that the surest closure keeps apart, the smaller side first. */
const bothSides = () =>
  page.evaluate(() => {
    const { survey } = window.jumbleBench.state;
    const [closure] = survey.closures
      .filter((one) => one.accepted && Math.min(...one.separatesPx) > 5000)
      .sort((one, two) => two.confidence - one.confidence);
    return [...closure.regions]
      .sort((one, two) => survey.regions.areaPx[one] - survey.regions.areaPx[two])
      .map((region) => {
        const at = survey.regions.anchor[region];
        return [at % survey.width, Math.floor(at / survey.width)];
      });
  });
/** Puts the pointer at a page point. */
async function pointAt(x, y) {
  const box = await page.getByTestId('page').boundingBox();
  const view = await page.evaluate(() => window.jumbleBench.state.view);
  await page.mouse.move(box.x + (x - view.x) * view.scale, box.y + (y - view.y) * view.scale);
}

/** Draws a loop without letting go. */
async function loop([first, ...rest]) {
  await pointAt(...first);
  await page.mouse.down();
  for (const point of rest) {
    await pointAt(...point);
    await page.waitForTimeout(60);
  }
}
/** What the bench's scripted flatter draws, and the key it is given, made by the loader for TypeScript. */
function fromBench(what, number) {
  const { stdout, status } = spawnSync(
    process.execPath,
    ['--import', 'tsx', join(root, 'bench', 'src', 'flats', 'printSample.ts'), what, String(number)],
    { cwd: root, maxBuffer: 64e6 },
  );
  if (status !== 0) throw new Error(`The ${what} could not be made.`);
  return stdout;
}
const roughMarks = (number) => JSON.parse(String(fromBench('marks', number)));
const keyPng = (number) => Buffer.from(String(fromBench('key', number)), 'base64');

try {
  await shoot('desk', () => page.goto(address));
  await shoot('job', () => page.goto(`${address}/jobs/${job.id}`));
  await shoot('surround', async () => {
    await open(2, 'flats');
    await page.keyboard.press('Shift+2');
    await page.keyboard.press('2');
    await loop([
      [1000, 480],
      [780, 700],
      [820, 980],
      [1000, 1020],
      [1060, 800],
      [1050, 560],
    ]);
  });
  if (wanted.length === 0 || wanted.includes('surround')) await page.mouse.up();
  await shoot('marks', async () => {
    await open(2, 'flats');
    const marks = await roughMarks(2);
    await page.evaluate(async (list) => {
      const { setWay, addMark, spreadMarks } = window.jumbleCommands;
      setWay('marks');
      for (const mark of list) addMark(mark);
      await spreadMarks();
    }, marks);
  });
  await shoot('key', async () => {
    await open(2, 'flats');
    await page.keyboard.press('Control+z');
    await page.waitForFunction(() => window.jumbleBench.state.openRegions.length > 600);
    await page.keyboard.press('Shift+4');
    await page
      .getByLabel('Colour key')
      .setInputFiles({ name: 'page 2, key.png', mimeType: 'image/png', buffer: await keyPng(2) });
    await page.getByRole('button', { name: /Accept [\d,]+ proposals?/ }).waitFor();
  });
  await shoot('pen', async () => {
    await open(2, 'flats');
    await page.keyboard.press('Shift+5');
    await pointAt(1150, 1850);
    for (let k = 0; k < 6; k++) {
      await page.mouse.wheel(0, -240);
      await page.waitForTimeout(60);
    }
    await page.keyboard.press('2');
    await loop([
      [1040, 1760],
      [1160, 1740],
      [1240, 1800],
      [1100, 1860],
    ]);
    await page.mouse.up();
    await page.keyboard.press('/');
    await page.keyboard.press('<');
    await page.keyboard.press('3');
    await loop([
      [900, 1930],
      [1100, 1960],
      [1380, 1940],
    ]);
    await page.mouse.up();
  });
  await shoot('flats', async () => {
    await open(1, 'flats');
    await page.keyboard.press('.');
    await page.keyboard.press('Home');
    await pointAt(1000, 400);
  });
  await shoot('lineart', async () => {
    const scan = await fetch(`${address}/api/jobs/${job.id}/scans`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ sheetId: 'Page 2.png', skewDegrees: 0.8 }),
    });
    await page.goto(`${address}/jobs/${job.id}/pages/${(await scan.json()).id}/lineart`);
    await measured();
    await page.keyboard.press('.');
    await page.keyboard.press('Enter');
    await page.waitForTimeout(400);
    await measured();
    await page.waitForTimeout(1500);
    await page.keyboard.press('c');
    await page.waitForTimeout(500);
  });
  await shoot('gaps', async () => {
    await open(2, 'gaps');
    await open(2, 'gaps');
    await page.keyboard.press('.');
    await page.keyboard.press('.');
  });
  await shoot(
    'leak',
    async () => {
      await open(2, 'gaps');
      const places = await bothSides();
      await page.getByRole('slider', { name: /Largest gap/ }).focus();
      await page.keyboard.press('Home');
      await page.waitForTimeout(2500);
      await page.getByTestId('page').focus();
      await page.keyboard.press('t');
      for (const [x, y] of places) {
        await pointAt(x, y);
        await page.mouse.down();
        await page.mouse.up();
        await page.waitForTimeout(300);
      }
      // The last word at the foot of the window goes by itself.
      await page.waitForTimeout(4500);
    },
    undo,
  );
  await shoot('loupe', async () => {
    await open(1, 'flats');
    await pointAt(410, 1600);
    await page.keyboard.down('q');
  });
  await page.keyboard.up('q');
  await shoot(
    'trap',
    async () => {
      await open(1, 'trap');
      await page.getByLabel('Rule of this page').selectOption('px');
      await page.getByLabel('Length of this page').fill('4');
      await page.getByLabel('Length of this page').press('Enter');
      await page.waitForFunction(
        () => window.jumbleBench.state.faults?.length > 0 && !window.jumbleBench.state.faultsLookedFor,
      );
      await page.getByTestId('page').focus();
      await page.keyboard.press('.');
      await pointAt(434, 1952);
      await page.keyboard.down('q');
      await pointAt(436, 1954);
    },
    async () => {
      await page.keyboard.up('q');
      await undo();
      await undo();
    },
  );
  await shoot('holds', async () => {
    await open(1, 'holds');
    await page.waitForFunction(() => window.jumbleBench.state.holds !== null, undefined, { timeout: 60_000 });
    await page.evaluate(() => {
      const { jumbleBench: bench, jumbleCommands } = window;
      jumbleCommands.setView({ ...bench.state.view, x: 150, y: 1450, scale: 0.9 });
    });
    await page.getByLabel('Choose lines by what they are').selectOption({ label: 'Inner lines of Coat' });
    await page.waitForFunction(() => !window.jumbleBench.state.holdsLookedFor);
  });
  await shoot(
    'check',
    async () => {
      // Slips of the pen in the first panel, which is filled.
      await open(1, 'flats');
      await page.keyboard.press('Shift+5');
      await page.keyboard.press('/');
      await page.keyboard.press('3');
      await page.evaluate(() => {
        const { jumbleBench: bench, jumbleCommands } = window;
        jumbleCommands.setView({ ...bench.state.view, x: 500, y: 500, scale: 1 });
      });
      for (let size = 0; size < 20; size++) await page.keyboard.press('<');
      await page.keyboard.press('>');
      for (const [x, y] of [
        [700, 760],
        [820, 900],
        [640, 1000],
      ]) {
        await pointAt(x, y);
        await page.mouse.down();
        await pointAt(x + 14, y + 3);
        await page.mouse.up();
      }
      await page.waitForFunction(() => window.jumbleBench.state.sync.state === 'saved');
      await page.getByRole('link', { name: /^Check/ }).click();
      await measured();
      await page.waitForFunction(() => window.jumbleBench.state.findings !== null, undefined, { timeout: 60_000 });
      await page.keyboard.press(']');
      await page.keyboard.press('.');
      await page.evaluate(() => {
        const { jumbleBench: bench, jumbleCommands } = window;
        const { view } = bench.state;
        const [x, y] = bench.state.findingKey.split('/')[1].split(',').map(Number);
        jumbleCommands.setView({ ...view, scale: 3, x: x - view.width / 6, y: y - view.height / 6 });
      });
    },
    async () => {
      await page.keyboard.press('[');
      for (let k = 0; k < 3; k++) await undo();
    },
  );
  await shoot('handoff', async () => {
    await open(1, 'handoff');
    await page.getByRole('button', { name: 'Build the hand-off' }).click();
    await page
      .getByText(/SHA-256/)
      .first()
      .waitFor({ timeout: 90_000 });
  });
  await shoot('time', async () => {
    await page.goto(`${address}/jobs/${job.id}/time`);
    await page.getByRole('cell', { name: 'Juna' }).first().waitFor();
  });
  await shoot('outbox', async () => {
    await page.goto(`${address}/outbox`);
    await page
      .getByText(/SHA-256/)
      .first()
      .waitFor();
  });
  await shoot('reference', async () => {
    await open(1, 'flats');
    const sketch = { name: 'Sketch in lamplight.png', mimeType: 'image/png', buffer: await keyPng(1) };
    await page.getByLabel('Reference picture files').setInputFiles(sketch);
    await page.keyboard.press('2');
    await page.getByRole('button', { name: 'Sketch in lamplight' }).click();
    await page.waitForTimeout(600);
    await page.getByRole('img', { name: 'Sketch in lamplight' }).click();
  });
  await shoot('examples', async () => {
    await open(1, 'flats');
    await page.keyboard.press('Shift+4');
    await page
      .getByLabel('Colour key')
      .setInputFiles({ name: 'page 1, key.png', mimeType: 'image/png', buffer: await keyPng(1) });
    await page.getByText(/The page explains/).waitFor();
    await page.keyboard.press('/');
    const examples = async () =>
      (await (await fetch(`${address}/api/pages/${job.pages[1].id}/examples`)).json()).length;
    while ((await examples()) === 0) await page.waitForTimeout(500);
    await open(2, 'flats');
    await page.keyboard.press('Shift+4');
    await page.waitForTimeout(1500);
    // The key that was laid for another picture.
    for (const away of await page.getByRole('button', { name: 'Put away' }).all()) await away.click();
    await page.getByRole('button', { name: 'Propose from done pages' }).click();
    await page.getByText(/proposals from/).waitFor();
  });
} finally {
  await browser.close();
  demo.kill('SIGTERM');
  rmSync(dataFolder, { recursive: true, force: true });
}
