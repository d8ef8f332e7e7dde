import { describe, expect, test } from '@jest/globals';
import { inkFromGrey } from '../ink/inkFromGrey.ts';
import { labelInk } from '../ink/labelInk.ts';
import { NO_GAPS_PREP } from '../model/PageDocument.ts';
import { surveyPage } from '../survey/surveyPage.ts';
import { strokes } from '../tests/textGrid.ts';
import { findBalloons } from './findBalloons.ts';
import { findLettering } from '../ink/findLettering.ts';
import { findPanels } from './findPanels.ts';
import { type Panel, areaOf, boxOf, contains, panelOfPoints } from './Panel.ts';
import { scenesOfPage } from './scenesOfPage.ts';

type Line = [number, number, number, number];
type Box = readonly [number, number, number, number];
const frame = ([x0, y0, x1, y1]: Box): Line[] => [
  [x0, y0, x1, y0],
  [x1, y0, x1, y1],
  [x1, y1, x0, y1],
  [x0, y1, x0, y0],
];

/** Panels of a page of frames and other lines. */
function panelsOf(lines: Line[], width = 600, height = 800): Panel[] {
  const page = strokes(width, height, 5, lines);
  return findPanels(inkFromGrey(page, { blackPoint: 0, whitePoint: 255 }), width, height);
}

const near = (panel: Panel, box: Box): void => {
  boxOf(panel.points).forEach((side, k) => expect(Math.abs(side - box[k]!)).toBeLessThanOrEqual(6));
};

describe('panels', () => {
  test('in rows are found in reading order', () => {
    const boxes: Box[] = [
      [40, 40, 290, 300],
      [310, 40, 560, 300],
      [40, 320, 560, 760],
    ];
    const found = panelsOf(boxes.flatMap(frame));
    expect(found.length).toBe(3);
    found.forEach((panel, k) => near(panel, boxes[k]!));
    expect(found.every((panel) => panel.framed)).toBe(true);
  });

  test('side by side over the whole height are read from the left', () => {
    const boxes: Box[] = [
      [40, 40, 290, 760],
      [310, 40, 560, 400],
      [310, 420, 560, 760],
    ];
    const found = panelsOf(boxes.flatMap(frame));
    expect(found.length).toBe(3);
    found.forEach((panel, k) => near(panel, boxes[k]!));
  });

  test('with a slanted gutter keep their slant', () => {
    const found = panelsOf([
      [40, 40, 560, 40],
      [40, 40, 40, 360],
      [560, 40, 560, 440],
      [40, 360, 560, 440],
      [40, 385, 560, 465],
      [40, 385, 40, 760],
      [560, 465, 560, 760],
      [40, 760, 560, 760],
    ]);
    expect(found.length).toBe(2);
    expect(contains(found[0]!.points, 540, 420)).toBe(true);
    expect(contains(found[0]!.points, 60, 400)).toBe(false);
    expect(contains(found[1]!.points, 60, 420)).toBe(true);
  });

  test('are not cut along lines of the drawing', () => {
    // Rails from frame to frame are no gutter: it is shut at both ends.
    const found = panelsOf([...frame([40, 40, 560, 760]), [40, 400, 560, 400], [40, 430, 560, 430]]);
    expect(found.length).toBe(1);
  });

  test('that run off the page end at its edge', () => {
    const found = panelsOf([
      [0, 380, 600, 380],
      [0, 410, 600, 410],
      [100, 100, 300, 200],
      [200, 600, 400, 700],
    ]);
    expect(found.length).toBe(2);
    near(found[0]!, [0, 0, 600, 380].map((v, k) => (k === 1 ? boxOf(found[0]!.points)[1] : v)) as unknown as Box);
  });

  test('of a drawing without frames are the page, whatever in it is shut off from the margins', () => {
    const round = (cx: number, cy: number, r: number): Line[] =>
      Array.from({ length: 24 }, (_, k): Line => {
        const at = (turn: number): [number, number] => {
          // A wavy outline, as of a fern or a wing.
          const reach = r * (1 + 0.12 * Math.sin(turn * 7));
          return [cx + reach * Math.cos(turn), cy + reach * Math.sin(turn)];
        };
        return [...at((k * Math.PI) / 12), ...at(((k + 1) * Math.PI) / 12)];
      });
    const wings = [...round(180, 300, 110), ...round(430, 300, 110), ...round(300, 600, 120)];
    expect(panelsOf(wings)).toEqual([{ framed: false, points: [[0, 0], [600, 0], [600, 800], [0, 800]] }]); // prettier-ignore
    // In a frame they are one panel, the frame's.
    const [framed, ...others] = panelsOf([...wings, ...frame([20, 20, 580, 780])]);
    expect(others).toEqual([]);
    near(framed!, [20, 20, 580, 780]);
  });

  test('of a page without ink are none', () => {
    expect(findPanels(new Uint8Array(400), 20, 20)).toEqual([]);
  });

  test('know which points lie in them; an inset comes before what it stands in', () => {
    const panels: Panel[] = [
      {
        points: [
          [0, 0],
          [100, 0],
          [100, 100],
          [0, 100],
        ],
        framed: true,
      },
      {
        points: [
          [10, 10],
          [30, 10],
          [30, 30],
          [10, 30],
        ],
        framed: true,
      },
    ];
    expect(areaOf(panels[1]!.points)).toBe(400);
    expect([...panelOfPoints(panels, [20 * 200 + 20, 50 * 200 + 50, 50 * 200 + 150], 200)]).toEqual([1, 0, -1]);
  });

  test('give their regions a scene of their own', () => {
    const page = strokes(300, 300, 6, frame([40, 40, 260, 260]));
    const survey = surveyPage(page, NO_GAPS_PREP);
    const points = [
      [40, 40],
      [260, 40],
      [260, 260],
      [40, 260],
    ] as const;
    const { scenes, ofRegion } = scenesOfPage(survey, { scene: 'day', panels: [{ points, scene: 'night' }] });
    expect(scenes).toEqual(['day', 'night']);
    expect([...ofRegion]).toEqual([0, 1]);
    expect(scenesOfPage(survey, { scene: 'day', panels: [{ points, scene: null }] }).scenes).toEqual(['day']);
  });
});

/** Letters made of strokes: E, L, H, T in turn. */
function letters(x: number, y: number, count: number, size: number): Line[] {
  return Array.from({ length: count }, (_, k): Line[] => {
    const left = x + k * size * 1.1;
    const right = left + size * 0.6;
    const shapes: Line[][] = [
      [
        [left, y, left, y + size],
        [left, y, right, y],
        [left, y + size / 2, right, y + size / 2],
        [left, y + size, right, y + size],
      ],
      [
        [left, y, left, y + size],
        [left, y + size, right, y + size],
      ],
      [
        [left, y, left, y + size],
        [right, y, right, y + size],
        [left, y + size / 2, right, y + size / 2],
      ],
      [
        [left, y, right, y],
        [(left + right) / 2, y, (left + right) / 2, y + size],
      ],
    ];
    return shapes[k % 4]!;
  }).flat();
}

describe('lettering', () => {
  const read = (lines: Line[]): ReturnType<typeof findLettering> => {
    const page = strokes(600, 400, 4, lines);
    const pieces = labelInk(inkFromGrey(page, { blackPoint: 0, whitePoint: 255 }), 600, 400);
    return findLettering(pieces, 4, 600, 400);
  };

  test('in lines makes a block', () => {
    const blocks = read([...letters(100, 100, 6, 18), ...letters(110, 130, 5, 18)]);
    expect(blocks.length).toBe(1);
    expect(blocks[0]!.pieces.length).toBe(11);
    expect(blocks[0]!.heightPx).toBeGreaterThanOrEqual(18);
  });

  test('may touch: what two letters enclose between them is no hole of a window', () => {
    /** A B of two bowls whose right side runs into an E, open to the right. */
    const be = (x: number, y: number): Line[] => [
      ...[0, 28].map((dy): Line => [x, y + dy, x + 40, y + dy]),
      [x, y + 14, x + 18, y + 14],
      [x + 24, y + 14, x + 40, y + 14],
      [x, y, x, y + 28],
      [x + 18, y, x + 18, y + 28],
      [x + 24, y, x + 24, y + 28],
    ];
    const l: Line[] = [
      [150, 130, 150, 158],
      [150, 158, 162, 158],
    ];
    const above = letters(90, 92, 6, 26);
    const blocks = read([...above, ...be(96, 130), ...l, ...be(174, 130)]);
    expect(blocks.map((block) => block.pieces.length)).toEqual([9]);
  });

  test('is not hatching, nor a row of equal beads', () => {
    const hatching = Array.from({ length: 12 }, (_, k): Line => [100 + k * 9, 100, 104 + k * 9, 118]);
    expect(read(hatching)).toEqual([]);
    const beads = Array.from({ length: 8 }, (_, k): Line => [100 + k * 30, 100, 116 + k * 30, 100]);
    expect(read(beads)).toEqual([]);
  });

  test('is not a row of windows with reflections, nor of frames', () => {
    const frame = (x: number, y: number, w: number, h: number): Line[] => [
      [x, y, x + w, y],
      [x + w, y, x + w, y + h],
      [x + w, y + h, x, y + h],
      [x, y + h, x, y],
    ];
    const frames = [...frame(100, 100, 14, 20), ...frame(124, 100, 22, 20), ...frame(156, 100, 12, 20)];
    expect(read([...frames, ...frame(178, 100, 18, 20)])).toEqual([]);
    const reflections = [100, 114, 134, 148, 168, 182].map((x, k): Line => [x + 8 + (k % 3), 94, x, 124]);
    expect(read([...reflections, ...frame(204, 96, 18, 26), ...frame(234, 96, 12, 26)])).toEqual([]);
  });

  test('in a tight region makes a balloon, in a wide one none', () => {
    const text = letters(100, 100, 6, 18);
    const balloonsOf = (lines: Line[]): number => {
      const page = strokes(600, 400, 4, [...text, ...lines]);
      const survey = surveyPage(page, NO_GAPS_PREP);
      const pieces = labelInk(survey.inkAlpha, 600, 400);
      return findBalloons(survey, findLettering(pieces, 4, 600, 400), pieces).length;
    };
    expect(balloonsOf(frame([80, 80, 250, 140]))).toBe(1);
    expect(balloonsOf(frame([20, 20, 580, 380]))).toBe(0);
    expect(balloonsOf([])).toBe(0);
  });
});
