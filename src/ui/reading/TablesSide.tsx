'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { ReadingOverview } from '@/server/reading/reading-view';
import { nameOf, number, plural } from '../format';

interface Props {
  readonly overview: ReadingOverview;
  readonly table: string;
  readonly onTable: (id: string) => void;
  readonly onOver: (over: string) => void;
}

/** The tables of the game, and what is asked of all of them. */
export function TablesSide({ overview, table, onTable, onOver }: Props) {
  const [part, setPart] = useState('');
  const low = part.trim().toLocaleLowerCase();
  const shown = overview.tables.filter(({ id }) => id.toLocaleLowerCase().includes(low));
  const counts = new Map<string, number>();
  for (const { id } of overview.tables) counts.set(nameOf(id), (counts.get(nameOf(id)) ?? 0) + 1);
  const likely = overview.links.filter(({ source }) => source === 'likely').length;
  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column', minHeight: 0 }}>
      <Box sx={{ p: 1, display: 'flex', flexDirection: 'column', gap: 0.75 }}>
        <TextField
          size="small"
          label="Tables"
          value={part}
          onChange={({ target }) => setPart(target.value)}
          fullWidth
        />
      </Box>
      <Box component="nav" aria-label="Tables" sx={{ flex: 1, overflow: 'auto', minHeight: 0 }}>
        {shown.map(({ id, rows, into }) => (
          <Box
            key={id}
            component="button"
            title={`${id}, ${plural(rows, 'row')}, named ${number(into)} times by others`}
            aria-current={id === table || undefined}
            onClick={() => onTable(id)}
            sx={{
              ...{ all: 'unset', boxSizing: 'border-box', display: 'flex', width: '100%', gap: 1 },
              ...{ px: 1.25, py: 0.6, cursor: 'pointer', fontSize: 14 },
              ...(id === table && { bgcolor: 'tint', fontWeight: 600 }),
              '&:hover': { bgcolor: 'tint' },
              '&:focus-visible': { outline: '2px solid', outlineColor: 'brass', outlineOffset: '-2px' },
            }}
          >
            <Box
              component="span"
              sx={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
            >
              {nameOf(id)}
              {counts.get(nameOf(id))! > 1 && (
                <Box component="span" sx={{ color: 'ink2', ml: 0.75, fontSize: 12.5 }}>
                  {folderOf(id)}
                </Box>
              )}
            </Box>
            <Box component="span" className="mono" sx={{ color: 'ink2', fontSize: 12.5 }}>
              {number(rows)}
            </Box>
          </Box>
        ))}
        {shown.length === 0 && <Box sx={{ p: 1.5, color: 'ink2' }}>No table is called so.</Box>}
      </Box>
      {overview.problems.length > 0 && (
        <Box
          component="details"
          sx={{ px: 1.25, py: 0.75, borderTop: 1, borderColor: 'line', bgcolor: 'lookBack', fontSize: 12.5 }}
        >
          <Box component="summary" sx={{ cursor: 'pointer' }}>
            {plural(overview.problems.length, 'file')} cannot be read
          </Box>
          <Box sx={{ maxHeight: 160, overflow: 'auto' }}>
            {overview.problems.map(({ path, why }) => (
              <Box key={path} sx={{ mt: 0.5, overflowWrap: 'anywhere' }}>
                <b>{path}</b>: {why}
              </Box>
            ))}
          </Box>
        </Box>
      )}
      <Box sx={{ p: 1, borderTop: 1, borderColor: 'line', display: 'flex', flexDirection: 'column' }}>
        <Box sx={{ fontSize: 12.5, color: 'ink2', px: 0.75 }}>
          {plural(overview.references, 'reference')} between rows
          {overview.isCut && '; there are more tables than are held'}
        </Box>
        <Button sx={LEFT} onClick={() => onOver('links')}>
          What points where{likely > 0 ? `, ${likely} to look at` : ''}
        </Button>
        <Button sx={LEFT} onClick={() => onOver('unread')}>
          What nothing names
        </Button>
        <Button sx={LEFT} onClick={() => onOver('words')}>
          Words for steps and maps
        </Button>
        <Button sx={LEFT} onClick={() => onOver('value')}>
          Where is a number or text?
        </Button>
      </Box>
    </Box>
  );
}

/** The folder that tells namesakes apart. */
const folderOf = (id: string): string => id.split('/').slice(-2, -1).join('');

const LEFT = { justifyContent: 'flex-start', textAlign: 'left' } as const;
