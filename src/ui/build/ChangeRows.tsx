'use client';
import CompareArrowsRounded from '@mui/icons-material/CompareArrowsRounded';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import { useState } from 'react';
import type { ChangeView } from '@/server/mods/mods';
import { FIT_TONES } from '../changes/fit-tones';
import { sizeWords } from '../changes/size-words';
import { CompareChange } from '../compare/CompareDialog';
import { nameOf } from '../format';
import { sheet } from '../kit/Screen';
import { StateMark } from '../kit/StateMark';

const clipped = { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' } as const;

/** What goes into a build, a row each, with the old and new bytes of each a press away. */
export function ChangeRows({
  gameId,
  modId,
  changes,
}: {
  gameId: number;
  modId: number;
  changes: readonly ChangeView[];
}) {
  const [compared, setCompared] = useState<ChangeView>();
  return (
    <Box sx={{ ...sheet, mt: 1 }} role="list" aria-label="What goes in">
      {changes.map((change) => (
        <Box
          key={change.id}
          role="listitem"
          sx={{
            display: 'grid',
            gridTemplateColumns: 'minmax(0, 1.3fr) 118px minmax(0, 1fr) 132px 34px',
            gap: 1.5,
            px: 1.5,
            py: 0.5,
            minHeight: 38,
            borderBottom: 1,
            borderColor: 'line',
            alignItems: 'center',
          }}
        >
          <Box className="mono" title={change.path} sx={clipped}>
            {change.path}
          </Box>
          <StateMark tone={FIT_TONES[change.fit]}>
            {change.action === 'remove' ? 'taken out' : change.fit}
          </StateMark>
          <Box title={change.findings[0]?.what} sx={{ fontSize: 13, color: 'ink2', ...clipped }}>
            {change.findings[0]?.what}
          </Box>
          <Box sx={{ fontSize: 13, textAlign: 'right' }}>{sizeWords(change)}</Box>
          {change.action === 'replace' && change.preparedSize !== null && (
            <IconButton
              size="small"
              title="Old and new bytes side by side"
              aria-label={`Old and new bytes of ${nameOf(change.path)}`}
              onClick={() => setCompared(change)}
            >
              <CompareArrowsRounded fontSize="small" />
            </IconButton>
          )}
        </Box>
      ))}
      {compared && (
        <CompareChange
          gameId={gameId}
          modId={modId}
          change={compared}
          onClose={() => setCompared(undefined)}
        />
      )}
    </Box>
  );
}
