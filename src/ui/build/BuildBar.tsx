'use client';
import Box from '@mui/material/Box';
import type { ArchiveReport } from '@/server/building/build-files';
import { bytes } from '../format';
import { Chart } from '../kit/Chart';
import { useHues, type Hues } from '../kit/use-hues';

const SORTS: readonly (readonly [string, keyof Hues, string])[] = [
  ['kept entry', 'kept', 'copied as stored'],
  ['changed entry', 'changed', 'changed'],
  ['table', 'table', 'tables'],
  ['unexplained', 'unexplained', 'kept, unexplained'],
];

/** What the new archive is made of, from its first byte to its last. */
export function BuildBar({ report }: { report: ArchiveReport }) {
  const hues = useHues();
  // What has hardly any bytes is drawn a little wider, so that it can be seen at all.
  const least = report.sizeAfter / 250;
  const totals = new Map<string, number>();
  for (const { sort, length } of report.bar) totals.set(sort, (totals.get(sort) ?? 0) + length);
  return (
    <Box sx={{ mb: 1 }}>
      <Chart
        label={`What ${report.archive} is made of`}
        height={34}
        option={{
          grid: { left: 0, right: 0, top: 2, bottom: 2 },
          xAxis: { type: 'value', show: false, max: 'dataMax' },
          yAxis: { type: 'category', show: false, data: [''] },
          tooltip: {
            trigger: 'item',
            confine: true,
            formatter: ({ data }: { data: { note: string } }) => data.note,
          },
          series: report.bar.map(({ sort, length }) => {
            const [, hue, word] = SORTS.find(([name]) => name === sort) ?? SORTS[3]!;
            return {
              type: 'bar',
              stack: 'file',
              barWidth: '100%',
              data: [{ value: Math.max(length, least), note: `${word}, ${bytes(length)}` }],
              itemStyle: { color: hues[hue] },
            };
          }),
        }}
      />
      <Box sx={{ display: 'flex', gap: 2, fontSize: 12.5, color: 'ink2' }}>
        {SORTS.filter(([sort]) => totals.has(sort)).map(([sort, hue, word]) => (
          <Box key={sort} sx={{ display: 'flex', alignItems: 'center', gap: 0.6 }}>
            <Box sx={{ width: 11, height: 11, borderRadius: 0.5 }} style={{ background: hues[hue] }} />
            {word}, {bytes(totals.get(sort)!)}
          </Box>
        ))}
      </Box>
    </Box>
  );
}
