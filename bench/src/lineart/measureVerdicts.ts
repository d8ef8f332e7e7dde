import { DEFAULT_PREP, describeLineArt, openSurvey, type GreyRaster, type Verdict } from '@jumble/core';
import { curve, Drawing, ellipse, makeRandom, type Point } from '@jumble/demo';
import sharp from 'sharp';
import type { Row } from '../printTable.ts';

const SIDE = 620;
const CASES_A_KIND = 30;
const FIRST_SEED = 501;
const KINDS: readonly Verdict[] = ['holds', 'closing', 'sketchy'];

/** Share of drawings that get the verdict they were drawn for. */
export async function measureVerdicts(firstSeed = FIRST_SEED, verbose = false): Promise<Row[]> {
  let right = 0;
  const rows: Row[] = [];
  for (const kind of KINDS) {
    let kindRight = 0;
    for (let seed = firstSeed; seed < firstSeed + CASES_A_KIND; seed++) {
      const page = await drawCase(seed, kind);
      const whole = [
        {
          points: [
            [0, 0],
            [SIDE, 0],
            [SIDE, SIDE],
            [0, SIDE],
          ] as const,
        },
      ];
      const [panel] = describeLineArt(openSurvey(page, DEFAULT_PREP), whole).panels;
      if (panel!.verdict === kind) kindRight++;
      else if (verbose) process.stdout.write(`${kind} ${seed}: ${panel!.verdict} ${JSON.stringify(panel!.counts)}\n`);
    }
    right += kindRight;
    rows.push({ what: `verdict on drawings that ${WORDS[kind]}`, value: kindRight / CASES_A_KIND, unit: 'right' });
  }
  rows.push({
    what: `verdicts on all ${KINDS.length * CASES_A_KIND} drawings`,
    value: right / (KINDS.length * CASES_A_KIND),
    unit: 'right',
    target: { least: 0.9 },
  });
  return rows;
}

const WORDS = { holds: 'hold a fill', closing: 'need closing', sketchy: 'are sketches' } as const;

/** Shapes drawn shut; with some of their outlines cut; or searched for with many short strokes. */
async function drawCase(seed: number, kind: Verdict): Promise<GreyRaster> {
  const random = makeRandom(seed * 353 + KINDS.indexOf(kind) * 17 + 5);
  const d = new Drawing(SIDE, SIDE, () => 0);
  const pen = 3 + random() * 4;
  const shapes = 5 + Math.floor(random() * 5);
  for (let k = 0; k < shapes; k++) {
    const r = 50 + random() * 90;
    const ring = blob(random, 110 + random() * 400, 110 + random() * 400, r);
    if (kind === 'sketchy') sketch(d, random, ring, pen * 0.7, seed + k);
    else {
      const cut = kind === 'closing' && (k < 2 || random() < 0.4);
      d.shape('part', ring, {
        width: pen,
        seed: seed + k,
        ...(cut ? { gap: { at: random(), widthPx: pen * (1 + 2.5 * random()) } } : {}),
      });
    }
    // Folds inside, as every drawing has them.
    if (kind !== 'sketchy' && random() < 0.3) {
      const [x, y] = ring[0]!;
      d.stroke(
        curve([
          [x, y],
          [x + 18, y + 22],
          [x + 20, y + 46],
        ]),
        { width: pen * 0.6, taper: [0, 0.6], seed },
      );
    }
  }
  const { data, info } = await sharp(Buffer.from(d.inkSvg(1)))
    .removeAlpha()
    .toColourspace('b-w')
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data) };
}

function blob(random: () => number, cx: number, cy: number, r: number): Point[] {
  if (random() < 0.4) return ellipse(cx, cy, r, r * (0.6 + 0.4 * random()), random() * 3);
  const corners = 6 + Math.floor(random() * 4);
  const ring = Array.from({ length: corners }, (_, k): Point => {
    const a = (k / corners) * 6.283;
    const reach = r * (0.7 + 0.5 * random());
    return [cx + Math.cos(a) * reach, cy + Math.sin(a) * reach];
  });
  return curve(ring, true, 5);
}

/** An outline looked for with short strokes that overshoot, miss each other and run double. */
function sketch(d: Drawing, random: () => number, ring: readonly Point[], pen: number, seed: number): void {
  const n = ring.length;
  for (let pass = 0; pass < 2; pass++) {
    for (let at = 0; at < n;) {
      const length = Math.max(4, Math.round(n * (0.05 + 0.12 * random())));
      const [ox, oy] = [(random() - 0.5) * pen * 5, (random() - 0.5) * pen * 5];
      const points = Array.from({ length }, (_, k): Point => {
        const [x, y] = ring[(at + k) % n]!;
        return [x + ox, y + oy];
      });
      d.stroke(points, { width: pen, taper: [0.3, 0.4], seed: seed + at + pass });
      at += Math.round(length * (0.8 + 0.5 * random()));
    }
  }
}
