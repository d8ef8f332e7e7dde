import * as v from 'valibot';
import { nameUpTo } from '../page/plainText.ts';
import { fields, finiteFrom, finiteNumber, flag, id, integer, oneOf, type Check } from '../model/checkRecord.ts';
import { trapRule } from '../model/checkTrap.ts';
import {
  DELIVERY_AREAS,
  DELIVERY_FORMATS,
  FILE_WORDS,
  LAYER_SPLITS,
  LAYER_WORDS,
  TELLING_FILE_WORDS,
  TELLING_LAYER_WORDS,
} from '../model/Delivery.ts';
import { patternProblem } from '../model/fillPattern.ts';

/** Resolutions that files are made at, in dpi. */
export const [LEAST_DELIVERY_DPI, MOST_DELIVERY_DPI] = [36, 2400] as const;
const resolution = v.nullable(finiteFrom(LEAST_DELIVERY_DPI, MOST_DELIVERY_DPI));
/** Most characters of a pattern of names. */
export const MOST_PATTERN = 120;

/** A pattern whose words are all known, and at least one of which tells pages or layers apart. */
function pattern(words: readonly string[], telling: readonly string[]): Check<string> {
  return v.pipe(
    nameUpTo(MOST_PATTERN),
    v.rawCheck(({ dataset, addIssue }) => {
      const problem = dataset.typed ? patternProblem(dataset.value, words, telling) : null;
      if (problem !== null) addIssue({ message: problem });
    }),
  );
}

/** A delivery rule without its id. */
export const deliveryRule: Check<unknown> = v.pipe(
  fields({
    name: nameUpTo(80),
    order: finiteNumber,
    format: oneOf(...DELIVERY_FORMATS),
    layers: oneOf(...LAYER_SPLITS),
    layerOrder: oneOf('stack', 'name'),
    layerName: pattern(LAYER_WORDS, TELLING_LAYER_WORDS),
    fileName: pattern(FILE_WORDS, TELLING_FILE_WORDS),
    colours: oneOf('rgb', 'cmyk'),
    profile: v.nullable(id('a profile')),
    dpi: resolution,
    trap: v.nullable(trapRule),
    underlapPx: v.nullable(integer(0, 64)),
    holds: oneOf('layer', 'coloured'),
    smooth: flag,
    inkBits: oneOf(8, 1),
    inkDpi: resolution,
    shading: flag,
    closures: flag,
    scene: v.nullable(id('a scene')),
    area: oneOf(...DELIVERY_AREAS),
    notes: flag,
  }),
);
