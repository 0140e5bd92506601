'use client';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import type { Region } from '@/media/picture/core/atlas';

const ROW = 34;

/** The parts of a sheet by name and size, each to be ticked. */
export function PartsList({
  regions,
  picked,
  onToggle,
}: {
  regions: readonly Region[];
  picked: ReadonlySet<string>;
  onToggle: (name: string) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: regions.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 8,
  });
  return (
    <Box
      ref={box}
      role="list"
      aria-label="Parts"
      sx={{ flex: 1, minHeight: 120, overflow: 'auto', border: 1, borderColor: 'line', borderRadius: 1 }}
    >
      <Box sx={{ height: rows.getTotalSize(), position: 'relative' }}>
        {rows.getVirtualItems().map(({ index, start }) => {
          const { name, x, y, width, height } = regions[index]!;
          return (
            <Box
              key={name}
              role="listitem"
              component="label"
              sx={{
                position: 'absolute',
                top: 0,
                left: 0,
                right: 0,
                height: ROW,
                display: 'flex',
                alignItems: 'center',
                gap: 0.5,
                pr: 1,
                borderBottom: 1,
                borderColor: 'line',
                cursor: 'pointer',
              }}
              style={{ transform: `translateY(${start}px)` }}
            >
              <Checkbox
                size="small"
                checked={picked.has(name)}
                onChange={() => onToggle(name)}
                slotProps={{ input: { 'aria-label': `Part ${name}` } }}
              />
              <Box
                className="mono"
                title={name}
                sx={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
              >
                {name}
              </Box>
              <Box sx={{ color: 'ink2', fontSize: 12.5, whiteSpace: 'nowrap' }} title={`at ${x}, ${y}`}>
                {width} x {height}
              </Box>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}
