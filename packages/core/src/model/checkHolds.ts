import * as v from 'valibot';
import { fields, finiteFrom, finiteNumber, flag, id, integer, list, oneOf, point, type Check } from './checkRecord.ts';
import { LEAST_PEN_PX, MOST_PEN_PX } from './CorrectionTile.ts';
import { MAX_AROUND_PX, MOST_LINE_POINTS, type HoldColour, type LineSelect } from './Holds.ts';

const MOST_LINE_PX = 2000;

/** An object with one field of those given. */
function oneField<T>(schemas: Readonly<Record<string, Check<unknown>>>): Check<T> {
  const names = Object.keys(schemas);
  return v.pipe(
    v.custom<Record<string, unknown>>(
      (value) =>
        typeof value === 'object' && value !== null && !Array.isArray(value) && Object.keys(value).length === 1,
      `must be an object with one of ${names.join(', ')}`,
    ),
    v.rawTransform(({ dataset, addIssue, NEVER }) => {
      const [name] = Object.keys(dataset.value) as [string];
      const schema = schemas[name];
      if (schema === undefined) {
        addIssue({ message: `must have one of ${names.join(', ')}`, input: dataset.value });
        return NEVER;
      }
      const result = v.safeParse(schema, dataset.value[name], { abortEarly: true });
      if (!result.success) {
        const path = v.getDotPath(result.issues[0]);
        addIssue({
          message: `.${name}${path === null ? '' : `.${path}`} ${result.issues[0].message}`,
          input: result.issues[0].input,
        });
        return NEVER;
      }
      return dataset.value as T;
    }),
  ) as unknown as Check<T>;
}

const colour = v.pipe(v.string('must be a colour like #a0b1c2'), v.regex(/^#[0-9a-f]{6}$/i, 'must look like #a0b1c2'));
const share = finiteFrom(0, 1);

/** Which lines a rule takes. @param part of a part. */
function selectOf(part: Check<unknown>): Check<LineSelect> {
  return oneField<LineSelect>({
    all: oneOf(true),
    inside: part,
    between: v.strictTuple([part, part], 'must be a pair of parts'),
    contour: part,
    contourOf: id('a group'),
    but: oneOf('contours'),
    thinnerThanPx: finiteFrom(0, MOST_LINE_PX),
    widerThanPx: finiteFrom(0, MOST_LINE_PX),
    at: list(point, 1, MOST_LINE_POINTS, 'points'),
    within: list(point, 3, MOST_LINE_POINTS, 'corners'),
  });
}

const stop = v.strictTuple(
  [colour, v.strictTuple([finiteNumber, finiteNumber], 'must be a point')],
  'must be a colour and a point',
);

/** What colour a line takes. */
export const holdColour: Check<HoldColour> = v.union(
  [
    colour,
    oneField<HoldColour>({
      darken: share,
      around: fields({ radiusPx: finiteFrom(1, MAX_AROUND_PX), darken: share }),
      gradient: v.strictTuple([stop, stop], 'must be two colours with their points'),
      along: v.strictTuple([colour, colour], 'must be two colours'),
      hsl: v.strictTuple([finiteNumber, share, share], 'must be hue in degrees, saturation and lightness from 0 to 1'),
    }),
  ],
  ({ input, issues }) =>
    typeof input === 'string'
      ? 'must look like #a0b1c2'
      : (issues?.at(-1)?.message ?? 'must be a colour like #a0b1c2, or an object that says how it is made'),
) as unknown as Check<HoldColour>;

/** A rule as it stands in a page's document. */
export const holdRule: Check<unknown> = fields({
  lines: selectOf(id('a part')),
  colour: holdColour,
  inScene: v.optional(
    v.record(v.pipe(v.string('must be the id of a scene'), v.regex(/^[A-Za-z0-9_-]{1,64}$/)), holdColour),
  ),
  order: finiteNumber,
  off: v.optional(flag),
});

/** A stroke as it stands in a page's document. */
export const lineStroke: Check<unknown> = fields({
  colour: v.nullable(colour),
  sizePx: integer(LEAST_PEN_PX, MOST_PEN_PX),
  points: list(point, 1, MOST_LINE_POINTS, 'points'),
  stamp: integer(0, Number.MAX_SAFE_INTEGER),
});

/** A rule as it stands in a file: parts go by whatever ids the file of fills has. */
export const holdRuleOfFile: Check<{ lines: LineSelect; colour: HoldColour }> = fields({
  lines: selectOf(v.string('must be the id of a part')),
  colour: holdColour,
}) as unknown as Check<{ lines: LineSelect; colour: HoldColour }>;

export const holdLimits: Check<unknown> = fields({ difference: finiteFrom(0, 100), darkContours: flag });
