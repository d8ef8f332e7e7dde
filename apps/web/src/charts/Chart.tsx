import { BarChart, LineChart, ScatterChart } from 'echarts/charts';
import { GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import { init, use as register, type EChartsCoreOption } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { useEffect, useRef, type ReactNode } from 'react';
import { tones } from '../theme.ts';

register([BarChart, LineChart, ScatterChart, GridComponent, MarkLineComponent, TooltipComponent, SVGRenderer]);

/** How axes of ours look. */
export const AXIS = {
  axisLabel: { fontSize: 10, color: tones.quiet },
  splitLine: { lineStyle: { color: tones.chromeDark } },
} as const;

export interface ChartProps {
  readonly option: EChartsCoreOption;
  readonly heightPx: number;
  /** What it shows, for who cannot see it. */
  readonly label: string;
}

/** A chart that stands still. @param option the same object as long as the chart stays as it is. */
export function Chart({ option, heightPx, label }: ChartProps): ReactNode {
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const chart = init(host.current!, null, { renderer: 'svg' });
    chart.setOption({ animation: false, ...option });
    return () => chart.dispose();
  }, [option]);
  return <div ref={host} style={{ height: heightPx }} role="img" aria-label={label} />;
}
