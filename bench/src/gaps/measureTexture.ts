import { DEFAULT_PREP, surveyPage } from '@jumble/core';
import { Drawing, ellipse, makeRandom, type Point } from '@jumble/demo';
import sharp from 'sharp';
import type { Row } from '../printTable.ts';

const SIDE = 560;
const PATCHES_A_KIND = 12;
const FIRST_SEED = 901;
/** Outside and inside of the shape that the patch is drawn in. */
const INTENDED = 2;

type Patch = (d: Drawing, random: () => number, seed: number) => void;

/** Strokes across a box that is turned. */
function strokes(d: Drawing, random: () => number, seed: number, turn: number, reach = 80): void {
  const [ux, uy] = [Math.cos(turn), Math.sin(turn)];
  const at = (along: number, across: number): Point => [
    SIDE / 2 + ux * along - uy * across,
    SIDE / 2 + uy * along + ux * across,
  ];
  const count = Math.round(((12 + Math.floor(random() * 8)) * reach) / 80);
  d.hatch([at(-reach, -reach), at(reach, -reach)], [at(-reach, reach), at(reach, reach)], count, 2.6 + random(), seed);
}

const KINDS: readonly (readonly [string, Patch])[] = [
  ['hatching', (d, random, seed) => strokes(d, random, seed, random() * 3.14)],
  [
    'cross-hatching',
    (d, random, seed) => {
      const turn = random() * 3.14;
      strokes(d, random, seed, turn);
      strokes(d, random, seed + 50, turn + 1.2 + 0.7 * random());
    },
  ],
  ['hatching across a shape', (d, random, seed) => strokes(d, random, seed, random() * 3.14, 170)],
  ['stipple', (d, random, seed) => d.stipple([SIDE / 2, SIDE / 2], 90, 80, 60 + Math.floor(random() * 60), seed)],
  [
    'grass',
    (d, random, seed) => {
      for (let k = 0; k < 40; k++) {
        const [x, y] = [200 + random() * 160, 240 + random() * 110];
        const lean = (random() - 0.5) * 16;
        d.stroke(
          [
            [x, y],
            [x + lean * 0.4, y - 14 - random() * 10],
            [x + lean, y - 28 - random() * 18],
          ],
          { width: 3, taper: [0, 0.8], weight: 0, seed: seed + k },
        );
      }
    },
  ],
];

/** How many regions a patch of texture adds to the shape it lies in, or takes from it. */
export async function measureTexture(): Promise<Row[]> {
  const rows: Row[] = [];
  for (const [what, draw] of KINDS) {
    let added = 0;
    for (let seed = FIRST_SEED; seed < FIRST_SEED + PATCHES_A_KIND; seed++) {
      const random = makeRandom(seed * 71 + what.length);
      const d = new Drawing(SIDE, SIDE, () => 0);
      d.shape('part', ellipse(SIDE / 2, SIDE / 2, 170, 160), { width: 5, seed });
      draw(d, random, seed);
      const { data, info } = await sharp(Buffer.from(d.inkSvg(1)))
        .removeAlpha()
        .toColourspace('b-w')
        .raw()
        .toBuffer({ resolveWithObject: true });
      const page = { width: info.width, height: info.height, data: new Uint8Array(data) };
      added += Math.abs(surveyPage(page, DEFAULT_PREP).regions.count - INTENDED);
    }
    rows.push({
      what: `a patch of ${what}: regions added or lost`,
      value: added / PATCHES_A_KIND,
      unit: '',
      target: { most: 0.5 },
    });
  }
  return rows;
}
