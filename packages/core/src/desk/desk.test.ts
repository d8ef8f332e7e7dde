import { describe, expect, test } from '@jest/globals';
import { fitEffort, type PageMeasures } from './estimateEffort.ts';
import { DEFAULT_CALENDAR, forecast, workingDaysBefore } from './forecast.ts';

const page = (regions: number, gaps: number, panels: number, looseEnds = 200): PageMeasures => ({ regions, gaps, panels, looseEnds }); // prettier-ignore
/** A flatter whose minutes are known: slower than the prior on regions, quick on gaps. */
const truth = ({ regions, gaps, panels }: PageMeasures): number => 5 + regions * 0.11 + gaps * 0.05 + panels * 2;

describe('the effort of a page', () => {
  test('is the prior while nothing was timed, and says what drives it', () => {
    const { minutes, deviation, drivers } = fitEffort([])(page(500, 20, 5));
    expect(minutes).toBeCloseTo(10 + 5 * 6 + 2 * 2 + 2 * 1 + 5 * 3);
    expect(deviation).toBeGreaterThan(15);
    expect(drivers[0]).toEqual({ term: 'regions', minutes: 30 });
  });
  test('comes to the truth of a logbook as pages are timed, with a narrower band', () => {
    const timed = Array.from({ length: 24 }, (_, k) => page(200 + ((k * 137) % 700), (k * 7) % 60, 1 + (k % 7), (k * 31) % 400)); // prettier-ignore
    const noise = (k: number): number => ((k * 7919) % 13) - 6;
    const estimate = fitEffort(timed.map((one, k) => ({ ...one, minutes: truth(one) + noise(k) })));
    const other = page(650, 15, 4);
    expect(Math.abs(estimate(other).minutes - truth(other))).toBeLessThan(5);
    expect(estimate(other).deviation).toBeLessThan(fitEffort([])(other).deviation / 2);
    expect(Math.abs(fitEffort([])(other).minutes - truth(other))).toBeGreaterThan(5);
  });
  test('is never below two minutes', () => {
    const quick = Array.from({ length: 30 }, () => ({ ...page(0, 0, 0, 0), minutes: 0 }));
    expect(fitEffort(quick)(page(0, 0, 0, 0)).minutes).toBe(2);
  });
});

describe('the forecast', () => {
  // 2026-11-30 is a Monday.
  const from = '2026-11-30';
  test('counts working days at the pace of the last ones, with a band', () => {
    const left = [{ minutes: 600, deviation: 60 }, { minutes: 300, deviation: 80 }]; // prettier-ignore
    const all = forecast({ left, lastDays: [120, 0, 240], calendar: DEFAULT_CALENDAR, from });
    expect(all).toMatchObject({ minutesLeft: 900, minutesADay: 120, pace: 'last days', doneOn: '2026-12-09' });
    expect([all.earliest, all.latest]).toEqual(['2026-12-08', '2026-12-10']);
  });
  test('goes by the calendar while nobody worked, and leaves days off out', () => {
    const calendar = { ...DEFAULT_CALENDAR, hoursADay: 5, daysOff: ['2026-12-01'] };
    const all = forecast({ left: [{ minutes: 900, deviation: 0 }], lastDays: [], calendar, from });
    expect(all).toMatchObject({ pace: 'calendar', minutesADay: 300, doneOn: '2026-12-03', earliest: '2026-12-03' });
    expect(forecast({ left: [], lastDays: [], calendar, from }).doneOn).toBe('2026-11-30');
    expect(forecast({ left: [{ minutes: 9, deviation: 0 }], lastDays: [], calendar: { ...calendar, hoursADay: 0 }, from }).doneOn).toBeNull(); // prettier-ignore
    expect(workingDaysBefore(calendar, '2026-12-03', 3)).toEqual(['2026-11-27', '2026-11-30', '2026-12-02']);
  });
});
