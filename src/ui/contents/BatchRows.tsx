'use client';
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import type { BatchRow } from './use-batch';

const WORDS = {
  path: 'by its path',
  name: 'by its name',
  label: 'by what it is called',
  number: 'by the number in its name',
} as const;

const ROW = 40;
const LEFT_OUT = -1;

/** Which file goes where, and how that was found; what may be meant for several is chosen here. */
export function BatchRows({
  rows,
  disabled,
  onChoose,
}: {
  rows: readonly BatchRow[];
  disabled: boolean;
  onChoose: (row: number, entry: number) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 10,
  });
  return (
    <Box
      ref={box}
      role="list"
      aria-label="Files and their places"
      sx={{ maxHeight: 380, overflow: 'auto', border: 1, borderColor: 'line', borderRadius: 1 }}
    >
      <Box sx={{ position: 'relative', height: list.getTotalSize() }}>
        {list.getVirtualItems().map(({ index, start }) => {
          const { file, by, entries, chosen, problem } = rows[index]!;
          return (
            <Box
              key={index}
              role="listitem"
              aria-label={file.name}
              sx={{
                ...{ position: 'absolute', top: start, left: 0, right: 0, height: ROW, px: 1 },
                ...{ display: 'grid', gridTemplateColumns: '1fr 1.4fr 170px', alignItems: 'center', gap: 1 },
                ...{ borderBottom: 1, borderColor: 'line' },
              }}
            >
              <Box className="mono" title={file.name} sx={cut}>
                {file.name}
              </Box>
              {entries.length === 0 ? (
                <Box sx={{ color: 'look' }}>no entry of the list</Box>
              ) : (
                <Select
                  variant="standard"
                  size="small"
                  disabled={disabled}
                  value={chosen}
                  onChange={({ target }) => onChoose(index, Number(target.value))}
                  inputProps={{ 'aria-label': `Place of ${file.name}` }}
                  sx={{ minWidth: 0, fontSize: 13 }}
                >
                  {entries.map(({ path, archive, label }, i) => (
                    <MenuItem key={i} value={i}>
                      {path}
                      {label && `, ${label}`}
                      {entries.length > 1 && ` in ${archive}`}
                    </MenuItem>
                  ))}
                  <MenuItem value={LEFT_OUT}>
                    {entries.length > 1 ? 'one of these, choose' : 'left out'}
                  </MenuItem>
                </Select>
              )}
              <Box sx={{ ...cut, fontSize: 12.5, color: problem ? 'bad' : 'ink2' }} title={problem}>
                {problem ?? (by && WORDS[by])}
              </Box>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}

const cut = { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' } as const;
