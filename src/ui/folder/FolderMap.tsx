'use client';
import { useRouter } from 'next/navigation';
import type { ArchiveView } from '@/server/archives';
import { bytes } from '../format';
import { Chart } from '../kit/Chart';
import { useHues } from '../kit/use-hues';

/** The archives by size and state; a press goes to what is in one. */
export function FolderMap({
  gameId,
  archives,
  height = 300,
}: {
  gameId: number;
  archives: readonly ArchiveView[];
  height?: number;
}) {
  const hues = useHues();
  const router = useRouter();
  const colour = { open: hues.open, locked: hues.locked, broken: hues.broken, gone: hues.unexplained };
  return (
    <Chart
      label="Archives by size"
      height={height}
      onClick={(data) => {
        const { id, state } = data as { id: number; state: string };
        router.push(
          state === 'open'
            ? `/games/${gameId}/contents?archive=${id}`
            : `/games/${gameId}/locks?archive=${id}`,
        );
      }}
      option={{
        tooltip: {
          formatter: ({ data }: { data: { name: string; note: string } }) => `${data.name}<br>${data.note}`,
        },
        series: [
          {
            type: 'treemap',
            roam: false,
            nodeClick: false,
            breadcrumb: { show: false },
            left: 0,
            right: 0,
            top: 0,
            bottom: 0,
            itemStyle: { borderColor: hues.gap, borderWidth: 0, gapWidth: 3 },
            label: {
              color: hues.ink,
              fontSize: 13,
              lineHeight: 19,
              position: 'insideTopLeft',
              formatter: ({ data }: { data: { name: string; note: string } }) => `${data.name}\n${data.note}`,
            },
            data: archives.map(({ id, path, size, state }) => ({
              id,
              state,
              // A treemap hides what has no area to speak of; even the smallest archive should be there.
              value: Math.max(size, archives.reduce((sum, one) => sum + one.size, 0) / 60),
              name: path,
              note: `${bytes(size)}, ${state}`,
              itemStyle: { color: colour[state] },
            })),
          },
        ],
      }}
    />
  );
}
