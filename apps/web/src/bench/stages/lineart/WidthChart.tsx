import { STEPS_PER_PX } from '@jumble/core';
import { BarChart } from 'echarts/charts';
import { GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import { init, use as register } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { useEffect, useRef, type ReactNode } from 'react';
import { tones } from '../../../theme.ts';

register([BarChart, GridComponent, MarkLineComponent, TooltipComponent, SVGRenderer]);

/** Widths are shown in whole px up to this many times the median; beyond it lie solid blacks. */
const SHOWN_MEDIANS = 3;

/** How many strokes are how wide. @param counts by steps of 1/16 px. */
export function WidthChart({ counts, median }: { readonly counts: Uint32Array; readonly median: number }): ReactNode {
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const chart = init(host.current!, null, { renderer: 'svg' });
    const { widths, shares } = sharesByPx(counts, median);
    chart.setOption({
      animation: false,
      grid: { left: 30, right: 8, top: 14, bottom: 32 },
      tooltip: { trigger: 'axis', valueFormatter: (value: number) => `${value.toFixed(1)}%`, confine: true },
      xAxis: {
        type: 'category',
        data: widths,
        name: 'line width in px',
        nameLocation: 'middle',
        nameGap: 18,
        axisTick: { show: false },
        axisLabel: { fontSize: 10, color: tones.quiet },
        nameTextStyle: { fontSize: 11, color: tones.quiet },
      },
      yAxis: {
        type: 'value',
        axisLabel: { fontSize: 10, color: tones.quiet, formatter: '{value}%' },
        splitLine: { lineStyle: { color: tones.chromeDark } },
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
    });
    return () => chart.dispose();
  }, [counts, median]);
  return <div ref={host} style={{ height: 118, marginTop: 6 }} role="img" aria-label="Line widths as a chart" />;
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
