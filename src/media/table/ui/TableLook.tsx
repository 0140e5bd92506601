'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { LookProps } from '@/media/medium-ui';
import { PageLink } from '@/ui/kit/PageLink';
import { number } from '@/ui/format';

/** The first rows of a table, and the way to where it is read with all others of the game. */
export function TableLook({ gameId, data }: LookProps) {
  const { look } = data;
  if (look.sort !== 'table') return null;
  const [names = [], ...rows] = look.first;
  return (
    <>
      <Box sx={{ maxHeight: 280, overflow: 'auto', border: 1, borderColor: 'line', borderRadius: 1 }}>
        <Box component="table" aria-label="First rows" sx={{ borderCollapse: 'collapse', fontSize: 12.5 }}>
          <thead>
            <tr>
              {names.map((name, i) => (
                <Box key={i} component="th" sx={{ ...CELL, position: 'sticky', top: 0, bgcolor: 'panel' }}>
                  {name}
                </Box>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((cells, i) => (
              <tr key={i}>
                {cells.map((cell, n) => (
                  <Box key={n} component="td" title={cell} sx={CELL}>
                    {cell}
                  </Box>
                ))}
              </tr>
            ))}
          </tbody>
        </Box>
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mt: 0.5 }}>
        <Box sx={{ color: 'ink2', fontSize: 12.5, flex: 1 }}>
          {rows.length < look.rows ? `the first ${number(rows.length)} of ${number(look.rows)} rows` : ''}
        </Box>
        <Button
          size="small"
          component={PageLink}
          href={`/games/${gameId}/read?file=${data.archiveId}:${data.index}`}
        >
          Read it
        </Button>
      </Box>
    </>
  );
}

const CELL = {
  ...{ p: '3px 8px', textAlign: 'left', maxWidth: 200, overflow: 'hidden', textOverflow: 'ellipsis' },
  ...{ whiteSpace: 'nowrap', borderBottom: 1, borderColor: 'line' },
} as const;
