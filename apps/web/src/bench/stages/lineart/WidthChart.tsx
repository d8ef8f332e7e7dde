import { STEPS_PER_PX } from '@jumble/core';
import { useMemo, type ReactNode } from 'react';
import { AXIS, Chart } from '../../../charts/Chart.tsx';
import { tones } from '../../../theme.ts';

/** Widths are shown in whole px up to this many times the median; beyond it lie solid blacks. */
const SHOWN_MEDIANS = 3;

/** How many strokes are how wide. @param counts by steps of 1/16 px. */
export function WidthChart({ counts, median }: { readonly counts: Uint32Array; readonly median: number }): ReactNode {
  const option = useMemo(() => {
    const { widths, shares } = sharesByPx(counts, median);
    return {
      grid: { left: 30, right: 8, top: 14, bottom: 32 },
      tooltip: { trigger: 'axis', valueFormatter: (value: number) => `${value.toFixed(1)}%`, confine: true },
      xAxis: {
        type: 'category',
        data: widths,
        name: 'line width in px',
        nameLocation: 'middle',
        nameGap: 18,
        axisTick: { show: false },
        axisLabel: AXIS.axisLabel,
        nameTextStyle: { fontSize: 11, color: tones.quiet },
      },
      yAxis: {
        type: 'value',
        ...AXIS,
        axisLabel: { ...AXIS.axisLabel, formatter: '{value}%' },
        splitNumber: 2,
      },
      series: [
        {
          type: 'bar',
          name: 'of the strokes',
          data: shares,
          barCategoryGap: '12%',
          itemStyle: { color: tones.accent },
          markLine: {
            silent: true,
            symbol: 'none',
            lineStyle: { color: tones.ink, type: 'dashed' },
            label: { formatter: 'median', fontSize: 10, color: tones.ink },
            data: [{ xAxis: String(Math.round(median)) }],
          },
        },
      ],
    };
  }, [counts, median]);
  return (
    <div style={{ marginTop: 6 }}>
      <Chart option={option} heightPx={118} label="Line widths as a chart" />
    </div>
  );
}

function sharesByPx(counts: Uint32Array, median: number): { widths: string[]; shares: number[] } {
  const byPx: number[] = [];
  counts.forEach((count, step) => {
    const px = Math.round(step / STEPS_PER_PX);
    byPx[px] = (byPx[px] ?? 0) + count;
  });
  const shown = byPx.slice(1, Math.max(3, Math.round(SHOWN_MEDIANS * median)) + 1);
  const total = shown.reduce((sum, count) => sum + (count ?? 0), 0) || 1;
  const widths = Array.from(shown, (_, k) => String(k + 1));
  const shares = Array.from(shown, (count) => Math.round(((count ?? 0) / total) * 1000) / 10);
  return { widths, shares };
}
