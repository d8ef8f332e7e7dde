import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { onScreen, openCount, partsGiven, whenReady, whenSaved } from './testing/bench.ts';
import { TEAPOT_REGIONS } from './testing/ownInking.ts';
import { runServer, type RunningServer } from './testing/runServer.ts';
import { drag, openTeapot, partAt, TEAPOT_COLOURS, type TeapotPart } from './testing/teapotJob.ts';

let server: RunningServer;

test.beforeAll(async () => {
  server = await runServer();
});
test.afterAll(() => server.clear());
test.beforeEach(async ({ page }) => {
  await openTeapot(page, server);
});

async function expectTeapot(page: Page): Promise<void> {
  for (const { name, x, y, part } of TEAPOT_REGIONS) expect([name, await partAt(page, x, y)]).toEqual([name, part]);
}

/** A rough loop round the teapot. */
const ROUND: [number, number][] = [
  [430, 160],
  [700, 230],
  [770, 420],
  [640, 625],
  [230, 615],
  [100, 330],
  [300, 200],
];

test('a loop takes what it encloses, another takes it away, and both hold through a reload', async ({ page }) => {
  await page.keyboard.press('Shift+2');
  await page.keyboard.press('1');
  await drag(page, ROUND);
  await whenSaved(page);
  for (const name of ['body', 'lid', 'knob', 'handle', 'spout', 'band', 'inside the handle']) {
    const { x, y } = TEAPOT_REGIONS.find((one) => one.name === name)!;
    expect([name, await partAt(page, x, y)]).toEqual([name, 'glaze']);
  }
  expect(await partAt(page, 60, 60)).toBeNull();
  expect(await partAt(page, 100, 650)).toBeNull();

  const before = await openCount(page);
  // The second way of the same gesture, round the knob alone.
  await drag(page, [[370, 170], [490, 170], [490, 240], [370, 240]], 'right'); // prettier-ignore
  expect(await partAt(page, 430, 205)).toBeNull();
  expect(await openCount(page)).toBe(before + 1);
  await whenSaved(page);
  await page.reload();
  await whenReady(page);
  expect(await partAt(page, 430, 205)).toBeNull();
  expect(await partAt(page, 430, 420)).toBe('glaze');
});

test('a silhouette shows while it is drawn, is one step, and a loop round nothing says so', async ({ page }) => {
  await page.keyboard.press('Shift+2');
  await page.keyboard.press('/');
  await expect(page.getByRole('button', { name: 'Silhouette', pressed: true })).toBeVisible();
  await page.keyboard.press('1');
  const before = await partsGiven(page);
  const [first, ...rest] = await Promise.all(ROUND.map(([x, y]) => onScreen(page, x, y)));
  await page.mouse.move(first!.x, first!.y);
  await page.mouse.down();
  for (const { x, y } of rest) await page.mouse.move(x, y, { steps: 4 });
  const body = await onScreen(page, 430, 420);
  const glaze = TEAPOT_COLOURS.glaze;
  await expect.poll(() => colourAt(page, body)).toEqual(glaze);
  // Given up, nothing of it stays.
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect.poll(() => colourAt(page, body)).not.toEqual(glaze);
  expect(await partsGiven(page)).toEqual(before);

  await drag(page, ROUND);
  await expect.poll(() => partAt(page, 430, 420)).toBe('glaze');
  await whenSaved(page);
  for (const name of ['lid', 'knob', 'handle', 'spout', 'band', 'inside the handle']) {
    const { x, y } = TEAPOT_REGIONS.find((one) => one.name === name)!;
    expect([name, await partAt(page, x, y)]).toEqual([name, 'glaze']);
  }
  expect(await partAt(page, 60, 60)).toBeNull();
  await page.keyboard.press('Control+z');
  await expect.poll(() => partsGiven(page)).toEqual(before);

  await drag(page, [[20, 20], [40, 20], [40, 40], [20, 40]]); // prettier-ignore
  await expect(page.getByText(/The loop encloses nothing/)).toBeVisible();
  expect(await partsGiven(page)).toEqual(before);
});

/** Hex of what the screen shows at a place. */
async function colourAt(page: Page, { x, y }: { x: number; y: number }): Promise<string> {
  const shot = await page.screenshot({ clip: { x: Math.floor(x), y: Math.floor(y), width: 1, height: 1 } });
  return `#${(await sharp(shot).removeAlpha().raw().toBuffer()).toString('hex')}`;
}

test('marks, loose as they are, flat the whole page; recoloured and spread again they follow', async ({ page }) => {
  await page.keyboard.press('Shift+3');
  const marks: Record<TeapotPart, [number, number][][]> = {
    glaze: [
      [[340, 340], [430, 470], [540, 350]], // prettier-ignore
      [[370, 270], [480, 262]], // prettier-ignore
      [[150, 325], [230, 390]], // prettier-ignore
      [[690, 350], [700, 430]], // prettier-ignore
    ],
    knob: [
      [[415, 205], [445, 210]], // prettier-ignore
      // Its end strays over the line.
      [[300, 545], [560, 552], [600, 590]], // prettier-ignore
    ],
    table: [[[40, 640], [300, 660], [500, 640]]], // prettier-ignore
    wall: [
      [[40, 60], [300, 100], [800, 80]], // prettier-ignore
      [[640, 380], [645, 430]], // prettier-ignore
    ],
  };
  for (const [part, lines] of Object.entries(marks)) {
    await page.keyboard.press(String(Object.keys(TEAPOT_COLOURS).indexOf(part) + 1));
    for (const line of lines) await drag(page, line);
  }
  await expect(page.getByText('not spread yet')).toBeVisible();
  await page.keyboard.press('/');
  await expect(page.getByText('not spread yet')).toBeHidden();
  await whenSaved(page);
  await expectTeapot(page);
  expect(await openCount(page)).toBe(0);

  // Ctrl and click recolours the mark on the spout.
  await page.keyboard.press('2');
  const spout = await onScreen(page, 190, 357);
  await page.keyboard.down('Control');
  await page.mouse.click(spout.x, spout.y);
  await page.keyboard.up('Control');
  await page.keyboard.press('/');
  await expect(page.getByText('not spread yet')).toBeHidden();
  expect(await partAt(page, 180, 350)).toBe('knob');
  expect(await partAt(page, 430, 420)).toBe('glaze');

  // Undo takes back one step at a time: the spreading, then the recolouring.
  await page.keyboard.press('Control+z');
  await expect.poll(() => partAt(page, 180, 350)).toBe('glaze');
});

test('a small, blurred key says which part is where; one of another page is told apart', async ({ page }) => {
  const key = await paintKey(page);
  await page.keyboard.press('Shift+4');
  await page.getByLabel('Colour key').setInputFiles({ name: 'key.png', mimeType: 'image/png', buffer: key });
  await expect(page.getByText(/The page explains \d+% of it/)).toBeVisible();
  await expect(page.getByText('belong to another page')).toBeHidden();
  // What is small may still be weighed: then it is taken after that.
  await page.keyboard.press('/');
  await expect.poll(async () => (await partsGiven(page)).includes(null)).toBe(false);
  await whenSaved(page);
  await expectTeapot(page);
  // The key is kept with the page.
  await page.reload();
  await whenReady(page);
  await page.keyboard.press('Shift+4');
  await expect(page.getByText(/The page explains \d+% of it/)).toBeVisible();

  const wrong = await sharp({ create: { width: 90, height: 70, channels: 3, background: '#888' } })
    .composite([
      {
        input: Buffer.from('<svg width="90" height="70"><path d="M0 0H45V35H0Z M60 40H90V70H60Z" fill="#d22"/></svg>'),
      },
    ])
    .png()
    .toBuffer();
  await page.getByLabel('Colour key').setInputFiles({ name: 'other.png', mimeType: 'image/png', buffer: wrong });
  await expect(page.getByText('belong to another page')).toBeVisible();

  await page
    .getByLabel('Colour key')
    .setInputFiles({ name: 'broken.png', mimeType: 'image/png', buffer: Buffer.from('no picture') });
  await expect(page.getByText('broken.png cannot be read as a picture')).toBeVisible();
});

test('a region and all like it are given in one go', async ({ page }) => {
  await page.keyboard.press('1');
  const body = await onScreen(page, 430, 420);
  await page.mouse.click(body.x, body.y);
  const lid = await onScreen(page, 430, 268);
  await page.mouse.click(lid.x, lid.y);
  // With the same part: both change together.
  await page.keyboard.press('3');
  await page.keyboard.down('Control');
  await page.mouse.click(lid.x, lid.y);
  await page.keyboard.up('Control');
  expect(await partAt(page, 430, 420)).toBe('table');
  expect(await partAt(page, 430, 268)).toBe('table');
});

/** The regions in their colours at an eighth of the size, blurred. */
async function paintKey(page: Page): Promise<Buffer> {
  const { width, height, words } = await page.evaluate(
    ([regions, colours]) => {
      const bench = window.jumbleBench as unknown as {
        state: { survey: { width: number; height: number; field: Int32Array; regions: { ofCell: Int32Array } } };
      };
      const { survey } = bench.state;
      const colourOf = new Map(
        regions.map(({ x, y, part }) => [window.jumbleCommands.regionAt(x, y)!, parseInt(colours[part].slice(1), 16)]),
      );
      const list = Array.from({ length: survey.width * survey.height }, (_, at) => {
        let cell = survey.field[at]!;
        if (cell < 0) cell = survey.field[~cell]!;
        return colourOf.get(survey.regions.ofCell[cell]!) ?? 0x808080;
      });
      return { width: survey.width, height: survey.height, words: list };
    },
    [TEAPOT_REGIONS, TEAPOT_COLOURS] as const,
  );
  const rgb = Buffer.alloc(width * height * 3);
  words.forEach((word, k) => rgb.set([word >> 16, (word >> 8) & 255, word & 255], k * 3));
  return sharp(rgb, { raw: { width, height, channels: 3 } })
    .resize(Math.round(width / 8))
    .blur(1)
    .png()
    .toBuffer();
}
