/** When people work. */
export interface WorkCalendar {
  /** Days of the week that are worked, 0 for Sunday. */
  readonly weekdays: readonly number[];
  readonly hoursADay: number;
  /** Days off, `YYYY-MM-DD`. */
  readonly daysOff: readonly string[];
}

export const DEFAULT_CALENDAR: WorkCalendar = { weekdays: [1, 2, 3, 4, 5], hoursADay: 6, daysOff: [] };

export interface ForecastInput {
  /** What is left of each page, in minutes. */
  readonly left: readonly { readonly minutes: number; readonly deviation: number }[];
  /** Minutes worked on each of the last working days, the latest last; empty where none was. */
  readonly lastDays: readonly number[];
  readonly calendar: WorkCalendar;
  /** The first day that counts, `YYYY-MM-DD`. */
  readonly from: string;
}

export interface Forecast {
  readonly minutesLeft: number;
  /** Minutes on a working day: of the last ones, or those of the calendar. */
  readonly minutesADay: number;
  /** Where the pace comes from. */
  readonly pace: 'last days' | 'calendar';
  /** Days it is done on, `YYYY-MM-DD`: most likely, and the ends of a band that eight in ten lie in; null for never. */
  readonly doneOn: string | null;
  readonly earliest: string | null;
  readonly latest: string | null;
}

/** Deviations from the middle to the ends of a band that eight in ten lie in. */
const EIGHT_IN_TEN = 1.2816;
/** No forecast goes further, in days. */
const MOST_DAYS = 3650;

/** When a job is done at this pace. */
export function forecast({ left, lastDays, calendar, from }: ForecastInput): Forecast {
  const minutesLeft = left.reduce((sum, { minutes }) => sum + minutes, 0);
  const deviation = Math.sqrt(left.reduce((sum, one) => sum + one.deviation ** 2, 0));
  const worked = lastDays.filter((minutes) => minutes > 0);
  const isOwn = worked.length > 0;
  const minutesADay = isOwn ? lastDays.reduce((sum, one) => sum + one, 0) / lastDays.length : calendar.hoursADay * 60;
  const after = (minutes: number): string | null => dayAfter(Math.max(0, minutes), minutesADay, calendar, from);
  return {
    minutesLeft,
    minutesADay,
    pace: isOwn ? 'last days' : 'calendar',
    doneOn: after(minutesLeft),
    earliest: after(minutesLeft - EIGHT_IN_TEN * deviation),
    latest: after(minutesLeft + EIGHT_IN_TEN * deviation),
  };
}

/** The working day on which so many minutes are done. */
function dayAfter(minutes: number, minutesADay: number, calendar: WorkCalendar, from: string): string | null {
  if (minutesADay <= 0) return null;
  const day = new Date(`${from}T00:00:00Z`);
  let todo = minutes;
  for (let k = 0; k < MOST_DAYS; k++, day.setUTCDate(day.getUTCDate() + 1)) {
    if (!isWorkingDay(calendar, day)) continue;
    todo -= minutesADay;
    if (todo <= 0) return dayOf(day);
  }
  return null;
}

function isWorkingDay({ weekdays, daysOff }: WorkCalendar, day: Date): boolean {
  return weekdays.includes(day.getUTCDay()) && !daysOff.includes(dayOf(day));
}

const dayOf = (day: Date): string => day.toISOString().slice(0, 10);

/** The last working days before one, the latest last. */
export function workingDaysBefore(calendar: WorkCalendar, day: string, count: number): string[] {
  return workingDays(calendar, day, count, -1).reverse();
}

/** The next working days from one on, itself among them where it is one. */
export function workingDaysFrom(calendar: WorkCalendar, day: string, count: number): string[] {
  return workingDays(calendar, day, count, 1);
}

function workingDays(calendar: WorkCalendar, day: string, count: number, step: 1 | -1): string[] {
  const days: string[] = [];
  const at = new Date(`${day}T00:00:00Z`);
  if (step === -1) at.setUTCDate(at.getUTCDate() - 1);
  for (let k = 0; k < MOST_DAYS && days.length < count; k++, at.setUTCDate(at.getUTCDate() + step))
    if (isWorkingDay(calendar, at)) days.push(dayOf(at));
  return days;
}
