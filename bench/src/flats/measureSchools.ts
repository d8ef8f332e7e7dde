import { demoCastEdits, DEMO_PARTS, STEADY_PAGE_COUNT, renderInkPng, renderTruth } from '@jumble/demo';
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import type { Row } from '../printTable.ts';
import { withJumble, type RunningJumble } from '../withJumble.ts';
import { makeGuide } from './makeGuide.ts';
import { correctingMarks, LOOK_STEP, MARK_SCALE, type PageLook } from './correctingMarks.ts';

type School = 'region by region' | 'marks' | 'key';
const SCHOOLS: readonly School[] = ['region by region', 'marks', 'key'];

/** What a page took. */
interface Effort {
  /** Clicks, drags, choices of a part and keys that decide. */
  actions: number;
  /** Share of the paper that has the intended part in the end. */
  right: number;
  /** Regions without a part or to be looked at in the end. */
  open: number;
}

/** A school's effort on all pages, and its actions page by page. */
interface Sum extends Effort {
  readonly byPage: number[];
}

/**
 * A scripted flatter works each demo page with each school in the real interface, to a worklist of zero:
 * every click, drag, choice of a part and deciding key counts as one action. What the key got wrong is put right
 * by sweeps, what marks got wrong by further marks, the rest by clicks; who works region by region clicks each.
 */
export async function measureSchools(): Promise<{ title: string; rows: Row[] }> {
  return { title: "The demo's pages, mainly with one school", rows: await withJumble(workAll) };
}

async function workAll({ address, open }: RunningJumble): Promise<Row[]> {
  const efforts = new Map<School, Sum>(
    SCHOOLS.map((school) => [school, { actions: 0, right: 0, open: 0, byPage: [] }]),
  );
  for (let number = 1; number <= STEADY_PAGE_COUNT; number++) {
    const truth = await renderTruth(number);
    for (const school of SCHOOLS) {
      const page = await open(await upload(address, number));
      const effort = await new Flatter(page, truth).work(school, number);
      await page.context().close();
      process.stderr.write(`Page ${number}, ${school}: ${effort.actions} actions.\n`);
      const sum = efforts.get(school)!;
      sum.byPage.push(effort.actions);
      sum.actions += effort.actions / STEADY_PAGE_COUNT;
      sum.right += effort.right / STEADY_PAGE_COUNT;
      sum.open += effort.open;
    }
  }
  const clicks = efforts.get('region by region')!.actions;
  return SCHOOLS.map((school): Row => {
    const { actions, right, open: left, byPage } = efforts.get(school)!;
    return {
      what: `a page ${school === 'region by region' ? '' : 'with '}${school}: actions, as a share of clicking`,
      value: actions / clicks,
      unit: '',
      ...(school === 'region by region' ? {} : { target: { most: 1 / 3 } }),
      note: `${actions.toFixed(0)} actions a page (${byPage.join(', ')}); ${(right * 100).toFixed(1)}% of the paper as intended, ${left} left open`,
    };
  });
}

async function upload(address: string, number: number): Promise<string> {
  const send = async <T>(path: string, body: object): Promise<T> =>
    (await (
      await fetch(`${address}${path}`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
      })
    ).json()) as T;
  const { id: jobId } = await send<{ id: string }>('/api/jobs', { name: 'Schools' });
  const cast = (await (await fetch(`${address}/api/jobs/${jobId}/cast`)).json()) as {
    revision: number;
    records: [string, unknown][];
  };
  await send(`/api/jobs/${jobId}/cast/edits`, {
    baseRevision: cast.revision,
    label: 'Cast',
    edits: [...cast.records.map(([key]) => ({ key, value: null })), ...demoCastEdits()],
  });
  const form = new FormData();
  form.append('file', new Blob([new Uint8Array(await renderInkPng(number))]), 'page.png');
  const page = (await (await fetch(`${address}/api/jobs/${jobId}/pages`, { method: 'POST', body: form })).json()) as {
    id: string;
  };
  return `${address}/jobs/${jobId}/pages/${page.id}/flats`;
}

/** Regions as they are, for the script to decide by. */
interface Look extends PageLook {
  /** Also whether it is to be looked at. */
  readonly regions: readonly { readonly at: number; readonly part: string | null; readonly look: boolean }[];
  readonly regionOfSample: readonly number[];
}

type Place = readonly [number, number];
/** Marks are drawn and spread so often at most. */
const MARK_ROUNDS = 3;

/** A sweep stays where it began, so that the page need not be moved; in px of the page at true size. */
const SWEEP_X = 340;
const SWEEP_Y = 310;

class Flatter {
  private actions = 0;
  private partId = '';

  constructor(
    private readonly page: Page,
    private readonly truth: Uint8Array,
  ) {}

  async work(school: School, number: number): Promise<Effort> {
    if (school === 'marks') await this.mark();
    if (school === 'key') await this.layGuide(number);
    if (school === 'key') await this.sweepRight();
    await this.putRight();
    const { right, open } = await this.result();
    return { actions: this.actions, right, open };
  }

  /** All shapes of a part, then of the next; what comes out wrong is marked too, and the rest clicked. */
  private async mark(): Promise<void> {
    await this.press('Shift+3');
    for (let round = 0; round < MARK_ROUNDS; round++) {
      const look = await this.look();
      const marks = correctingMarks(look, this.meantParts(look));
      if (marks.length === 0) break;
      for (const { part, points } of marks) {
        await this.choose(part);
        const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
        const middle = (of: number[]): number => (Math.min(...of) + Math.max(...of)) / 2;
        await this.onScreen(middle(xs), middle(ys), MARK_SCALE);
        await this.drag(points);
      }
      await this.spread();
    }
    await this.press('Shift+1');
  }

  private async spread(): Promise<void> {
    await this.press('/');
    await this.page.waitForFunction(() => {
      const { flats } = window.jumbleBench.state as unknown as { flats: { unspread: boolean; spreading: boolean } };
      return !flats.unspread && !flats.spreading;
    });
  }

  private async layGuide(number: number): Promise<void> {
    const { width, height } = await this.look();
    const key = await makeGuide(this.truth, width, height, 40 + number);
    const png = await sharp(key.rgb, { raw: { width: key.width, height: key.height, channels: 3 } })
      .png()
      .toBuffer();
    await this.press('Shift+4');
    this.actions++;
    await this.page.getByLabel('Colour key').setInputFiles({ name: 'key.png', mimeType: 'image/png', buffer: png });
    await this.page.getByText(/The page explains/).waitFor();
    await this.press('/');
    await this.page.waitForFunction(() => window.jumbleBench.state.openRegions.length === 0);
    await this.press('Shift+1');
  }

  /** Region by region: what has another part than intended, or none, is given its own; then all is agreed with. */
  private async putRight(): Promise<void> {
    const look = await this.look();
    const meant = this.meantParts(look);
    for (const part of DEMO_PARTS) {
      for (const [region, { at, part: now }] of look.regions.entries()) {
        if (meant[region] !== part.id || now === part.id) continue;
        await this.choose(part.id);
        await this.click(at % look.width, Math.floor(at / look.width));
      }
    }
    if ((await this.look()).regions.some((one) => one.look)) await this.press('Shift+Enter');
    await this.page.waitForFunction(() => window.jumbleBench.state.sync.state === 'saved');
  }

  /**
   * Sweeps: from a region that has another part than intended to the next one near by, as long as the way
   * between crosses nothing that is meant to be something else.
   */
  private async sweepRight(): Promise<void> {
    for (const { part, way } of await this.waysRight()) {
      // Single regions are clicked later.
      if (way.length === 1) continue;
      await this.choose(part);
      await this.onScreen(way[0]![0], way[0]![1], 1);
      await this.drag(way);
    }
  }

  /** Ways over regions that have another part than intended, from each to the nearest that may be gone to. */
  private async waysRight(): Promise<{ part: string; way: Place[] }[]> {
    const look = await this.look();
    const ways: { part: string; way: Place[] }[] = [];
    const meant = this.meantParts(look);
    const { width } = look;
    const placeOf = (region: number): Place => {
      const { at } = look.regions[region]!;
      return [at % width, Math.floor(at / width)];
    };
    for (const part of DEMO_PARTS) {
      const left = new Set(
        look.regions.flatMap((one, region) => (meant[region] === part.id && one.part !== part.id ? [region] : [])),
      );
      while (left.size > 0) {
        const [first] = left;
        left.delete(first!);
        const start = placeOf(first!);
        const way = [start];
        for (;;) {
          const here = way.at(-1)!;
          let next: number | null = null;
          let nearest = Infinity;
          for (const region of left) {
            const [x, y] = placeOf(region);
            const far = Math.hypot(x - here[0], y - here[1]);
            if (far >= nearest || Math.abs(x - start[0]) > SWEEP_X || Math.abs(y - start[1]) > SWEEP_Y) continue;
            if (!this.isClear(look, meant, here, [x, y], part.id)) continue;
            [next, nearest] = [region, far];
          }
          if (next === null) break;
          left.delete(next);
          way.push(placeOf(next));
        }
        ways.push({ part: part.id, way });
      }
    }
    return ways;
  }

  private isClear(
    { width, regionOfSample }: Look,
    meant: readonly (string | null)[],
    [ax, ay]: readonly [number, number],
    [bx, by]: readonly [number, number],
    part: string,
  ): boolean {
    const steps = Math.max(Math.abs(bx - ax), Math.abs(by - ay), 1);
    for (let k = 0; k <= steps; k++) {
      const at = Math.round(ay + ((by - ay) * k) / steps) * width + Math.round(ax + ((bx - ax) * k) / steps);
      const region = regionOfSample[Math.floor(at / LOOK_STEP)] ?? -1;
      if (region >= 0 && meant[region] !== part) return false;
    }
    return true;
  }

  private meantParts({ regionOfSample, regions }: Look): (string | null)[] {
    const votes = regions.map(() => new Map<number, number>());
    regionOfSample.forEach((region, k) => {
      if (region < 0) return;
      const part = this.truth[k * LOOK_STEP]!;
      votes[region]!.set(part, (votes[region]!.get(part) ?? 0) + 1);
    });
    return votes.map((ofRegion, region) => {
      let [best, most] = [this.truth[regions[region]!.at]!, 0];
      for (const [part, count] of ofRegion) if (count > most) [best, most] = [part, count];
      return DEMO_PARTS[best]!.id;
    });
  }

  private async result(): Promise<{ right: number; open: number }> {
    const { regionOfSample, regions } = await this.look();
    let [right, paper] = [0, 0];
    regionOfSample.forEach((region, k) => {
      if (region < 0) return;
      paper++;
      if (regions[region]!.part === DEMO_PARTS[this.truth[k * LOOK_STEP]!]!.id) right++;
    });
    return { right: right / paper, open: regions.filter((one) => one.part === null || one.look).length };
  }

  private look(): Promise<Look> {
    return this.page.evaluate((step) => {
      const { survey, resolved } = window.jumbleBench.state as unknown as {
        survey: {
          width: number;
          height: number;
          field: Int32Array;
          regions: { count: number; ofCell: Int32Array; anchor: Int32Array };
        };
        resolved: { partOfRegion: (string | null)[]; looks: Map<number, string> };
      };
      const { width, height, field, regions } = survey;
      const samples: number[] = [];
      for (let at = 0; at < width * height; at += step) samples.push(field[at]! < 0 ? -1 : regions.ofCell[field[at]!]!);
      return {
        width,
        height,
        regions: Array.from({ length: regions.count }, (_, r) => ({
          at: regions.anchor[r]!,
          part: resolved.partOfRegion[r]!,
          look: resolved.looks.has(r),
        })),
        regionOfSample: samples,
      };
    }, LOOK_STEP);
  }

  /** A part is chosen by its key, or with the pointer: one action either way. */
  private async choose(part: string): Promise<void> {
    if (part === this.partId) return;
    this.partId = part;
    this.actions++;
    const slot = DEMO_PARTS.find((one) => one.id === part)!.slot;
    if (slot !== null) await this.page.keyboard.press(slot);
    else await this.page.evaluate((id) => window.jumbleCommands.choosePart(id), part);
  }

  private async press(key: string): Promise<void> {
    this.actions++;
    await this.page.keyboard.press(key);
  }

  private async click(x: number, y: number): Promise<void> {
    this.actions++;
    const [sx, sy] = await this.onScreen(x, y, 1);
    await this.page.mouse.click(sx, sy);
  }

  private async drag(points: readonly Place[]): Promise<void> {
    this.actions++;
    const [first, ...rest] = points;
    // The page stays where it is while the pen is down.
    const [x0, y0] = await this.onScreen(first![0], first![1], null);
    const scale = await this.page.evaluate(
      () => (window.jumbleBench as unknown as { state: { view: { scale: number } } }).state.view.scale,
    );
    await this.page.mouse.move(x0, y0);
    await this.page.mouse.down();
    for (const [x, y] of rest) await this.page.mouse.move(x0 + (x - first![0]) * scale, y0 + (y - first![1]) * scale);
    await this.page.mouse.up();
  }

  /** Where a page point lies on the screen; with a scale the page is shown around it first. */
  private async onScreen(x: number, y: number, scale: number | null): Promise<[number, number]> {
    const view = await this.page.evaluate(
      ([px, py, wanted]) => {
        const bench = window.jumbleBench as unknown as {
          state: { view: { x: number; y: number; scale: number; width: number; height: number } };
        };
        const { view: now } = bench.state;
        if (wanted !== null)
          window.jumbleCommands.setView({
            ...now,
            scale: wanted,
            x: Math.round(px - now.width / wanted / 2),
            y: Math.round(py - now.height / wanted / 2),
          });
        return bench.state.view;
      },
      [x, y, scale] as const,
    );
    const box = (await this.page.getByTestId('page').boundingBox())!;
    return [box.x + (x + 0.5 - view.x) * view.scale, box.y + (y + 0.5 - view.y) * view.scale];
  }
}
