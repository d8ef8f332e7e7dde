import { describe, expect, test } from '@jest/globals';
import { NO_GAPS_PREP } from '../model/PageDocument.ts';
import type { Survey } from '../model/Survey.ts';
import { DEFAULT_JOB_TRAP, type JobTrap, type TrapArea, type TrapRule } from '../model/Trap.ts';
import { NO_PAPER } from '../raster/spreadIntoInk.ts';
import { surveyPage } from '../survey/surveyPage.ts';
import { randomArt, strokes, textGrid } from '../tests/textGrid.ts';
import { findTrapFaults } from './findTrapFaults.ts';
import { findTrapInk } from './findTrapInk.ts';
import { sameTrap, trapOfRegions, type RegionTrap } from './RegionTrap.ts';
import { renderParts, type PartRaster } from './renderParts.ts';
import { underlapLayer } from './underlap.ts';
import { widestLine } from './widestLine.ts';

const KEEP_ALL = { ...NO_GAPS_PREP, crumbLimitPx2: 0 };

/** Looks at every paper pixel for every ink pixel; ties go to the lowest index. */
function naiveNearest(
  field: Int32Array,
  width: number,
  isPaper = (at: number): boolean => field[at]! >= 0,
): Int32Array {
  const height = field.length / width;
  const paper: number[] = [];
  for (let at = 0; at < field.length; at++) if (isPaper(at)) paper.push(at);
  const nearest = new Int32Array(field.length).fill(-1);
  for (let y = 0, at = 0; y < height; y++) {
    for (let x = 0; x < width; x++, at++) {
      let best = 1e9;
      if (isPaper(at)) {
        nearest[at] = at;
        continue;
      }
      for (let k = 0; k < paper.length; k++) {
        const p = paper[k]!;
        const px = p % width;
        const dx = x - px;
        const dy = y - (p - px) / width;
        const distance2 = dx * dx + dy * dy;
        if (distance2 >= best) continue;
        best = distance2;
        nearest[at] = p;
      }
    }
  }
  return nearest;
}

/** Every region a part of its own, the first in front. */
interface Decisions {
  readonly job?: Partial<JobTrap>;
  readonly page?: TrapRule;
  readonly panels?: { readonly points: TrapArea['points']; readonly scene: null; readonly trap?: TrapRule }[];
  readonly areas?: readonly TrapArea[];
  readonly parts?: readonly (string | null)[];
  readonly ofPart?: Readonly<Record<string, TrapRule>>;
  readonly dpi?: number;
}

function decide(
  survey: Survey,
  { job = {}, page, panels, areas = [], parts, ofPart = {}, dpi }: Decisions,
): RegionTrap {
  const partOfRegion = parts ?? Array.from({ length: survey.regions.count }, (_, r) => String(r));
  const ids = [...new Set(partOfRegion.filter((part) => part !== null))].sort((a, b) => Number(a) - Number(b));
  return trapOfRegions(survey, {
    job: { ...DEFAULT_JOB_TRAP, ...job },
    page: { trap: page ?? null, panels: panels ?? null, areas: new Map(areas.map((area, k) => [`a${k}`, area])) },
    parts: ids.map((id) => ({ id, empty: false, ...(ofPart[id] === undefined ? {} : { trap: ofPart[id] }) })),
    partOfRegion,
    dpi: dpi ?? null,
  });
}

function render(survey: Survey, decisions: Decisions): PartRaster {
  const trap = decide(survey, decisions);
  const numbers = Int32Array.from({ length: survey.regions.count }, (_, r) =>
    decisions.parts === undefined ? r : decisions.parts[r] === null ? -1 : Number(decisions.parts[r]),
  );
  return renderParts(survey, numbers, survey.regions.count, trap, findTrapInk(survey, trap));
}

const middle: TrapRule = { rule: 'middle' };
const depth = (depthPx: number): TrapRule => ({ rule: 'depth', depthPx });
const max = (marginPx: number): TrapRule => ({ rule: 'max', marginPx });

describe('nearest paper', () => {
  test('is exactly what looking everywhere finds, ties included, on random line art', () => {
    for (let seed = 1; seed <= 8; seed++) {
      const art = randomArt(seed, 36 + seed * 3, 56 - seed * 2);
      const { field, width } = surveyPage(art, KEEP_ALL);
      const naive = naiveNearest(field, width);
      for (let i = 0; i < field.length; i++) {
        if (field[i]! < 0 && ~field[i]! !== naive[i]) {
          throw new Error(`seed ${seed}: ink pixel ${i} takes ${~field[i]!}, nearest is ${naive[i]}`);
        }
      }
    }
  });

  test('is exact inside a large solid black too, where distances are long', () => {
    const rows = Array.from({ length: 90 }, (_, y) =>
      (y < 2 || y > 86 ? '.' : '.'.repeat(3)).padEnd(100, y < 2 || y > 86 ? '.' : '#'),
    );
    const { field, width } = surveyPage(textGrid(rows), KEEP_ALL);
    const naive = naiveNearest(field, width);
    expect(field.every((value, i) => value >= 0 || ~value === naive[i])).toBe(true);
  });

  test('is none on a page of ink alone', () => {
    const { field, regions } = surveyPage(textGrid(['###', '###']), {
      ...KEEP_ALL,
      inkPoints: { blackPoint: 0, whitePoint: 255 },
    });
    expect(regions.count).toBe(0);
    expect([...field].every((value) => value === NO_PAPER)).toBe(true);
  });
});

describe('rules on a line five px wide', () => {
  const survey = surveyPage(textGrid(Array.from({ length: 5 }, () => '...#####...')), KEEP_ALL);
  const row = (decisions: Decisions): string => [...render(survey, decisions).data.subarray(22, 33)].join('');

  test.each<[string, Decisions, string]>([
    ['the middle', { page: middle }, '11111122222'],
    ['a depth', { page: depth(1) }, '11110002222'],
    ['no depth at all', { page: depth(0) }, '11100000222'],
    ['a depth past the middle', { page: depth(50) }, '11111122222'],
    ['a depth in mm at print size', { page: { rule: 'depth', depthMm: 0.1 }, dpi: 600 }, '11111022222'],
    ['as deep as the line allows', { page: max(1) }, '11111112222'],
    ['no margin', { page: max(0) }, '11111111222'],
    ['a margin past the middle', { page: max(4) }, '11111122222'],
    ['the job where the page says nothing', { job: { rule: depth(1) } }, '11110002222'],
    ['a part of its own', { page: depth(1), ofPart: { 1: middle } }, '11110022222'],
    ['a part in front that alone goes deep', { page: depth(1), ofPart: { 0: max(1) } }, '11111112222'],
    ['a part behind that alone goes deep', { page: middle, ofPart: { 1: max(1) } }, '11111122222'],
    ['a region without a part beside one that goes deep', { page: max(1), parts: [null, '1'] }, '00002222222'],
    ['a region without a part', { page: middle, parts: [null, '1'] }, '00000022222'],
  ])('%s', (_, decisions, expected) => expect(row(decisions)).toBe(expected));

  test('the part in front is the one that stands first, whatever its region', () => {
    expect(row({ page: max(1), parts: ['1', '0'] })).toBe('22221111111');
  });

  test('area beats part, part beats panel, panel beats page, page beats job', () => {
    const all: TrapArea['points'] = [[0, 0], [11, 0], [11, 5], [0, 5]]; // prettier-ignore
    const panels = [{ points: all, scene: null, trap: depth(2) }];
    const job = { rule: depth(0) };
    const at = (decisions: Decisions): string => row({ job, ...decisions });
    expect(at({})).toBe('11100000222');
    expect(at({ page: depth(1) })).toBe('11110002222');
    expect(at({ page: depth(1), panels })).toBe('11111022222');
    expect(at({ page: depth(1), panels, ofPart: { 0: middle, 1: middle } })).toBe('11111122222');
    const areas = [{ points: all, rule: depth(1), stamp: 1 }];
    expect(at({ page: depth(1), panels, ofPart: { 0: middle, 1: middle }, areas })).toBe('11110002222');
    // Where areas overlap the later one counts; one ends where its outline does.
    const later = [{ points: [[0, 2], [11, 2], [11, 3], [0, 3]], rule: max(1), stamp: 2 } as const, ...areas]; // prettier-ignore
    expect(at({ areas: later })).toBe('11111112222');
    const { data } = render(survey, { job, areas: later });
    expect([...data.subarray(11, 22)].join('')).toBe('11110002222');
  });

  test('a depth in mm cannot be told without a resolution: the middle', () => {
    expect(row({ page: { rule: 'depth', depthMm: 0.1 } })).toBe(row({ page: middle }));
  });

  test('tables are told apart by what they do', () => {
    const same = (a: Decisions, b: Decisions): boolean => sameTrap(decide(survey, a), decide(survey, b));
    expect(same({ page: depth(1) }, { job: { rule: depth(1) } })).toBe(true);
    expect(same({ page: depth(1) }, { page: depth(2) })).toBe(false);
    expect(same({ page: middle }, { page: middle, parts: ['1', '0'] })).toBe(true);
    expect(same({ page: max(1) }, { page: max(1), parts: ['1', '0'] })).toBe(false);
  });
});

/** What every rule keeps, on random drawings and with soft edges. */
describe('guarantees', () => {
  const rules: readonly Decisions[] = [
    { page: middle },
    { page: depth(0) },
    { page: depth(1.5) },
    { page: depth(4) },
    { page: max(0) },
    { page: max(1.5) },
    { page: max(40) },
    { page: max(1), job: { solids: { rule: 'edge' }, pinholePx2: 0 } },
    { page: middle, job: { solids: { rule: 'depth', depthPx: 3 } } },
  ];
  const pages = [3, 7, 12, 21].map((seed) => {
    const survey = surveyPage(randomArt(seed, 110, 90), NO_GAPS_PREP);
    // A few regions have no part, some share one.
    const parts = Array.from({ length: survey.regions.count }, (_, r) => (r % 5 === 4 ? null : String(r % 7)));
    return { seed, survey, parts, naive: naiveNearest(survey.field, survey.width) };
  });
  const fail = (why: string): never => {
    throw new Error(why);
  };

  test.each(rules.map((rule) => [JSON.stringify(rule), rule] as const))('%s', (_, rule) => {
    for (const { seed, survey, parts, naive } of pages) {
      const { data } = render(survey, { ...rule, parts });
      const { field, width, inkAlpha, regions } = survey;
      const partOf = (paper: number): number => Number(parts[regions.ofCell[field[paper]!]!] ?? -1) + 1;
      const pinholes = rule.job?.pinholePx2 === 0 ? null : findTrapInk(survey, decide(survey, rule)).pinholes;
      const isPinhole = (at: number): boolean =>
        pinholes !== null && field[at]! >= 0 && pinholes.isPinhole[field[at]!] === 1;
      for (let at = 0; at < data.length; at++) {
        if (isPinhole(at) || (field[at]! < 0 && isPinhole(naive[at]!))) continue;
        const own = partOf(naive[at]!);
        const where = `seed ${seed}, pixel ${at % width}, ${Math.floor(at / width)}`;
        // Colours on paper are the same under every rule, so that nothing shows through.
        if (field[at]! >= 0) {
          if (data[at] !== own) fail(`${where}: paper has ${data[at]}, not ${own}`);
          continue;
        }
        const isFixed = rule.page!.rule === 'depth';
        // Soft ink takes its nearest region, or nothing where a fixed depth ends before it.
        if (inkAlpha[at]! < 255 && data[at] !== own && !(isFixed && data[at] === 0))
          fail(`${where}: soft ink has ${data[at]}`);
        if (rule.page!.rule === 'max') continue;
        // Nothing passes the middle.
        if (data[at] !== 0 && data[at] !== own) fail(`${where}: ${data[at]} passes the middle`);
      }
    }
  });

  test('as deep as the line allows: the part in front keeps its margin and is never less deep than the middle', () => {
    let deeper = 0;
    for (const { survey, naive } of pages) {
      const { field, width, regions } = survey;
      const parts = Array.from({ length: regions.count }, (_, r) => (r % 4 === 3 ? null : String(r)));
      const near = render(survey, { page: middle, parts, job: { pinholePx2: 0 } }).data;
      const { data } = render(survey, { page: max(2), parts, job: { pinholePx2: 0 } });
      for (let at = 0; at < data.length; at++) {
        if (data[at] === near[at]) continue;
        deeper++;
        // It is in front of what it covers (nothing at all is farthest back), and two px from its paper.
        expect(near[at] === 0 || data[at]! < near[at]!).toBe(true);
        const source = naive[at]!;
        const d2 = ((at % width) - (source % width)) ** 2 + (Math.floor(at / width) - Math.floor(source / width)) ** 2;
        expect(d2).toBeGreaterThan(4);
        expect(field[at]).toBeLessThan(0);
        expect(regions.ofCell[field[source]!]).toBeDefined();
      }
    }
    expect(deeper).toBeGreaterThan(20);
  });
});

describe('solid blacks', () => {
  // A block forty px wide beside a line of three.
  const rows = Array.from({ length: 60 }, (_, y) =>
    y < 8 || y > 51 ? '.'.repeat(90) : `....###${'.'.repeat(20)}${'#'.repeat(40)}${'.'.repeat(23)}`,
  );
  const survey = surveyPage(textGrid(rows), KEEP_ALL);
  const row = (decisions: Decisions): string => [...render(survey, decisions).data.subarray(30 * 90, 31 * 90)].join('');
  const solidOf = (decisions: Decisions): number => [...row(decisions).slice(27, 67)].filter((px) => px !== '0').length;

  test('take colour as lines do, all the way, so far, or under their soft edge alone', () => {
    expect(solidOf({ page: depth(2) })).toBe(4);
    expect(solidOf({ page: depth(2), job: { solids: { rule: 'all' } } })).toBe(40);
    expect(solidOf({ page: middle, job: { solids: { rule: 'depth', depthPx: 5 } } })).toBe(10);
    expect(solidOf({ page: middle, job: { solids: { rule: 'edge' } } })).toBe(0);
    // The line beside it keeps its rule.
    for (const solids of [{ rule: 'all' }, { rule: 'edge' }] as const)
      expect(row({ page: depth(1), job: { solids } }).slice(4, 7)).toBe('101');
  });

  test('an area over one counts more than what the job says of them', () => {
    const areas = [{ points: [[20, 20], [80, 20], [80, 40], [20, 40]], rule: depth(3), stamp: 0 } as const]; // prettier-ignore
    expect(solidOf({ page: middle, job: { solids: { rule: 'edge' } }, areas })).toBe(6);
  });
});

describe('pinholes', () => {
  const rows = Array.from({ length: 31 }, (_, y) => {
    const line = `${'.'.repeat(12)}${'#'.repeat(12)}${'.'.repeat(12)}`;
    if (y === 15) return `${line.slice(0, 14)}..${line.slice(16)}`;
    return y === 20 ? `${line.slice(0, 21)}.${line.slice(22)}` : line;
  });
  const survey = surveyPage(textGrid(rows), { ...NO_GAPS_PREP, crumbLimitPx2: 20 });
  const at = (raster: PartRaster, x: number, y: number): number => raster.data[y * 36 + x]!;

  test('take colour as if they were ink, exactly as if nobody had seen them', () => {
    const trap = decide(survey, {});
    const { pinholes } = findTrapInk(survey, trap);
    expect(pinholes!.count).toBe(2);
    const isPaper = (one: number): boolean => survey.field[one]! >= 0 && pinholes!.isPinhole[survey.field[one]!] === 0;
    const naive = naiveNearest(survey.field, 36, isPaper);
    const raster = render(survey, { page: middle });
    naive.forEach((source, one) => {
      expect(raster.data[one]).toBe(survey.regions.ofCell[survey.field[source]!]! + 1);
    });
  });

  test('show no paper under a depth that ends before them, and leave the stroke its outline', () => {
    const raster = render(survey, { page: depth(1) });
    expect([at(raster, 14, 15), at(raster, 15, 15), at(raster, 21, 20)]).toEqual([1, 1, 2]);
    expect([at(raster, 13, 15), at(raster, 16, 15), at(raster, 12, 15)]).toEqual([0, 0, 1]);
  });

  test('stay paper where the job says so', () => {
    const trap = decide(survey, { job: { pinholePx2: 0 } });
    expect(findTrapInk(survey, trap).pinholes).toBeNull();
    const one = decide(survey, { job: { pinholePx2: 2 } });
    expect(findTrapInk(survey, one).pinholes!.count).toBe(1);
  });
});

describe('faults', () => {
  /** Two lines, three and twelve px wide, with soft edges. */
  const art = strokes(200, 160, 3, [[60, -5, 60, 165]]);
  const wide = strokes(200, 160, 12, [[140.5, -5, 140.5, 165]]);
  const survey = surveyPage({ ...art, data: art.data.map((grey, k) => Math.min(grey, wide.data[k]!)) }, NO_GAPS_PREP);
  const faultsOf = (decisions: Decisions, page = survey): ReturnType<typeof findTrapFaults> => {
    const trap = decide(page, decisions);
    const parts = Int32Array.from({ length: page.regions.count }, (_, r) => r);
    return findTrapFaults(page, parts, trap, findTrapInk(page, trap));
  };

  test('list a line that is thinner than twice the depth, with its width', () => {
    const faults = faultsOf({ page: depth(4) });
    expect(new Set(faults.map(({ kind }) => kind))).toEqual(new Set(['short']));
    expect(faults.every(({ at: [x], foundPx, depthPx, parts }) => Math.abs(x - 60) < 3 && foundPx < 5 && depthPx === 4 && parts.join() === '0,1')).toBe(true); // prettier-ignore
    expect(faultsOf({ page: depth(1) })).toEqual([]);
  });

  test('list a soft edge that is wider than the depth, the worst first', () => {
    const soft = textGrid(Array.from({ length: 40 }, () => '......6789####9876......'));
    const page = surveyPage(soft, KEEP_ALL);
    const faults = faultsOf({ page: depth(2) }, page).filter(({ kind }) => kind === 'halo');
    expect(faults.map(({ foundPx, depthPx }) => [foundPx, depthPx])).toEqual([[4, 2], [4, 2]]); // prettier-ignore
    expect(faults.every(({ areaPx }) => areaPx === 80)).toBe(true);
    expect(faultsOf({ page: depth(4) }, page).filter(({ kind }) => kind === 'halo')).toEqual([]);
  });

  test('none is left once each has its remedy', () => {
    const faults = faultsOf({ page: depth(4) });
    const areas = faults.map(({ outline }, stamp) => ({ points: outline, rule: middle, stamp }));
    expect(faultsOf({ page: depth(4), areas })).toEqual([]);
    expect(faultsOf({ page: depth(4), areas: areas.slice(1) })).toHaveLength(1);
  });

  test('neither the middle nor as deep as the line allows leaves any', () => {
    for (const page of [middle, max(0), max(3)]) expect(faultsOf({ page })).toEqual([]);
  });

  test('the widest line is measured without solid blacks', () => {
    expect(widestLine(survey)).toBe(12);
    const rows = Array.from({ length: 60 }, (_, y) => (y < 8 || y > 51 ? '.'.repeat(90) : `....###....${'#'.repeat(40)}`.padEnd(90, '.'))); // prettier-ignore
    expect(widestLine(surveyPage(textGrid(rows), KEEP_ALL))).toBe(3);
  });
});

describe('underlap', () => {
  test('spreads each layer under those in front of it, and changes nothing of the picture', () => {
    const spread = [0, 0, 0, 0];
    for (const seed of [3, 8, 15]) {
      const survey = surveyPage(randomArt(seed, 100, 80), NO_GAPS_PREP);
      const parts = Array.from({ length: survey.regions.count }, (_, r) => (r % 6 === 5 ? null : String(r % 4)));
      const raster = render(survey, { page: depth(1), parts });
      const { width, height, data } = raster;
      const layerOf = [0, 1, 2, 3];
      const merged = new Uint16Array(data.length);
      for (const layer of [3, 2, 1, 0]) {
        if (raster.areaPx[layer] === 0) continue;
        const mask = underlapLayer(raster, layerOf, [layer], 3);
        for (let y = 0; y < height; y++) {
          for (let x = 0; x < width; x++) {
            const inside = x >= mask.x && y >= mask.y && x < mask.x + mask.width && y < mask.y + mask.height;
            const value = inside ? mask.data[(y - mask.y) * mask.width + x - mask.x]! : 0;
            const at = y * width + x;
            const isFront = data[at]! > 0 && data[at]! < layer + 1;
            const near = isFront && nearOwn(data, width, height, x, y, layer + 1, 3);
            if (value !== (data[at] === layer + 1 || near ? layer + 1 : 0)) throw new Error(`seed ${seed}: ${x}, ${y}`);
            if (near) spread[layer]!++;
            if (value !== 0) merged[at] = value;
          }
        }
      }
      expect(Buffer.compare(Buffer.from(merged.buffer), Buffer.from(data.buffer))).toBe(0);
    }
    expect(spread.map((px) => px > 0)).toEqual([false, true, true, true]);
  });

  function nearOwn(
    data: Uint16Array,
    width: number,
    height: number,
    x: number,
    y: number,
    own: number,
    px: number,
  ): boolean {
    for (let dy = -px; dy <= px; dy++) {
      for (let dx = -px; dx <= px; dx++) {
        const [nx, ny] = [x + dx, y + dy];
        if (dx * dx + dy * dy > px * px || nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
        if (data[ny * width + nx] === own) return true;
      }
    }
    return false;
  }
});

test('refuses more parts than a raster can number', () => {
  const survey = surveyPage(textGrid(['..#..']), KEEP_ALL);
  expect(() => renderParts(survey, Int32Array.of(0, 1), 70_000, decide(survey, {}))).toThrow(RangeError);
});
