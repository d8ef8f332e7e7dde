/** A page of the demo as it was measured. */
export interface MeasuredPage {
  readonly id: string;
  readonly number: number;
  readonly state: 'handed off' | 'in check' | 'half flatted' | 'gaps' | 'fresh';
  readonly regions: number;
  readonly gaps: number;
}

/** Time on a page on a day, as it is written down by hand. */
export interface SampleTime {
  readonly pageId: string;
  readonly person: string;
  readonly stage: Stage;
  readonly day: string;
  readonly minutes: number;
  readonly note: string;
}

/** What says of everything here that nobody worked so. */
export const SAMPLE = 'sample data';
/** The page whose gaps are ruled on in part should have been done on this day, counted from today. */
export const LATE_DAY = -1;

/** How a page's minutes fall on the stages, and how much of that was done by now. */
const SHARES = [
  ['lineart', 0.04],
  ['gaps', 0.18],
  ['flats', 0.58],
  ['trap', 0.05],
  ['check', 0.1],
  ['handoff', 0.05],
] as const;
type Stage = (typeof SHARES)[number][0];
const STAGES_DONE: Readonly<Record<MeasuredPage['state'], number>> = {
  'handed off': 6,
  'in check': 4,
  'half flatted': 3,
  gaps: 2,
  fresh: 0,
};
/** Of the last stage that was begun, such a share was done. */
const LAST_SHARE: Readonly<Record<MeasuredPage['state'], number>> = {
  'handed off': 1,
  'in check': 1,
  'half flatted': 0.5,
  gaps: 0.5,
  fresh: 1,
};
/** Working days back on which a page was begun, and who worked on it. */
const BEGUN: Readonly<Record<MeasuredPage['state'], readonly [days: number, person: string]>> = {
  'handed off': [8, 'Juna'],
  'in check': [5, 'Juna'],
  'half flatted': [2, 'Juna'],
  gaps: [1, 'Pim'],
  fresh: [1, 'Juna'],
};
/** Minutes of any page, of a hundred regions, of ten gaps. */
const [ANY_PAGE, HUNDRED_REGIONS, TEN_GAPS] = [24, 9, 3];
/** Nobody works longer on a day, in minutes. */
const MOST_A_DAY = 30;

const dayOf = (date: Date): string => date.toISOString().slice(0, 10);

/** Monday to Friday before a day, the latest first. */
function workingDaysBack(now: Date, count: number): string[] {
  const days: string[] = [];
  for (let back = 1; days.length < count; back++) {
    const day = new Date(now.getTime() - back * 86_400_000);
    if (day.getUTCDay() % 6 !== 0) days.push(dayOf(day));
  }
  return days;
}

/** Minutes worked on a page by stage up to now, by a rule from what was measured of it. */
function minutesOf({ state, regions, gaps }: MeasuredPage): [Stage, number][] {
  const all = ANY_PAGE + (HUNDRED_REGIONS * regions) / 100 + (TEN_GAPS * gaps) / 10;
  const done = STAGES_DONE[state];
  return SHARES.slice(0, done).map(([stage, share], k) => [
    stage,
    Math.max(1, Math.round(all * share * (k === done - 1 ? LAST_SHARE[state] : 1))),
  ]);
}

/** Two weeks of work: each page's minutes on the working days from the one it was begun on, at most so many a day. */
export function sampleDays(pages: readonly MeasuredPage[], now: Date): SampleTime[] {
  const days = workingDaysBack(now, 10);
  const free = new Map<string, number>();
  return pages.flatMap((page) => {
    const [begun, person] = BEGUN[page.state];
    let back = begun;
    return minutesOf(page).flatMap(([stage, minutes]): SampleTime[] => {
      const some: SampleTime[] = [];
      for (let left = minutes; left > 0;) {
        const day = days[back - 1]!;
        const key = `${person} ${day}`;
        const room = free.get(key) ?? MOST_A_DAY;
        const spent = back === 1 ? left : Math.min(left, room);
        if (spent > 0) some.push({ pageId: page.id, person, stage, day, minutes: spent, note: SAMPLE });
        free.set(key, room - spent);
        left -= spent;
        if (left > 0) back--;
      }
      return some;
    });
  });
}

export interface SampleEntry {
  readonly what: string;
  readonly why: string;
  readonly at: string;
  readonly pageId?: string;
  readonly person: string;
}

/** What was decided in these two weeks, with the figures of the pages it is about. */
export function sampleLogbook(pages: readonly MeasuredPage[], now: Date): SampleEntry[] {
  const days = workingDaysBack(now, 10);
  const entry = (back: number, hour: number, person: string, what: string, page?: MeasuredPage): SampleEntry => ({
    what,
    why: SAMPLE,
    at: `${days[back - 1]!}T${String(hour).padStart(2, '0')}:15:00.000Z`,
    person,
    ...(page === undefined ? {} : { pageId: page.id }),
  });
  const entries = [
    entry(10, 9, 'Juna', 'Agreed with Moonroot Press: 24 EUR a page, six pages, black lines on top'),
    entry(8, 14, 'Pim', "Wren's scarf is to be lighter than her skin; changed in both scenes"),
  ];
  for (const page of pages) {
    const [begun, person] = BEGUN[page.state];
    const { regions, gaps } = page;
    if (page.state === 'fresh') continue;
    entries.push(entry(begun, 10, person, `Begun; ${regions} regions, ${gaps} gaps to rule on`, page));
    if (page.state === 'handed off')
      entries.push(
        entry(begun - 2, 16, person, `All ${regions} regions have their part; checked`, page),
        entry(begun - 3, 11, 'Pim', 'The colourist asks for the depth one step darker in later pages', page),
      );
  }
  return entries.sort((a, b) => (a.at < b.at ? -1 : 1));
}
