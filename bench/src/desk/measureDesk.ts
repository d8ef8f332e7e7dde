import { join } from 'node:path';
import Database from 'better-sqlite3';
import { fitEffort, type PageMeasures } from '@jumble/core';
import { quantile, type Row } from '../printTable.ts';
import { withJumble } from '../withJumble.ts';

const [JOBS, PAGES] = [60, 2000];
const ASKED = 15;
const BOOKS = 60;

/** How well effort is foretold on made-up logbooks whose truth is known, and how fast the desk is with very much on it. */
export async function measureDesk(): Promise<{ title: string; rows: Row[] }> {
  const byCount = [0, 5, 20, 60].map((timed) => ({ timed, ...errorAfter(timed) }));
  const { ms, queries } = await askManyJobs();
  return {
    title: `The desk: effort on ${BOOKS} made-up logbooks; ${PAGES} pages in ${JOBS} jobs`,
    rows: [
      ...byCount.map(({ timed, error, inBand }) => ({
        what: `error of the estimate after ${timed} timed pages, median`,
        value: error * 100,
        unit: '%',
        note: `${(inBand * 100).toFixed()} of 100 pages lie in the band that eight in ten should`,
      })),
      { what: 'all plans and forecasts, median', value: quantile(ms, 0.5), unit: 'ms', target: { most: 500 } },
      { what: 'queries for them', value: queries, unit: '', note: 'counted by the server' },
    ],
  };
}

/** A row of numbers that look like chance, the same each time. */
function chance(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 1_103_515_245 + 12_345) % 2_147_483_648;
    return state / 2_147_483_648;
  };
}

/** Mean share by which estimates are wrong, over flatters who each work in their own way. */
function errorAfter(timed: number): { readonly error: number; readonly inBand: number } {
  const errors: number[] = [];
  let inside = 0;
  for (let book = 0; book < BOOKS; book++) {
    const next = chance(book * 977 + 1);
    const pace = {
      page: 4 + 12 * next(),
      regions: 0.03 + 0.1 * next(),
      gaps: 0.1 + 0.3 * next(),
      panels: 1 + 4 * next(),
    };
    const page = (): PageMeasures & { minutes: number } => {
      const one = {
        regions: Math.round(80 + 900 * next()),
        gaps: Math.round(60 * next()),
        looseEnds: Math.round(400 * next()),
        panels: 1 + Math.floor(8 * next()),
      };
      const truth = pace.page + pace.regions * one.regions + pace.gaps * one.gaps + pace.panels * one.panels;
      // Days differ by a fifth either way.
      return { ...one, minutes: truth * (0.8 + 0.4 * next()) };
    };
    const estimate = fitEffort(Array.from({ length: timed }, page));
    for (let k = 0; k < 20; k++) {
      const other = page();
      const { minutes, deviation } = estimate(other);
      errors.push(Math.abs(minutes - other.minutes) / other.minutes);
      if (Math.abs(minutes - other.minutes) <= 1.2816 * deviation) inside++;
    }
  }
  return { error: quantile(errors, 0.5), inBand: inside / errors.length };
}

async function askManyJobs(): Promise<{ ms: number[]; queries: number }> {
  const counted = await withJumble(
    async ({ address, dataFolder, queries }) => {
      fill(join(dataFolder, 'jumble.sqlite'));
      const before = queries();
      await (await fetch(`${address}/api/plans?today=2026-11-30`)).json();
      await new Promise((resolve) => setTimeout(resolve, 300));
      return queries() - before;
    },
    { countQueries: true },
  );
  return withJumble(async ({ address, dataFolder }) => {
    fill(join(dataFolder, 'jumble.sqlite'));
    const ms: number[] = [];
    for (let k = 0; k < ASKED; k++) {
      const started = performance.now();
      const answer = await fetch(`${address}/api/plans?today=2026-11-30`);
      const plans = (await answer.json()) as { pages: unknown[] }[];
      ms.push(performance.now() - started);
      if (plans.reduce((sum, { pages }) => sum + pages.length, 0) !== PAGES) throw new Error('pages are missing');
    }
    return { ms, queries: counted };
  });
}

/** Jobs, pages and time as years of work leave them. */
function fill(path: string): void {
  const database = new Database(path);
  const next = chance(7);
  const job = database.prepare(`INSERT INTO job (id, name, due_on, created_at, cast_revision, palette, rate) VALUES (?, ?, ?, ?, 0, 'scene', ?)`); // prettier-ignore
  const page = database.prepare(`INSERT INTO page (id, job_id, name, position, file_name, file_hash, format, mode, bits_per_channel, width, height,
    dpi, grey_hash, revision, drawn_state, region_count, filled_count, measures) VALUES (?, ?, ?, ?, 'a.png', ?, 'png', 'grey', 8, 2000, 3000,
    300, ?, 0, '0/0', ?, ?, ?)`); // prettier-ignore
  const time = database.prepare(`INSERT INTO work_time (page_id, stage, person, day, by_hand, seconds) VALUES (?, ?, 'Ada', ?, 0, ?)`); // prettier-ignore
  database.transaction(() => {
    for (let j = 0; j < JOBS; j++)
      job.run(`j${j}`, `Job ${j}`, '2026-12-24', `2026-01-01T00:00:${String(j).padStart(2, '0')}Z`, '{"per":"page","amount":40,"currency":"EUR"}'); // prettier-ignore
    for (let p = 0; p < PAGES; p++) {
      const regions = Math.round(80 + 900 * next());
      const measures = { regions, gaps: 20, looseEnds: 200, panels: 5, openGaps: 3, isCertified: false };
      const hash = String(p).padStart(64, '0');
      page.run(`p${p}`, `j${p % JOBS}`, `Page ${p}`, Math.floor(p / JOBS), hash, hash, regions, Math.round(regions * next()), JSON.stringify(measures)); // prettier-ignore
      for (const stage of ['gaps', 'flats', 'check'])
        for (let day = 1; day <= 3; day++)
          time.run(`p${p}`, stage, `2026-11-${10 + day * 3}`, Math.round(1200 * next()));
    }
  })();
  database.close();
}
