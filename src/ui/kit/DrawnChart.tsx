'use client';
import { useTheme } from '@mui/material/styles';
import { BarChart, GraphChart, LineChart, ScatterChart } from 'echarts/charts';
import { DataZoomInsideComponent, GridComponent, TooltipComponent } from 'echarts/components';
import * as echarts from 'echarts/core';
import { LabelLayout } from 'echarts/features';
import { CanvasRenderer } from 'echarts/renderers';
import ReactECharts from 'echarts-for-react/lib/core';

echarts.use([BarChart, GraphChart, LineChart, ScatterChart]);
echarts.use([DataZoomInsideComponent, TooltipComponent, GridComponent, LabelLayout, CanvasRenderer]);

/** A chart in the hues of the theme; the options are ECharts' own. */
export function DrawnChart({
  option,
  height,
  label,
  onPress,
}: {
  option: echarts.EChartsCoreOption;
  height: number;
  label: string;
  /** A thing in it was pressed, by its number. */
  onPress?: (index: number) => void;
}) {
  const { palette } = useTheme();
  return (
    <div role="img" aria-label={label}>
      <ReactECharts
        echarts={echarts}
        style={{ height }}
        notMerge
        {...(onPress && {
          onEvents: {
            click: ({ dataType, dataIndex }: { dataType?: string; dataIndex: number }) => {
              if (dataType !== 'edge') onPress(dataIndex);
            },
          },
        })}
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
