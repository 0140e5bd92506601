'use client';
import Box from '@mui/material/Box';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { LevelView } from '@/server/reading/level-view';
import { plural } from '../../format';
import { Chart } from '../../kit/Chart';
import { useHues } from '../../kit/use-hues';

interface Props {
  readonly level: LevelView;
  readonly text: string;
  readonly chosen: number | undefined;
  readonly onChoose: (part: number) => void;
}

/** Names are written beside the parts of levels that have no more. */
const MOST_NAMED = 60;
const ROOM = 56;

/** The stretch that both directions are drawn over, so that they have the same measure. */
function stretchOf(values: readonly number[]): readonly [low: number, high: number] {
  let [low, high] = [Infinity, -Infinity];
  for (const value of values) [low, high] = [Math.min(low, value), Math.max(high, value)];
  return low > high ? [0, 1] : [low, high];
}

/** Where the parts of a level stand, from above: a wheel comes nearer, a drag moves, a press chooses. */
export function PartsAbove({ level, text, chosen, onChoose }: Props) {
  const hues = useHues();
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState<readonly [width: number, height: number]>();
  useEffect(() => {
    const watched = new ResizeObserver(([entry]) => {
      if (entry) setSize([entry.contentRect.width, entry.contentRect.height]);
    });
    watched.observe(box.current!);
    return () => watched.disconnect();
  }, []);
  const option = useMemo(() => {
    if (!size) return undefined;
    const { parts, axes } = level;
    const [x, y] = [0, 1].map((i) => stretchOf(parts.map(({ at }) => at[i]!)));
    const [width, height] = [Math.max(1, size[0] - 2 * ROOM), Math.max(1, size[1] - 2 * ROOM)];
    // Dots for a step of the level, the same in both directions.
    const scale = Math.min(width / (x![1] - x![0] || 1), height / (y![1] - y![0] || 1)) * 0.94;
    const axisOf = ([low, high]: readonly [number, number], room: number, name: string) => {
      const [middle, half] = [(low + high) / 2, room / scale / 2];
      return {
        ...{
          type: 'value',
          name,
          min: middle - half,
          max: middle + half,
          nameGap: 22,
          nameLocation: 'middle',
        },
        nameTextStyle: { color: hues.lines },
        axisLine: { onZero: false, lineStyle: { color: hues.lines } },
        axisLabel: {
          ...{ showMinLabel: false, showMaxLabel: false },
          color: hues.lines,
          formatter: (value: number) => String(Math.round(value * 10) / 10),
        },
        splitLine: { lineStyle: { color: hues.locked, opacity: 0.3 } },
      };
    };
    const low = text.trim().toLocaleLowerCase();
    // Thousands of parts are to be told apart still.
    const dots = parts.length > 5000 ? 3 : parts.length > 800 ? 5 : 9;
    return {
      grid: { left: ROOM, right: ROOM / 2, top: ROOM / 2, bottom: ROOM },
      xAxis: axisOf(x!, width, axes[0] ?? ''),
      yAxis: axisOf(y!, height, axes[1] ?? ''),
      dataZoom: [
        { type: 'inside', xAxisIndex: 0, filterMode: 'none' },
        { type: 'inside', yAxisIndex: 0, filterMode: 'none' },
      ],
      tooltip: {
        formatter: ({ dataIndex }: { dataIndex: number }) => {
          const own = document.createElement('span');
          own.textContent = parts[dataIndex]!.title;
          return own;
        },
      },
      series: [
        {
          type: 'scatter',
          data: parts.map(({ at, title }, i) => {
            const isFound = low !== '' && title.toLocaleLowerCase().includes(low);
            const isChosen = i === chosen;
            return {
              value: [at[0], at[1]],
              symbolSize: isChosen ? 18 : isFound ? dots + 4 : dots,
              ...(isChosen && { z: 5 }),
              itemStyle: {
                color: isChosen || isFound ? hues.changed : hues.kept,
                opacity: low === '' || isFound || isChosen ? 0.9 : 0.25,
                ...(isChosen && { borderColor: hues.lines, borderWidth: 2 }),
              },
              label: {
                ...{ show: isChosen || isFound || parts.length <= MOST_NAMED, formatter: title },
                ...{ position: 'right', color: hues.lines, fontSize: 12 },
                ...{ width: 140, overflow: 'truncate' },
              },
            };
          }),
          labelLayout: { hideOverlap: true },
        },
      ],
    };
  }, [level, size, text, chosen, hues]);
  return (
    <Box ref={box} sx={{ minWidth: 0, minHeight: 0, overflow: 'hidden' }}>
      {option && size && (
        <Chart
          option={option}
          height={size[1]}
          label={`From above: ${plural(level.parts.length, 'part')}${chosen === undefined ? '' : `, ${level.parts[chosen]?.title ?? ''} chosen`}`}
          onPress={onChoose}
        />
      )}
    </Box>
  );
}
