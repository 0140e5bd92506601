'use client';
import Box from '@mui/material/Box';
import LinearProgress from '@mui/material/LinearProgress';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { PageLink } from '../kit/PageLink';
import { useState } from 'react';
import type { ArchiveView } from '@/server/games/archives';
import type { MapPart } from '@/server/entries/contents-map';
import { bytes, plural } from '../format';
import { sheet } from '../kit/Screen';
import { useHues } from '../kit/use-hues';
import { useContentsMap } from '../queries';

type By = 'archive' | 'folder' | 'kind';

interface Stretch {
  readonly name: string;
  readonly note: string;
  readonly size: number;
  /** Where a press on it goes. */
  readonly address: string;
  readonly colour: string;
}

const TITLES: Record<By, string> = {
  archive: 'Archives by size',
  folder: 'Folders by size',
  kind: 'Kinds by size',
};

/** The game by size: its archives, or what answers by folder or by kind, the largest first. A press goes to what is in one. */
export function FolderMap({ gameId, archives }: { gameId: number; archives: readonly ArchiveView[] }) {
  const hues = useHues();
  const [by, setBy] = useState<By>('archive');
  const { data: map } = useContentsMap(gameId, by !== 'archive');
  const colour = { open: hues.open, locked: hues.locked, broken: hues.broken, gone: hues.unexplained };
  const ofArchives = (): Stretch[] =>
    archives.map(({ id, path, size, state, isMaskedFile }) => ({
      name: path,
      size,
      note: isMaskedFile ? `${state}, under a mask` : state,
      address:
        state === 'open' ? `/games/${gameId}/contents?archive=${id}` : `/games/${gameId}/locks?archive=${id}`,
      colour: colour[state],
    }));
  const ofParts = (parts: readonly MapPart[], key: 'folder' | 'kind'): Stretch[] =>
    parts.map(({ name, bytes: size, count, target }) => ({
      name: key === 'folder' ? `${name}/` : name,
      size,
      note: plural(count, 'entry', 'entries'),
      address: `/games/${gameId}/contents?${key}=${encodeURIComponent(target)}`,
      colour: hues.open,
    }));
  const rows =
    by === 'archive' ? ofArchives() : ofParts((by === 'folder' ? map?.folders : map?.kinds) ?? [], by);
  rows.sort((a, b) => b.size - a.size);
  const largest = Math.max(1, ...rows.map(({ size }) => size));
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
      <Box role="list" aria-label={TITLES[by]} sx={{ ...sheet, maxHeight: 330, overflow: 'auto' }}>
        {rows.map((row) => (
          <Row key={row.name} row={row} largest={largest} />
        ))}
      </Box>
    </>
  );
}

function Row({ row: { name, note, size, address, colour }, largest }: { row: Stretch; largest: number }) {
  return (
    <Box role="listitem" sx={{ borderBottom: 1, borderColor: 'line', '&:last-child': { borderBottom: 0 } }}>
      <Box
        component={PageLink}
        href={address}
        sx={{
          display: 'grid',
          gridTemplateColumns: 'minmax(0, 1fr) 30% 84px 130px',
          columnGap: 1.5,
          alignItems: 'center',
          px: 1.5,
          py: 0.6,
          color: 'text.primary',
          textDecoration: 'none',
          '&:hover': { bgcolor: 'tint' },
          '&:focus-visible': { outline: '2px solid', outlineColor: 'brass', outlineOffset: -2 },
        }}
      >
        <Box
          className="mono"
          title={name}
          sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
        >
          {name}
        </Box>
        <LinearProgress
          variant="determinate"
          aria-hidden
          value={Math.max(0.7, (100 * size) / largest)}
          sx={{
            height: 12,
            borderRadius: 0.5,
            bgcolor: 'tint',
            '& .MuiLinearProgress-bar': { bgcolor: colour },
          }}
        />
        <Box sx={{ textAlign: 'right', fontSize: 13 }}>{bytes(size)}</Box>
        <Box sx={{ color: 'ink2', fontSize: 13 }}>{note}</Box>
      </Box>
    </Box>
  );
}
