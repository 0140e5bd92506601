'use client';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { ArchiveView } from '@/server/archives';
import type { MapPart } from '@/server/contents-map';
import { bytes, plural } from '../format';
import { Chart } from '../kit/Chart';
import { useHues } from '../kit/use-hues';
import { useContentsMap } from '../queries';

type By = 'archive' | 'folder' | 'kind';

interface Area {
  name: string;
  note: string;
  value: number;
  /** Where a press on it goes. */
  address: string;
  itemStyle?: { color: string };
  children?: Area[];
}

/** The game by size: its archives, what answers by folder, or by kind. A press goes to what is in an area. */
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
  const { palette } = useTheme();
  const router = useRouter();
  const [by, setBy] = useState<By>('archive');
  const { data: map } = useContentsMap(gameId, by !== 'archive');
  const colour = { open: hues.open, locked: hues.locked, broken: hues.broken, gone: hues.unexplained };
  const whole = archives.reduce((sum, one) => sum + one.size, 0);
  const ofArchives = (): Area[] =>
    archives.map(({ id, path, size, state }) => ({
      // A treemap hides what has no area to speak of; even the smallest archive should be there.
      value: Math.max(size, whole / 60),
      name: path,
      note: `${bytes(size)}, ${state}`,
      address:
        state === 'open' ? `/games/${gameId}/contents?archive=${id}` : `/games/${gameId}/locks?archive=${id}`,
      itemStyle: { color: colour[state] },
    }));
  const ofParts = (parts: readonly MapPart[], key: 'folder' | 'kind'): Area[] =>
    parts.map(({ name, bytes: size, count, target, inner }) => ({
      name,
      value: Math.max(size, 1),
      note: `${bytes(size)}, ${plural(count, 'entry', 'entries')}`,
      address: `/games/${gameId}/contents?${key}=${encodeURIComponent(target)}`,
      ...(inner && { children: ofParts(inner, key) }),
      itemStyle: { color: hues.open },
    }));
  const data =
    by === 'archive' ? ofArchives() : ofParts((by === 'folder' ? map?.folders : map?.kinds) ?? [], by);
  return (
    <>
      <Box sx={{ mb: 1 }}>
        <ToggleButtonGroup
          size="small"
          exclusive
          value={by}
          aria-label="Show the game by"
          onChange={(_event, value: By | null) => value && setBy(value)}
        >
          <ToggleButton value="archive">Archives</ToggleButton>
          <ToggleButton value="folder">Folders</ToggleButton>
          <ToggleButton value="kind">Kinds</ToggleButton>
        </ToggleButtonGroup>
      </Box>
      <Chart
        label={{ archive: 'Archives by size', folder: 'Folders by size', kind: 'Kinds by size' }[by]}
        height={height}
        onClick={(area) => router.push((area as Area).address)}
        option={{
          tooltip: { formatter: ({ data: area }: { data: Area }) => `${area.name}<br>${area.note}` },
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
              // The root is none of ours, and has no name.
              levels: [{ upperLabel: { show: false } }],
              upperLabel: {
                show: by === 'folder',
                height: 24,
                color: palette.text.primary,
                fontSize: 13,
                fontWeight: 700,
                formatter: ({ data: area }: { data?: Area }) => area?.name ?? '',
              },
              label: {
                color: hues.ink,
                fontSize: 13,
                lineHeight: 19,
                position: 'insideTopLeft',
                formatter: ({ data: area }: { data: Area }) => `${area.name}\n${area.note}`,
              },
              data,
            },
          ],
        }}
      />
    </>
  );
}
