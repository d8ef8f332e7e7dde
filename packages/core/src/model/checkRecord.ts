import * as v from 'valibot';
import type { Json } from './records.ts';

/** Most characters of what came that an error repeats. */
const MOST_REPEATED = 60;

/**
 * Checks what came from outside against a schema.
 *
 * @param name what it is called in the error.
 * @throws TypeError for a value of the wrong kind, RangeError for one that breaks a rule; both name the field, the rule
 * and what came.
 */
export function checkRecord<Out>(
  name: string,
  schema: v.BaseSchema<unknown, Out, v.BaseIssue<unknown>>,
  value: unknown,
): Out {
  const result = v.safeParse(schema, value, { abortEarly: true });
  if (result.success) return result.output;
  const [issue] = result.issues;
  const field = [name, ...(issue.path ?? []).map(({ key }) => String(key).slice(0, MOST_REPEATED))].join('.');
  const text = `\`${field}\` ${issue.message}; received ${inShort(issue.input)}`;
  throw issue.kind === 'schema' ? new TypeError(text) : new RangeError(text);
}

export type Check<T> = v.BaseSchema<unknown, T, v.BaseIssue<unknown>>;

/** What came, so short that it can be repeated; a list may be as long as a request. */
function inShort(input: unknown): string {
  if (Array.isArray(input) && input.length > 4) return `a list of ${input.length}`;
  return JSON.stringify(input)?.slice(0, MOST_REPEATED) ?? 'nothing';
}

/** An object with these fields and no others. */
export function fields<Entries extends v.ObjectEntries>(
  entries: Entries,
): Check<v.InferOutput<v.StrictObjectSchema<Entries, undefined>>> {
  const known = Object.keys(entries).join(', ');
  return v.pipe(
    v.custom<object>((value) => typeof value === 'object' && !Array.isArray(value), 'must be an object'),
    v.strictObject(entries, ({ expected }) =>
      expected === 'never'
        ? `is not known: only ${known} are`
        : expected === 'Object'
          ? 'must be an object'
          : 'is missing',
    ),
  );
}

/** One of a few values. */
export function oneOf<T extends string | number | boolean>(...values: readonly T[]): Check<T> {
  return v.custom<T>((value) => values.includes(value as T), `must be ${inWords(values.map(String))}`);
}

export function integer(least: number, most: number): Check<number> {
  const rule = `must be an integer from ${least} to ${most}`;
  return v.pipe(
    v.number(rule),
    v.check((value) => Number.isInteger(value) && value >= least && value <= most, rule),
  );
}

export function finiteFrom(least: number, most: number): Check<number> {
  const rule = `must be a number from ${least} to ${most}`;
  return v.pipe(
    v.number(rule),
    v.check((value) => Number.isFinite(value) && value >= least && value <= most, rule),
  );
}

export const finiteNumber: Check<number> = v.pipe(v.number('must be a number'), v.finite('must be a number'));

export const flag: Check<boolean> = v.boolean('must be true or false');

/** An id as the client makes them. @param of what it is an id of. */
export function id(of: string): Check<string> {
  return v.custom<string>((value) => typeof value === 'string' && ID.test(value), `must be the id of ${of}`);
}
const ID = /^[A-Za-z0-9_-]{1,64}$/;

/** A text of so many characters. */
export function textFrom(least: number, most: number, isAllowed?: (text: string) => boolean): Check<string> {
  const count = least === 0 ? `at most ${most}` : `${least} to ${most}`;
  const rule = `must have ${count} characters${isAllowed === undefined ? '' : ', control characters not among them'}`;
  return v.pipe(
    v.string(rule),
    v.check((text) => text.length >= least && text.length <= most && isAllowed?.(text) !== false, rule),
  );
}

/** Whatever JSON can say. */
export const anyJson: Check<Json> = v.custom<Json>(
  (value) => value !== undefined,
  'must be a value, or null to take the key away',
);

/** A list of so many. @param words what it holds, in the plural. */
export function list<T>(item: Check<T>, least: number, most: number, words: string): Check<T[]> {
  const rule = `must hold ${least === 0 ? 'at most' : `${least} to`} ${most} ${words}`;
  return v.pipe(
    v.array(v.any(), rule),
    v.check((value) => value.length >= least && value.length <= most, rule),
    v.array(item),
  );
}

/** Most px a page has in a row or column, less one. */
const MOST_PX = 999_999;
const isPlace = (one: unknown): boolean => Number.isInteger(one) && (one as number) >= 0 && (one as number) <= MOST_PX;

/** A pixel of the page. */
export const point: Check<[number, number]> = v.pipe(
  v.custom<[number, number]>((value) => Array.isArray(value) && value.length === 2, 'must be an [x, y] pair'),
  v.check((value) => value.every(isPlace), `must hold integers from 0 to ${MOST_PX}`),
);

function inWords(values: readonly string[]): string {
  return values.length < 2 ? values.join() : `${values.slice(0, -1).join(', ')} or ${values.at(-1)!}`;
}
