import { BarChart } from 'echarts/charts';
import { GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import { init, use as register } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { useEffect, useRef, type ReactNode } from 'react';
import { tones } from '../../theme.ts';

register([BarChart, GridComponent, MarkLineComponent, TooltipComponent, SVGRenderer]);

/** Widths are shown in whole px, up to where this share of the strokes lies. */
const SHOWN_SHARE = 0.985;

/** How many strokes are how wide. @param counts by half px. */
export function WidthChart({ counts, median }: { readonly counts: Uint32Array; readonly median: number }): ReactNode {
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const chart = init(host.current!, null, { renderer: 'svg' });
    const { widths, shares } = sharesByPx(counts);
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

function sharesByPx(counts: Uint32Array): { widths: string[]; shares: number[] } {
  const byPx: number[] = [];
  counts.forEach((count, half) => {
    const px = Math.round(half / 2 + 0.25);
    byPx[px] = (byPx[px] ?? 0) + count;
  });
  const total = byPx.reduce((sum, count) => sum + (count ?? 0), 0) || 1;
  const widths: string[] = [];
  const shares: number[] = [];
  let sum = 0;
  for (let px = 1; px < byPx.length && sum < SHOWN_SHARE * total; px++) {
    sum += byPx[px] ?? 0;
    widths.push(String(px));
    shares.push(Math.round(((byPx[px] ?? 0) / total) * 1000) / 10);
  }
  return { widths, shares };
}
