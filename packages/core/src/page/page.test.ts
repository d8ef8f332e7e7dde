import { describe, expect, test } from '@jest/globals';
import { seeded } from '../tests/textGrid.ts';
import { type HistoryStep, readHistory } from './history.ts';
import { readPageDocument } from './readPageDocument.ts';
import { checkPageEdit } from './checkPageEdit.ts';
import { editDrawn, editFill, editRuling, editScene, editTrap } from './pageEdits.ts';
import { DEFAULT_PREP } from '../model/PageDocument.ts';
import { applyEdits, clashingKeys, parseRecords, serialiseRecords } from './records.ts';
import type { Json, RecordEdit, Records } from '../model/records.ts';

describe('records', () => {
  test('are not changed by applying edits to them', () => {
    const before: Records = new Map([['a', 1]]);
    applyEdits(before, [
      { key: 'a', value: 2 },
      { key: 'b', value: 3 },
    ]);
    expect([...before]).toEqual([['a', 1]]);
  });

  test('come back byte for byte: random edits, undo all, redo all', () => {
    for (let seed = 1; seed <= 20; seed++) {
      const random = seeded(seed);
      let records: Records = new Map<string, Json>([['prep', { crumbLimitPx2: 'auto' }]]);
      const texts = [serialiseRecords(records)];
      const steps: { edits: RecordEdit[]; inverse: RecordEdit[] }[] = [];
      for (let k = 0; k < 40; k++) {
        const edits = Array.from({ length: 1 + Math.floor(random() * 5) }, (): RecordEdit => ({
          key: `fill/${Math.floor(random() * 9)},1`,
          value: random() < 0.3 ? null : { part: `p${Math.floor(random() * 3)}`, stamp: k },
        }));
        const applied = applyEdits(records, edits);
        records = applied.records;
        steps.push({ edits, inverse: applied.inverse });
        texts.push(serialiseRecords(records));
      }
      for (let k = steps.length - 1; k >= 0; k--) {
        records = applyEdits(records, steps[k]!.inverse).records;
        expect(serialiseRecords(records)).toBe(texts[k]);
      }
      steps.forEach(({ edits }, k) => {
        records = applyEdits(records, edits).records;
        expect(serialiseRecords(records)).toBe(texts[k + 1]);
      });
    }
  });

  test('have one text whatever order they were made in, and it can be read back', () => {
    const one = applyEdits(new Map(), [
      { key: 'b', value: 1 },
      { key: 'a', value: [2] },
    ]).records;
    const two = applyEdits(new Map(), [
      { key: 'a', value: [2] },
      { key: 'b', value: 1 },
    ]).records;
    expect(serialiseRecords(one)).toBe(serialiseRecords(two));
    expect(serialiseRecords(parseRecords(serialiseRecords(one)))).toBe(serialiseRecords(one));
  });

  test('clash only where two sides give the same key different values', () => {
    const mine = [
      { key: 'a', value: 1 },
      { key: 'b', value: 2 },
      { key: 'c', value: null },
    ];
    expect(
      clashingKeys(mine, [
        { key: 'a', value: 1 },
        { key: 'b', value: 9 },
        { key: 'd', value: 4 },
      ]),
    ).toEqual(['b']);
    expect(clashingKeys(mine, [{ key: 'c', value: 5 }])).toEqual(['c']);
  });
});

describe('the page document', () => {
  test('has defaults for what nobody decided', () => {
    expect(readPageDocument(new Map())).toEqual({
      prep: DEFAULT_PREP,
      trap: null,
      areas: new Map(),
      holds: new Map(),
      lineStrokes: new Map(),
      waivers: new Map(),
      certificate: null,
      notes: '',
      lineEdits: { cuts: [], joins: [] },
      scene: null,
      panels: null,
      inks: new Map(),
      solids: new Map(),
      balloons: new Map(),
      seen: new Set(),
      marks: new Map(),
      tiles: new Map(),
      guide: null,
      fills: new Map(),
      rulings: new Map(),
      drawn: [],
    });
  });

  test('holds rulings and closures drawn by hand, and refuses others', () => {
    const key = '10,20-30,40';
    const { records } = applyEdits(new Map(), [editRuling(key, 'open'), editDrawn('1,2-3,4', true)]);
    expect(readPageDocument(records)).toMatchObject({ rulings: new Map([[key, 'open']]), drawn: ['1,2-3,4'] });
    for (const edit of [
      editRuling(key, 'closed'),
      editRuling(key, null),
      editDrawn(key, true),
      editDrawn(key, false),
    ]) {
      expect(() => checkPageEdit(edit)).not.toThrow();
    }
    expect(() => checkPageEdit({ key: `gap/${key}`, value: 'ajar' })).toThrow(TypeError);
    expect(() => checkPageEdit({ key: `closure/${key}`, value: false })).toThrow(TypeError);
    expect(() => checkPageEdit({ key: 'gap/here', value: 'open' })).toThrow(/must be prep/);
  });

  test('is read from its edits', () => {
    const fill = { part: 'coat', anchors: [[3, 4]] as [number, number][], stamp: 2 };
    const { records } = applyEdits(new Map(), [
      editFill('3,4', fill),
      editTrap({ rule: 'depth', depthPx: 3 }),
      editScene('night'),
    ]);
    const page = readPageDocument(records);
    expect(page.fills.get('3,4')).toEqual(fill);
    expect(page.trap).toEqual({ rule: 'depth', depthPx: 3 });
    expect(page.scene).toBe('night');
  });

  const good = { part: 'coat', anchors: [[1, 2]], stamp: 0 };
  test.each<[string, Json]>([
    ['fill/1,2', good],
    ['fill/1,2', null],
    ['trap', { rule: 'middle' }],
    ['trap', { rule: 'depth', depthPx: 0 }],
    ['trap', { rule: 'depth', depthMm: 0.25 }],
    ['trap', { rule: 'max', marginPx: 1.5 }],
    [
      'area/a-1',
      {
        points: [
          [0, 0],
          [9, 0],
          [9, 9],
        ],
        rule: { rule: 'middle' },
        stamp: 0,
      },
    ],
    ['hold/h', { lines: { inside: 'coat' }, colour: { darken: 0.4 }, order: 0, inScene: { night: '#102030' } }],
    ['linecut/1,2', true],
    ['linestroke/s', { colour: null, sizePx: 8, points: [[1, 2]], stamp: 0 }],
    ['waiver/halo/1,2', { reason: 'on purpose' }],
    [
      'certificate',
      {
        at: '2026-05-01T12:00:00.000Z',
        content: 'a'.repeat(64),
        engine: 5,
        checks: { severities: {}, nearColours: 1.5, minDpi: null },
        waived: 0,
      },
    ],
    ['linejoin/1,2-3,4', null],
    ['prep', { inkPoints: { blackPoint: 3, whitePoint: 200 }, crumbLimitPx2: 12 }],
    ['scene', null],
  ])('takes the edit %s %j', (key, value) => {
    expect(() => checkPageEdit({ key, value })).not.toThrow();
  });

  test.each<[string, Json, RegExp]>([
    ['other', 1, /`key` must be/],
    ['fill/1.5,2', good, /`key` must be/],
    ['fill/1,2', { ...good, part: '../x' }, /must be the id of a part/],
    ['fill/1,2', { ...good, anchors: [] }, /must hold 1 to/],
    ['fill/1,2', { ...good, anchors: [[1, -2]] }, /anchors.0` must hold integers from 0/],
    ['fill/1,2', { ...good, stamp: 1.5 }, /stamp` must be an integer/],
    ['fill/1,2', 'coat', /must be an object/],
    ['trap', { rule: 'depth', depthPx: -1 }, /`trap.depthPx` must be a number from 0 to 200/],
    ['trap', { rule: 'depth', depthPx: 1, depthMm: 1 }, /must be middle, or depth with one of/],
    ['trap', { rule: 'wide' }, /must be middle, depth or max/],
    [
      'area/a',
      {
        points: [
          [0, 0],
          [9, 9],
        ],
        rule: { rule: 'middle' },
        stamp: 0,
      },
      /points` must hold 3 to 200 corners/,
    ],
    ['hold/h', { lines: { at: [] }, colour: '#000000', order: 0 }, /lines` .at must hold 1 to 5000 points/],
    ['hold/h', { lines: { all: true }, colour: 'red', order: 0 }, /colour` must look like/],
    ['linecut/1', true, /`key` must be/],
    ['linestroke/s', { colour: 'red', sizePx: 8, points: [[1, 2]], stamp: 0 }, /colour` must look like/],
    ['linestroke/s', { colour: null, sizePx: 0, points: [[1, 2]], stamp: 0 }, /sizePx` must be/],
    ['linestroke/s', { colour: null, sizePx: 8, points: [], stamp: 0 }, /points` must hold/],
    ['waiver/everything/1,2', { reason: 'on purpose' }, /`key` must be/],
    ['waiver/halo/1,2', { reason: '' }, /reason` must/],
    [
      'certificate',
      {
        at: 'today',
        content: 'a'.repeat(64),
        engine: 5,
        checks: { severities: {}, nearColours: 1.5, minDpi: null },
        waived: 0,
      },
      /at` must be a date/,
    ],
    [
      'certificate',
      {
        at: '2026-05-01T12:00:00.000Z',
        content: 'none',
        engine: 5,
        checks: { severities: {}, nearColours: 1.5, minDpi: null },
        waived: 0,
      },
      /content` must be/,
    ],
    ['prep', { inkPoints: { blackPoint: 9, whitePoint: 9 }, crumbLimitPx2: 0 }, /below `whitePoint`/],
    ['prep', { inkPoints: 'auto', crumbLimitPx2: -1 }, /`prep.crumbLimitPx2` must be an integer/],
    ['scene', 5, /`scene` must be/],
  ])('refuses the edit %s %j', (key, value, message) => {
    expect(() => checkPageEdit({ key, value })).toThrow(message);
  });
});

describe('history', () => {
  const step = (seq: number, kind: HistoryStep['kind'], of: number | null = null): HistoryStep => ({ seq, kind, of });

  test('undoes the last step first and redoes it again', () => {
    const log = [step(1, 'do'), step(2, 'do'), step(3, 'undo', 2)];
    expect(readHistory(log)).toEqual({ undo: [1], redo: [2] });
    expect(readHistory([...log, step(4, 'undo', 1)])).toEqual({ undo: [], redo: [2, 1] });
    expect(readHistory([...log, step(4, 'redo', 2)])).toEqual({ undo: [1, 2], redo: [] });
  });

  test('forgets what could be redone once something new is done', () => {
    expect(readHistory([step(1, 'do'), step(2, 'undo', 1), step(3, 'do')])).toEqual({ undo: [3], redo: [] });
  });
});

describe('records of the Line art stage', () => {
  const accepts = (key: string, value: Json): void => expect(() => checkPageEdit({ key, value })).not.toThrow();
  const refuses = (key: string, value: Json, words: RegExp): void =>
    expect(() => checkPageEdit({ key, value })).toThrow(words);

  test('are taken when they keep their rules', () => {
    accepts('prep', { ...DEFAULT_PREP, slopePpm: -12000, speckLimitPx2: 9, flatten: true } as unknown as Json);
    accepts('panels', [
      {
        points: [
          [0, 0],
          [10, 0],
          [10, 10],
        ],
        scene: 'night',
      },
    ]);
    accepts('panels', null);
    accepts('ink/main', { name: 'Figures', order: 1.5, bounds: false });
    accepts('solid/10,20', true);
    accepts('solid/10,20', null);
    accepts('balloon/10,20', 'empty');
    accepts('seen/change/0a1b2c3d/0,0,10,20', true);
    accepts('key', { picture: 'a-1', name: 'page 2, key.png' });
    accepts('key', null);
  });

  test('are refused with the rule they break', () => {
    refuses('prep', { ...DEFAULT_PREP, slopePpm: 300_000 } as unknown as Json, /`prep.slopePpm` must be an integer/);
    refuses('key', { picture: '../x', name: 'key' }, /`key.picture` must be the id/);
    refuses('key', { picture: 'a', name: '' }, /`key.name` must have 1 to 200/);
    refuses('prep', { ...DEFAULT_PREP, slopePpm: 0.5 } as unknown as Json, /`prep.slopePpm`/);
    refuses('prep', { ...DEFAULT_PREP, speckLimitPx2: -1 } as unknown as Json, /`prep.speckLimitPx2`/);
    refuses(
      'prep',
      { ...DEFAULT_PREP, flatten: 'maybe' } as unknown as Json,
      /`prep.flatten` must be auto, true or false/,
    );
    refuses(
      'prep',
      { ...DEFAULT_PREP, detail: { thinnerThanPx: 3 } } as unknown as Json,
      /`prep.detail.shorterThanPx` is missing/,
    );
    refuses(
      'panels',
      [
        {
          points: [
            [0, 0],
            [10, 0],
          ],
          scene: null,
        },
      ],
      /3 to 60 corners/,
    );
    refuses('panels', Array.from({ length: 61 }, () => ({ points: [], scene: null })) as Json, /at most 60 panels/);
    refuses(
      'panels',
      [
        {
          points: [
            [0, 0],
            [10, 0],
            [10, -1],
          ],
          scene: null,
        },
      ],
      /points.2` must hold integers from 0/,
    );
    refuses(
      'panels',
      [
        {
          points: [
            [0, 0],
            [10, 0],
            [10, 1],
          ],
          scene: 'a b',
        },
      ],
      /id of a scene/,
    );
    refuses('ink/main', { name: ' ', order: 0, bounds: true }, /1 to 80 characters/);
    refuses('ink/main', { name: 'x', order: 'first', bounds: true }, /`ink\/main.order` must be a number/);
    refuses('ink/main', { name: 'x', order: 0, bounds: 1 }, /must be true or false/);
    refuses('ink/../x', { name: 'x', order: 0, bounds: true }, /`key` must be/);
    refuses('solid/10,20', 'yes', /must be true or false/);
    refuses('balloon/10,20', true, /must be empty or drawing/);
    refuses('balloon/10', 'empty', /`key` must be/);
    refuses('seen/x', false, /must be true/);
  });
});

describe('marks and what was not sure', () => {
  const check = (key: string, value: Json) => () => checkPageEdit({ key, value });
  const fill = (more: { readonly [key: string]: Json }): Json => ({
    part: 'coat',
    anchors: [[3, 4]],
    stamp: 0,
    ...more,
  });

  test('are let through when they keep the rules', () => {
    expect(check('mark/m1', { part: 'coat', points: [[1, 2]] })).not.toThrow();
    expect(check('mark/m1', null)).not.toThrow();
    expect(check('fill/3,4', fill({ by: 'mark', look: 'around' }))).not.toThrow();
  });

  test.each<[string, Json, string]>([
    ['mark/m1', { part: 'coat', points: [] }, 'must hold 1 to 5000 points'],
    ['mark/m1', { part: 'coat', points: [[1]] }, '[x, y] pair'],
    ['mark/m1', { part: '../coat', points: [[1, 2]] }, 'must be the id of a part'],
    ['mark/a b', { part: 'coat', points: [[1, 2]] }, '`key` must be'],
    ['fill/3,4', fill({ by: 'hand' }), 'must be mark or key'],
    ['fill/3,4', fill({ look: 'maybe' }), 'must be across, around, shared, key or done'],
  ])('are refused otherwise: %s', (key, value, words) => expect(check(key, value)).toThrow(words));

  test('are read out of the records', () => {
    const { marks, fills } = readPageDocument(
      new Map<string, Json>([
        ['mark/m1', { part: 'coat', points: [[1, 2]] }],
        ['fill/3,4', fill({ by: 'key', look: 'key' })],
      ]),
    );
    expect(marks.get('m1')).toEqual({ part: 'coat', points: [[1, 2]] });
    expect(fills.get('3,4')).toMatchObject({ by: 'key', look: 'key' });
  });
});
