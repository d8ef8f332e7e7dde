import { contains, findPanels, inkFromGrey, measureSkew, type Panel } from '@jumble/core';
import { scanSheet } from '@jumble/scanner';
import type { Row } from '../printTable.ts';
import { generateLayout, LAYOUT_KINDS } from './generateLayout.ts';

/** Pages of each kind; seeds from here on. */
const PAGES_A_KIND = 10;
const FIRST_SEED = 701;
/** Found panels count where they overlap one that was drawn by this much. */
const LEAST_OVERLAP = 0.9;

/** Panels found on generated pages, and the angle of scanned ones. */
export async function measureLayout(verbose = false): Promise<Row[]> {
  const rows: Row[] = [];
  let [right, found, drawn, inOrder, pages] = [0, 0, 0, 0, 0];
  const off: number[] = [];
  for (const kind of LAYOUT_KINDS) {
    let [kindRight, kindFound, kindDrawn] = [0, 0, 0];
    for (let seed = FIRST_SEED; seed < FIRST_SEED + PAGES_A_KIND; seed++) {
      const { ink: sheet, panels } = await generateLayout(seed, kind);
      const ink = inkFromGrey(sheet, { blackPoint: 0, whitePoint: 255 });
      const got = findPanels(ink, sheet.width, sheet.height);
      const matches = panels.map((panel) => got.findIndex((one) => overlap(one.points, panel, sheet) >= LEAST_OVERLAP));
      const hits = matches.filter((k) => k >= 0);
      kindRight += hits.length;
      kindFound += got.length;
      kindDrawn += panels.length;
      pages++;
      if (hits.every((k, n) => n === 0 || k > hits[n - 1]!)) inOrder++;
      if (verbose && (hits.length < panels.length || got.length > panels.length))
        process.stdout.write(`${kind} ${seed}: ${hits.length} of ${panels.length}, ${got.length} found\n`);
      const skewDegrees = (((seed * 37) % 60) - 30) / 10;
      const scan = scanSheet(sheet, { skewDegrees, seed });
      const skew = measureSkew(scan, 128);
      const error = skew === null ? 99 : Math.abs((Math.atan(skew.slopePpm / 1e6) * 180) / Math.PI - skewDegrees);
      if (verbose && error > 0.05) process.stdout.write(`${kind} ${seed}: ${skewDegrees} off by ${error}\n`);
      off.push(error);
    }
    right += kindRight;
    found += kindFound;
    drawn += kindDrawn;
    rows.push({ what: `panels, ${kind}`, value: (2 * kindRight) / (kindFound + kindDrawn), unit: 'F1' });
  }
  rows.push({
    what: `panels, all ${pages} layouts`,
    value: (2 * right) / (found + drawn),
    unit: 'F1',
    target: { least: 0.95 },
    note: `overlap of at least ${LEAST_OVERLAP}`,
  });
  rows.push({ what: 'panels in reading order', value: inOrder / pages, unit: 'of the pages' });
  off.sort((a, b) => a - b);
  rows.push({
    what: 'scanned pages turned by up to 3 degrees: error of the angle, median',
    value: off[off.length >> 1]!,
    unit: '°',
  });
  rows.push({ what: 'the same, worst', value: off.at(-1)!, unit: '°', target: { most: 0.05 } });
  return rows;
}

function overlap(a: Panel['points'], b: Panel['points'], page: { width: number; height: number }): number {
  let [both, either] = [0, 0];
  const step = 8;
  for (let y = step / 2; y < page.height; y += step) {
    for (let x = step / 2; x < page.width; x += step) {
      const [inA, inB] = [contains(a, x, y), contains(b, x, y)];
      if (inA && inB) both++;
      if (inA || inB) either++;
    }
  }
  return either === 0 ? 0 : both / either;
}
