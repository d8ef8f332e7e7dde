import { expect, test, type Page } from '@playwright/test';
import { createHash } from 'node:crypto';
import { gunzipSync } from 'node:zlib';
import {
  DEFAULT_PREP,
  describeLineArt,
  editPrep,
  editSolid,
  openSurvey,
  type LineArtFacts,
  type Prep,
  type Survey,
} from '@jumble/core';
import { renderInk, renderInkPng } from '@jumble/demo';
import { scanSheet } from '@jumble/scanner';
import sharp from 'sharp';
import { whenReady } from './testing/bench.ts';
import { inkTeapot } from './testing/ownInking.ts';
import { ask, runServer, uploadPage, type RunningServer } from './testing/runServer.ts';

test.describe.configure({ mode: 'parallel' });
let server: RunningServer;
test.beforeAll(async () => {
  server = await runServer();
});
test.afterAll(() => server.clear());

/** Every raster and table of a survey, by name. */
const RASTERS = {
  inkAlpha: (survey: Survey) => survey.inkAlpha,
  field: (survey: Survey) => survey.field,
  ofCell: (survey: Survey) => survey.regions.ofCell,
  areaPx: (survey: Survey) => survey.regions.areaPx,
  box: (survey: Survey) => survey.regions.box,
  anchor: (survey: Survey) => survey.regions.anchor,
  touchesEdge: (survey: Survey) => survey.regions.touchesEdge,
};
const numbersOf = (survey: Survey): unknown => ({
  lineWidthPx: survey.lineWidthPx,
  inkPoints: survey.inkPoints,
  crumbLimitPx2: survey.crumbLimitPx2,
  cellCount: survey.cellCount,
  crumbs: survey.regions.crumbs,
  maxGapPx: survey.maxGapPx,
  closures: survey.closures,
});

async function inChromium(page: Page): Promise<{ rasters: Record<string, string>; numbers: unknown }> {
  return page.evaluate(async () => {
    const { survey } = window.jumbleBench.state as unknown as { survey: Survey };
    const { regions } = survey;
    const arrays: Record<string, ArrayBufferView> = {
      inkAlpha: survey.inkAlpha,
      field: survey.field,
      ofCell: regions.ofCell,
      areaPx: regions.areaPx,
      box: regions.box,
      anchor: regions.anchor,
      touchesEdge: regions.touchesEdge,
    };
    const rasters: Record<string, string> = {};
    for (const [name, array] of Object.entries(arrays)) {
      const bytes = new Uint8Array(array.byteLength);
      bytes.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength));
      const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
      rasters[name] = [...digest].map((byte) => byte.toString(16).padStart(2, '0')).join('');
    }
    const { lineWidthPx, inkPoints, crumbLimitPx2, cellCount, maxGapPx, closures } = survey;
    return {
      rasters,
      numbers: { lineWidthPx, inkPoints, crumbLimitPx2, cellCount, crumbs: regions.crumbs, maxGapPx, closures },
    };
  });
}

/** Grey, soft and noisy: everything that decides is near its limits. */
async function inkHaze(): Promise<Buffer> {
  const { data, info } = await sharp(await inkTeapot())
    .blur(1.6)
    .greyscale()
    .toColourspace('b-w')
    .raw()
    .toBuffer({ resolveWithObject: true });
  let state = 7;
  for (let i = 0; i < data.length; i++) {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    data[i] = Math.max(0, Math.min(255, data[i]! * 0.8 + 20 + (state >>> 24) / 8));
  }
  return sharp(data, { raw: { width: info.width, height: info.height, channels: 1 } })
    .toColourspace('b-w')
    .png()
    .toBuffer();
}

/** A demo page as the simulated scanner gives it: grey, noisy, unevenly lit, turned. */
async function inkScan(): Promise<Uint8Array> {
  const { width, height, data } = scanSheet(await renderInk(2), { skewDegrees: -0.7, seed: 5 });
  return sharp(data, { raw: { width, height, channels: 1 } })
    .toColourspace('b-w')
    .png()
    .toBuffer();
}

/** Everything that changes how the ink is read, at once. */
const WORN: Prep = {
  ...DEFAULT_PREP,
  slopePpm: -12_217,
  speckLimitPx2: 12,
  detail: { thinnerThanPx: 3, shorterThanPx: 20 },
};
const SOLID = [1000, 1320] as const;

const PAGES: readonly [string, () => Promise<Uint8Array>, Prep?][] = [
  ['demo page 1', () => renderInkPng(1)],
  ['demo page 2', () => renderInkPng(2)],
  ['an inking of our own', inkTeapot],
  ['a hazy scan', inkHaze],
  ['a scan, straightened and cleaned', inkScan, WORN],
];

for (const [name, make, prep] of PAGES) {
  test(`${name} is the same in the browser and in Node, raster by raster`, async ({ page }) => {
    const job = await ask<{ id: string }>(server, 'POST', '/api/jobs', { name });
    const uploaded = await uploadPage(server, job.id, 'page.png', await make());
    if (prep !== undefined) {
      await ask(server, 'POST', `/api/pages/${uploaded.id}/edits`, {
        baseRevision: 0,
        label: 'Clean it up',
        edits: [editPrep(prep), editSolid(SOLID.join(), true)],
      });
    }
    await page.goto(`${server.address}/jobs/${job.id}/pages/${uploaded.id}/flats`);
    await whenReady(page);
    await page.waitForFunction(() => (window.jumbleBench.state as unknown as { facts: unknown }).facts !== null);
    const theirs = await inChromium(page);

    const answer = await fetch(`${server.address}/api/pages/${uploaded.id}/grey/${uploaded.greyHash}`);
    let grey = new Uint8Array(await answer.arrayBuffer());
    if (grey.length !== uploaded.width * uploaded.height) grey = new Uint8Array(gunzipSync(grey));
    const solids = prep === undefined ? [] : [SOLID];
    const raster = { width: uploaded.width, height: uploaded.height, data: grey };
    const open = openSurvey(raster, prep ?? DEFAULT_PREP, { solids });
    const { survey } = open;
    const ours = Object.fromEntries(
      Object.entries(RASTERS).map(([kind, of]) => {
        const array = of(survey);
        return [
          kind,
          createHash('sha256')
            .update(new Uint8Array(array.buffer, array.byteOffset, array.byteLength))
            .digest('hex'),
        ];
      }),
    );
    expect(theirs.rasters).toEqual(ours);
    expect(theirs.numbers).toEqual(JSON.parse(JSON.stringify(numbersOf(survey))));
    const facts = await page.evaluate(() => {
      const {
        panels,
        balloons,
        solids: blacks,
      } = (window.jumbleBench.state as unknown as { facts: LineArtFacts }).facts;
      return JSON.stringify({ panels, balloons, blacks });
    });
    const { panels, balloons, solids: blacks } = describeLineArt(open, null, solids);
    expect(JSON.parse(facts)).toEqual(JSON.parse(JSON.stringify({ panels, balloons, blacks })));
  });
}
