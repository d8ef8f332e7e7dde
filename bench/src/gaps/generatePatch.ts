import type { GreyRaster } from '@jumble/core';
import { Drawing, ellipse, makeRandom, type Point } from '@jumble/demo';
import { renderDrawing } from './generateDrawing.ts';

const SIDE = 560;

type Patch = (d: Drawing, random: () => number, seed: number, thick: number) => void;

/** Strokes across a box that is turned. */
function strokes(d: Drawing, random: () => number, seed: number, thick: number, turn: number, reach = 80): void {
  const [ux, uy] = [Math.cos(turn), Math.sin(turn)];
  const at = (along: number, across: number): Point => [
    SIDE / 2 + ux * along - uy * across,
    SIDE / 2 + uy * along + ux * across,
  ];
  const count = Math.round(((12 + Math.floor(random() * 8)) * reach) / 80);
  d.hatch(
    [at(-reach, -reach), at(reach, -reach)],
    [at(-reach, reach), at(reach, reach)],
    count,
    thick * (2.6 + random()),
    seed,
  );
}

const PATCHES: readonly (readonly [string, Patch])[] = [
  ['hatching', (d, random, seed, thick) => strokes(d, random, seed, thick, random() * 3.14)],
  [
    'cross-hatching',
    (d, random, seed, thick) => {
      const turn = random() * 3.14;
      strokes(d, random, seed, thick, turn);
      strokes(d, random, seed + 50, thick, turn + 1.2 + 0.7 * random());
    },
  ],
  ['hatching across a shape', (d, random, seed, thick) => strokes(d, random, seed, thick, random() * 3.14, 170)],
  ['stipple', (d, random, seed) => d.stipple([SIDE / 2, SIDE / 2], 90, 80, 60 + Math.floor(random() * 60), seed)],
  [
    'grass',
    (d, random, seed, thick) => {
      for (let k = 0; k < 40; k++) {
        const [x, y] = [200 + random() * 160, 240 + random() * 110];
        const lean = (random() - 0.5) * 16;
        d.stroke(
          [
            [x, y],
            [x + lean * 0.4, y - 14 - random() * 10],
            [x + lean, y - 28 - random() * 18],
          ],
          { width: thick * 3, taper: [0, 0.8], weight: 0, seed: seed + k },
        );
      }
    },
  ],
];

export const PATCH_KINDS = PATCHES.map(([kind]) => kind);

/**
 * A shape with a patch of texture in it, and the shape alone. The same seed gives the same patch.
 *
 * @param thick its strokes are so many times as thick as by default, about .6 of the outline.
 */
export async function generatePatch(
  kind: string,
  seed: number,
  thick = 1,
): Promise<{ ink: GreyRaster; shut: GreyRaster }> {
  const textured = shape(seed);
  PATCHES.find(([name]) => name === kind)![1](textured, makeRandom(seed * 71 + kind.length), seed, thick);
  return { ink: await renderDrawing(textured), shut: await renderDrawing(shape(seed)) };
}

/** A shape that lines side by side divide, from outline to outline, none thinning out: planks, a fence, stripes. */
export async function generateBars(seed: number): Promise<{ ink: GreyRaster; shut: GreyRaster }> {
  const random = makeRandom(seed * 71);
  const d = shape(seed);
  const turn = random() * 3.14;
  const [ux, uy] = [Math.cos(turn), Math.sin(turn)];
  const spacing = 12 + 46 * random() * random();
  const width = 5 * (0.45 + 0.7 * random());
  for (let along = -150 + random() * spacing; along < 150; along += spacing) {
    const reach = acrossEllipse(along, ux, uy);
    if (reach === null) continue;
    const at = (across: number): Point => [SIDE / 2 + ux * along - uy * across, SIDE / 2 + uy * along + ux * across];
    d.stroke([at(reach[0]), at((reach[0] + reach[1]) / 2), at(reach[1])], { width, taper: [0, 0], weight: 0.2, seed });
  }
  const ink = await renderDrawing(d);
  return { ink, shut: ink };
}

/** Half axes of the shape. */
const [RX, RY] = [170, 160];

function shape(seed: number): Drawing {
  const d = new Drawing(SIDE, SIDE, () => 0);
  d.shape('part', ellipse(SIDE / 2, SIDE / 2, RX, RY), { width: 5, seed });
  return d;
}

/** Where a line across enters the shape and leaves it; null for one outside. */
function acrossEllipse(along: number, ux: number, uy: number): [number, number] | null {
  const [a, b] = [uy / RX, ux / RY];
  const [c, d] = [(ux * along) / RX, (uy * along) / RY];
  // (c - a t)^2 + (d + b t)^2 = 1
  const [p, q, r] = [a * a + b * b, b * d - a * c, c * c + d * d - 1];
  const under = q * q - p * r;
  return under <= 0 ? null : [(-q - Math.sqrt(under)) / p, (-q + Math.sqrt(under)) / p];
}
