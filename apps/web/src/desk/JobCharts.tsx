import type { JobPlan, TimeStage } from '@jumble/contracts';
import { tableToCsv } from '@jumble/formats';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import dayjs from 'dayjs';
import type { EChartsCoreOption } from 'echarts/core';
import { useMemo, type ReactNode } from 'react';
import { AXIS, Chart } from '../charts/Chart.tsx';
import { tones } from '../theme.ts';
import { dayText, hoursText, minutesOf, STAGE_WORDS, today } from './plans.ts';

const DAY_MS = 86_400_000;

/** The figures of a chart, a row each. */
type Table = readonly (readonly (string | number)[])[];

export interface JobChartsProps {
  readonly plan: JobPlan;
  /** All jobs, to compare their pay. */
  readonly jobs: readonly JobPlan[];
}

/** Burn-down, minutes against regions, the shares of the stages, and what jobs pay. */
export function JobCharts({ plan, jobs }: JobChartsProps): ReactNode {
  const burn = useMemo(() => burnDown(plan), [plan]);
  const fit = useMemo(() => againstRegions(plan), [plan]);
  const shares = useMemo(() => stageShares(plan), [plan]);
  const pay = useMemo(() => payByJob(plan, jobs), [plan, jobs]);
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fit, minmax(270px, 1fr))', gap: 2, mb: 3 }}>
      <ChartCard title="Minutes left, by day" name="burn-down" {...burn} />
      <ChartCard title="Minutes against regions, by page" name="minutes-regions" {...fit} />
      <ChartCard title="Minutes by stage" name="stages" {...shares} />
      {pay !== null && <ChartCard title={`Pay per hour by job, ${plan.rate?.currency}`} name="pay-per-hour" {...pay} />}
    </Box>
  );
}

interface Charted {
  readonly option: EChartsCoreOption;
  readonly table: Table;
}

const BASE = {
  grid: { left: 44, right: 10, top: 12, bottom: 28 },
  tooltip: { trigger: 'axis', confine: true },
};

/** Names what is shown below the chart. */
const LEGEND = {
  grid: { ...BASE.grid, bottom: 44 },
  legend: { bottom: 0, itemWidth: 12, itemHeight: 8, textStyle: { fontSize: 10, color: tones.quiet } },
};

/** What was left on each day, what will be (most likely, and the ends of the band), and when it is due. */
function burnDown({ days, forecast, dueOn }: JobPlan): Charted {
  const done = days.reduce((sum, { minutes }) => sum + minutes, 0);
  let left = forecast.minutesLeft + done;
  const past = days.map(({ day, minutes }): [string, number] => [day, (left -= minutes)]);
  const from = today();
  if (past.length > 0 && past.at(-1)![0] < from) past.push([from, forecast.minutesLeft]);
  const to = (day: string | null): [string, number][] => (day === null ? [] : [[from, forecast.minutesLeft], [day, 0]]); // prettier-ignore
  const line = (name: string, data: [string, number][], type: 'solid' | 'dashed' | 'dotted'): object => ({
    type: 'line',
    name,
    data,
    symbol: 'none',
    lineStyle: { type, color: type === 'dotted' ? tones.line : tones.accent },
    itemStyle: { color: tones.accent },
  });
  return {
    option: {
      ...BASE,
      tooltip: { ...BASE.tooltip, formatter: onDay },
      xAxis: {
        type: 'time',
        minInterval: DAY_MS,
        splitLine: { show: false },
        axisLabel: { ...AXIS.axisLabel, formatter: '{d} {MMM}', hideOverlap: true },
      },
      yAxis: { type: 'value', ...AXIS, splitNumber: 3 },
      series: [
        line('left', past, 'solid'),
        line('most likely', to(forecast.doneOn), 'dashed'),
        line('earliest', to(forecast.earliest), 'dotted'),
        line('latest', to(forecast.latest), 'dotted'),
        ...(dueOn === null ? [] : [dueLine(dueOn)]),
      ],
    },
    table: [['day', 'minutes left'], ...past, ['', ''], ['done on', forecast.doneOn ?? ''], ['earliest', forecast.earliest ?? ''], ['latest', forecast.latest ?? ''], ['due', dueOn ?? '']], // prettier-ignore
  };
}

/** A point of the burn-down, as the chart hands it on. */
interface Shown {
  readonly seriesName: string;
  readonly marker: string;
  readonly data: readonly [day: string, minutes: number];
}

/** "Fri 11 Dec: most likely 0 min left". */
function onDay(shown: readonly Shown[]): string {
  const words = shown.map(({ seriesName, marker, data: [, minutes] }) =>
    seriesName === 'due'
      ? 'due'
      : `${marker}${seriesName === 'left' ? '' : `${seriesName} `}${hoursText(minutes)} left`,
  );
  return [dayText(shown[0]!.data[0]), ...words].join('<br>');
}

/** Upright, at the deadline, which the axis reaches. */
function dueLine(dueOn: string): object {
  return {
    type: 'line',
    name: 'due',
    data: [[dueOn, 0]],
    symbol: 'none',
    markLine: {
      silent: true,
      symbol: 'none',
      data: [{ xAxis: dueOn }],
      label: { formatter: 'due', position: 'insideEndTop', fontSize: 10, color: tones.quiet },
      lineStyle: { type: 'solid', color: tones.quiet },
    },
  };
}

/** Pages that were worked on, and what is expected of all. */
function againstRegions({ pages }: JobPlan): Charted {
  const worked = pages.flatMap((page): [number, number, string][] =>
    minutesOf(page) < 1 ? [] : [[page.regionCount, Math.round(minutesOf(page)), page.name]],
  );
  const expected = pages.flatMap((page): [number, number, string][] =>
    page.estimate === null ? [] : [[page.regionCount, Math.round(page.estimate.minutes), page.name]],
  );
  // Pages that are still worked on would draw the line down.
  const done = pages.flatMap((page): [number, number][] =>
    page.handedOff === null || minutesOf(page) < 1 ? [] : [[page.regionCount, minutesOf(page)]],
  );
  const fit = fitLine(done.length >= 2 ? done : expected);
  return {
    option: {
      ...BASE,
      ...LEGEND,
      tooltip: { trigger: 'item', confine: true, formatter: ({ data, seriesName }: { data: [number, number, string?]; seriesName: string }) => `${data[2] ?? 'fit'}: ${data[1]} min ${seriesName}, ${data[0]} regions` }, // prettier-ignore
      xAxis: { type: 'value', ...AXIS },
      yAxis: { type: 'value', ...AXIS, splitNumber: 3 },
      series: [
        { type: 'line', name: 'fit', data: fit, symbol: 'none', lineStyle: { type: 'dashed', color: tones.quiet }, itemStyle: { color: tones.quiet } }, // prettier-ignore
        { type: 'scatter', name: 'expected', data: expected, symbol: 'emptyCircle', symbolSize: 6, itemStyle: { color: tones.quiet } }, // prettier-ignore
        { type: 'scatter', name: 'worked', data: worked, symbol: 'rect', symbolSize: 8, itemStyle: { color: tones.accent } }, // prettier-ignore
      ],
    },
    table: [['page', 'regions', 'minutes worked', 'minutes expected'], ...pages.map((page) => [page.name, page.regionCount, Math.round(minutesOf(page)), page.estimate === null ? '' : Math.round(page.estimate.minutes)]), ['', '', '', ''], ['fit', 'regions', 'minutes', ''], ...fit.map(([regions, minutes]) => ['', regions, minutes, ''])], // prettier-ignore
  };
}

/** A straight line through points by least squares, from the least x to the greatest; none through fewer than two places. */
export function fitLine(points: readonly (readonly [number, number, ...unknown[]])[]): [number, number][] {
  const n = points.length;
  const mean = (k: 0 | 1): number => points.reduce((sum, point) => sum + point[k], 0) / n;
  const [mx, my] = [mean(0), mean(1)];
  const spread = points.reduce((sum, [x]) => sum + (x - mx) ** 2, 0);
  if (n < 2 || spread === 0) return [];
  const slope = points.reduce((sum, [x, y]) => sum + (x - mx) * (y - my), 0) / spread;
  const xs = points.map(([x]) => x);
  return [Math.min(...xs), Math.max(...xs)].map((x) => [x, Math.round(10 * (my + slope * (x - mx))) / 10]);
}

/** How many jobs are compared, beside the one on show: those that pay in its currency, the latest first. */
const JOBS_COMPARED = 7;

/** Pay per hour so far and to be expected, of jobs that have a rate in this one's currency; null without a rate. */
function payByJob(plan: JobPlan, jobs: readonly JobPlan[]): Charted | null {
  const { rate, pay } = plan;
  if (rate === null || pay === null) return null;
  const others = jobs.filter((job) => job.id !== plan.id && job.rate?.currency === rate.currency);
  const compared = [plan, ...others.slice(0, JOBS_COMPARED)];
  const bar = (name: string, of: (pay: NonNullable<JobPlan['pay']>) => number | null, color: string): object => ({
    type: 'bar',
    name,
    data: compared.map((job) => (job.pay === null ? null : of(job.pay))),
    itemStyle: { color },
    barCategoryGap: '30%',
  });
  return {
    option: {
      ...BASE,
      ...LEGEND,
      grid: { ...LEGEND.grid, left: 110 },
      xAxis: { type: 'value', ...AXIS, splitNumber: 3 },
      yAxis: {
        type: 'category',
        inverse: true,
        data: compared.map(({ name }) => name),
        axisLabel: { ...AXIS.axisLabel, width: 100, overflow: 'truncate' },
      },
      series: [
        bar('so far', (one) => one.perHourSoFar, tones.accent),
        bar('expected', (one) => one.perHourExpected, tones.line),
      ],
    },
    table: [['job', `${rate.currency} per hour so far`, `${rate.currency} per hour expected`], ...compared.map(({ name, pay: own }) => [name, own?.perHourSoFar ?? '', own?.perHourExpected ?? ''])], // prettier-ignore
  };
}

function stageShares({ pages }: JobPlan): Charted {
  const stages = Object.keys(STAGE_WORDS) as TimeStage[];
  const minutes = stages.map((stage) =>
    Math.round(pages.reduce((sum, page) => sum + (page.seconds[stage] ?? 0), 0) / 60),
  );
  return {
    option: {
      ...BASE,
      grid: { ...BASE.grid, left: 58 },
      xAxis: { type: 'value', ...AXIS },
      yAxis: {
        type: 'category',
        inverse: true,
        data: stages.map((stage) => STAGE_WORDS[stage]),
        axisLabel: AXIS.axisLabel,
      },
      series: [
        { type: 'bar', name: 'minutes', data: minutes, itemStyle: { color: tones.accent }, barCategoryGap: '30%' },
      ],
    },
    table: [['stage', 'minutes'], ...stages.map((stage, k) => [STAGE_WORDS[stage], minutes[k]!])],
  };
}

interface ChartCardProps extends Charted {
  readonly title: string;
  /** Of the file with its figures. */
  readonly name: string;
}

function ChartCard({ title, name, option, table }: ChartCardProps): ReactNode {
  const csv = (): void => {
    const [fields, ...rows] = table;
    const blob = new Blob([tableToCsv(fields!.map(String), rows)], { type: 'text/csv' });
    const link = document.createElement('a');
    link.href = URL.createObjectURL(blob);
    link.download = `${name}-${dayjs().format('YYYY-MM-DD')}.csv`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <Box component="section" aria-label={title} sx={{ bgcolor: '#fff', border: `1px solid ${tones.line}`, p: 1 }}>
      <Box sx={{ display: 'flex', alignItems: 'baseline' }}>
        <Typography variant="h3" component="h2" sx={{ flex: 1 }}>
          {title}
        </Typography>
        <Button onClick={csv} aria-label={`Figures of ${title} as CSV`} sx={{ minWidth: 0, p: 0 }}>
          CSV
        </Button>
      </Box>
      <Chart option={option} heightPx={190} label={`${title} as a chart`} />
    </Box>
  );
}
