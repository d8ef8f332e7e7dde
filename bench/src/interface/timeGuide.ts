import { editColour, editPart, formatColour, type RecordEdit } from '@jumble/core';
import type { Page } from '@playwright/test';

/** Loud colours, one a part: no two of them are alike. */
const COLOURS = Array.from({ length: 12 }, (_, k) =>
  [60 + 15 * k, 240 - 12 * ((k * 5) % 12), 40 + 16 * ((k * 7) % 12)].reduce((word, value) => word * 256 + value, 0),
);
/** A part for each of them; the group and the scene are filled in on the page. */
const EDITS: readonly { readonly key: string; readonly value: object | string }[] = COLOURS.flatMap(
  (rgb, k): RecordEdit[] => [
    editPart({ id: `key-${k}`, groupId: '', name: `Of the key ${k + 1}`, order: 100 + k, slot: null, empty: false }),
    editColour('SCENE', `key-${k}`, formatColour(rgb)),
  ],
) as { key: string; value: object | string }[];
/** The key is so many times smaller than the page, and so far blurred, in px of the page. */
const [SMALLER, BLUR] = [10, 14];

/**
 * Lays a key of the very page, a tenth of its size and blurred, with a cast sheet that has its colours.
 *
 * @returns ms until the picture has its proposals, and until every region is weighed and they can be taken.
 */
export function timeGuide(page: Page): Promise<{ shownMs: number; wholeMs: number }> {
  return page.evaluate(
    async ({ colours, edits, smaller, blur }) => {
      const bench = window.jumbleBench as unknown as {
        state: {
          survey: { width: number; height: number; field: Int32Array; regions: { ofCell: Int32Array } };
          cast: { groups: { id: string }[]; scenes: { id: string }[] };
          flats: { guide: { reading: unknown } | null };
        };
        store: { subscribe: (listener: () => void) => () => void };
        changeCast: (label: string, edits: object[]) => void;
        settled: () => Promise<void>;
        engine: { readonly seq: number; whenPresented: (seq: number) => Promise<number> };
      };
      const { survey, cast } = bench.state;
      const [group, scene] = [cast.groups[0]!.id, cast.scenes[0]!.id];
      bench.changeCast(
        'Add the parts of the key',
        edits.map(({ key, value }) =>
          typeof value === 'string'
            ? { key: key.replace('SCENE', scene), value }
            : { key, value: { ...value, groupId: group } },
        ),
      );
      await bench.settled();
      window.jumbleCommands.setWay('key');
      const { width, height, field, regions } = survey;
      const size = { width: Math.round(width / smaller), height: Math.round(height / smaller) };
      const rgb = new Uint8Array(size.width * size.height * 3);
      for (let k = 0; k < size.width * size.height; k++) {
        const sum = [0, 0, 0];
        let points = 0;
        for (let dy = 0; dy < blur; dy += 2) {
          for (let dx = 0; dx < blur; dx += 2) {
            const x = Math.min(width - 1, (k % size.width) * smaller + dx);
            const y = Math.min(height - 1, Math.floor(k / size.width) * smaller + dy);
            const at = field[y * width + x]!;
            // Colour runs under the ink.
            const region = regions.ofCell[at < 0 ? field[~at]! : at]!;
            const word = colours[(region * 7) % colours.length]!;
            [word >> 16, (word >> 8) & 255, word & 255].forEach((value, n) => (sum[n] = sum[n]! + value));
            points++;
          }
        }
        rgb.set(
          sum.map((value) => Math.round(value / points)),
          k * 3,
        );
      }
      const started = performance.now();
      let shown: Promise<number> | undefined;
      const leave = bench.store.subscribe(() => {
        if ((bench.state.flats.guide?.reading ?? null) === null || shown !== undefined) return;
        // What is told here is drawn in the same turn: the picture has it with the last message of that.
        shown = Promise.resolve().then(() => bench.engine.whenPresented(bench.engine.seq));
      });
      await window.jumbleCommands.layGuide('key', { ...size, rgb });
      const wholeMs = performance.now() - started;
      leave();
      return { shownMs: (await shown!) - performance.timeOrigin - started, wholeMs };
    },
    {
      colours: COLOURS,
      edits: EDITS,
      smaller: SMALLER,
      blur: BLUR,
    },
  );
}
