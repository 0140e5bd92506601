'use client';
import Box from '@mui/material/Box';
import { memo } from 'react';
import type { ArchiveView } from '@/server/games/archives';
import { number } from '../format';
import { useArchives } from '../queries';

/** Every open archive as a root of its own, in load order, with all that it holds, whether another hides it or not. */
export const ArchiveRoots = memo(function ArchiveRoots({
  gameId,
  chosen,
  onChoose,
}: {
  gameId: number;
  /** Number of the chosen archive as the address has it; empty for none. */
  chosen: string;
  onChoose: (archive: string) => void;
}) {
  const { data = [] } = useArchives(gameId);
  const open = data.filter(({ state, entries }) => state === 'open' && entries > 0);
  const masked = open.filter(({ isMaskedFile }) => isMaskedFile);
  return (
    <Box role="list" aria-label="Archives as roots" sx={{ flex: 1, minHeight: 0, overflow: 'auto', pb: 1 }}>
      {open
        .filter(({ isMaskedFile }) => !isMaskedFile)
        .map((archive) => (
          <Root
            key={archive.id}
            archive={archive}
            isChosen={chosen === String(archive.id)}
            onChoose={onChoose}
          />
        ))}
      {masked.length > 0 && (
        <Box sx={{ px: 1.5, py: 0.5, color: 'ink2', fontSize: 12.5 }}>
          and {number(masked.length)} masked files, which are in the tree
        </Box>
      )}
    </Box>
  );
});

function Root({
  archive: { id, path, sort, entries },
  isChosen,
  onChoose,
}: {
  archive: ArchiveView;
  isChosen: boolean;
  onChoose: (archive: string) => void;
}) {
  const steps = path.split('//');
  const name = sort === 'loose' ? 'Loose files' : steps.at(-1)!.split('/').at(-1)!;
  return (
    <Box role="listitem">
      <Box
        component="button"
        aria-current={isChosen}
        title={path === '.' ? 'Files of the folder that are in no archive' : path}
        onClick={() => onChoose(isChosen ? '' : String(id))}
        sx={{
          all: 'unset',
          boxSizing: 'border-box',
          width: '100%',
          height: 26,
          display: 'flex',
          alignItems: 'center',
          gap: 1,
          pl: 1.5 + 1.5 * (steps.length - 1),
          pr: 1.5,
          cursor: 'pointer',
          fontWeight: isChosen ? 700 : 400,
          bgcolor: isChosen ? 'tint' : 'transparent',
          '&:hover': { bgcolor: 'tint' },
          '&:focus-visible': { outline: '2px solid', outlineColor: 'brass', outlineOffset: -2 },
        }}
      >
        <Box
          className="mono"
          sx={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
        >
          {name}
        </Box>
        <Box sx={{ color: 'ink2', fontSize: 12.5 }}>{number(entries)}</Box>
      </Box>
    </Box>
  );
}
