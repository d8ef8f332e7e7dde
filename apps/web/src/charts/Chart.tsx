import { BarChart, LineChart, ScatterChart } from 'echarts/charts';
import { GridComponent, LegendComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import { init, use as register, type EChartsCoreOption } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { useEffect, useRef, type ReactNode } from 'react';
import { tones } from '../theme.ts';

register([
  BarChart,
  LineChart,
  ScatterChart,
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  TooltipComponent,
  SVGRenderer,
]);

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

/** So wide where nothing is laid out yet. */
const LEAST_WIDTH_PX = 260;

/** A chart that stands still. @param option the same object as long as the chart stays as it is. */
export function Chart({ option, heightPx, label }: ChartProps): ReactNode {
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const size = { width: host.current!.clientWidth || LEAST_WIDTH_PX, height: heightPx };
    const chart = init(host.current!, null, { renderer: 'svg', ...size });
    chart.setOption({ animation: false, ...option });
    return () => chart.dispose();
  }, [option, heightPx]);
  return <div ref={host} style={{ height: heightPx }} role="img" aria-label={label} />;
}
