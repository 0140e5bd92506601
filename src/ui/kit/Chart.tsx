'use client';
import { useTheme } from '@mui/material/styles';
import { BarChart, LineChart } from 'echarts/charts';
import { GridComponent, TooltipComponent } from 'echarts/components';
import * as echarts from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import ReactECharts from 'echarts-for-react/lib/core';

echarts.use([BarChart, LineChart, TooltipComponent, GridComponent, CanvasRenderer]);

/** A chart in the hues of the theme; the options are ECharts' own. */
export function Chart({
  option,
  height,
  label,
}: {
  option: echarts.EChartsCoreOption;
  height: number;
  label: string;
}) {
  const { palette } = useTheme();
  return (
    <div role="img" aria-label={label}>
      <ReactECharts
        echarts={echarts}
        style={{ height }}
        notMerge
        option={{
          textStyle: {
            fontFamily: 'Atkinson Hyperlegible Next Variable, sans-serif',
            color: palette.text.primary,
          },
          animation: false,
          ...option,
        }}
      />
    </div>
  );
}
