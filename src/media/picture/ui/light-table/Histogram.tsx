'use client';
import { Chart } from '@/ui/kit/Chart';
import { useHues } from '@/ui/kit/use-hues';
import { CHANNELS, type ChannelShown } from './view-state';

const COLOURS = { red: '#c0452f', green: '#3f8f5a', blue: '#3d6fa8', alpha: '#8a8f90' } as const;
const VALUES = Array.from({ length: 256 }, (_, value) => value);

/** How often each value comes up, a line for each channel or for the one that is looked at. */
export function Histogram({
  counts,
  channel,
  alpha,
}: {
  counts: Uint32Array;
  channel: ChannelShown;
  alpha: boolean;
}) {
  const { locked } = useHues();
  const names = CHANNELS.slice(1) as readonly (keyof typeof COLOURS)[];
  const shown = channel === 'all' ? names.filter((name) => alpha || name !== 'alpha') : [channel];
  return (
    <Chart
      height={110}
      label={`How often each value comes up in ${shown.join(', ')}`}
      option={{
        grid: { left: 4, right: 4, top: 6, bottom: 16 },
        xAxis: {
          type: 'category',
          data: VALUES,
          axisLabel: { interval: 63, fontSize: 10, color: locked },
          axisTick: { show: false },
        },
        // A few values, such as an empty ground, would flatten all others.
        yAxis: { type: 'value', show: false, max: ({ max }: { max: number }) => ceiling(counts, max) },
        tooltip: { trigger: 'axis' },
        series: shown.map((name) => {
          const from = 256 * names.indexOf(name);
          return {
            name,
            type: 'line',
            data: [...counts.subarray(from, from + 256)],
            showSymbol: false,
            lineStyle: { width: 1, color: COLOURS[name] },
            areaStyle: { color: COLOURS[name], opacity: 0.15 },
            itemStyle: { color: COLOURS[name] },
          };
        }),
      }}
    />
  );
}

/** A height that all but the few commonest values fit under. */
function ceiling(counts: Uint32Array, max: number): number {
  const sorted = [...counts].sort((a, b) => b - a);
  return Math.max(1, Math.min(max, (sorted[16] ?? max) * 1.5));
}
