'use client';
import Box from '@mui/material/Box';
import { memo } from 'react';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { EntryPage } from '@/server/entries/entries';
import { number } from '../format';

/** Filters by the fields that scripts show of entries; what is chosen goes into the search. */
export const Facets = memo(function Facets({
  facts,
  search,
  onSearch,
}: {
  facts: EntryPage['facts'];
  search: string;
  onSearch: (search: string) => void;
}) {
  // A value in double quotes may have blanks in it.
  const words = search.match(/(?:[^\s"]|"[^"]*"?)+/g) ?? [];
  return facts.map(({ title, key, values }) => {
    const start = `${key}:`;
    const chosen = words.find((word) => word.toLowerCase().startsWith(start));
    const value = chosen?.slice(start.length).replace(/^"|"$/g, '') ?? '';
    const choose = (next: string): void => {
      const others = words.filter((word) => word !== chosen);
      const spelled = /\s/.test(next) ? `"${next}"` : next;
      onSearch([...others, ...(next === '' ? [] : [start + spelled])].join(' '));
    };
    return (
      <TextField
        key={title}
        select
        variant="standard"
        value={value}
        onChange={({ target }) => choose(target.value)}
        slotProps={{
          input: { disableUnderline: true, sx: { fontSize: 13 } },
          select: {
            displayEmpty: true,
            renderValue: (shown) => (
              <>
                <Box component="span" sx={{ color: 'ink2' }}>
                  {title}:{' '}
                </Box>
                {shown === '' ? 'all' : String(shown)}
              </>
            ),
            SelectDisplayProps: { 'aria-label': `Filter by ${title}` },
          },
        }}
      >
        <MenuItem value="">
          <Box component="span" sx={{ color: 'ink2' }}>
            all
          </Box>
        </MenuItem>
        {value !== '' && !values.some((one) => one.value === value) && (
          <MenuItem value={value}>{value}</MenuItem>
        )}
        {values.map((one) => (
          <MenuItem key={one.value} value={one.value}>
            {one.value}, {number(one.count)}
          </MenuItem>
        ))}
      </TextField>
    );
  });
});
