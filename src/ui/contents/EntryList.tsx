'use client';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { bytes, folderOf, nameOf } from '../format';
import { StateMark } from '../kit/StateMark';
import { KindIcon } from './KindIcon';
import type { Entries, EntryItem } from './use-entries';
import { entryKey } from './url-state';

export interface ListProps {
  gameId: number;
  entries: Entries;
  selected: number;
  changed: ReadonlySet<string>;
  picks: ReadonlyMap<string, EntryItem>;
  onSelect: (index: number) => void;
  onPick: (item: EntryItem) => void;
  onRange: (first: number, last: number) => void;
}

const ROW = 34;

/** Rows of entries; only those in sight are made, however many there are. */
export function EntryList({ entries, selected, changed, picks, onSelect, onPick, onRange }: ListProps) {
  const box = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: entries.total,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const items = rows.getVirtualItems();
  const first = items[0]?.index ?? 0;
  const last = items.at(-1)?.index ?? 0;
  useEffect(() => onRange(first, last), [first, last, onRange]);
  useEffect(() => {
    if (selected >= 0) rows.scrollToIndex(selected, { align: 'auto' });
  }, [selected, rows]);
  return (
    <Box
      ref={box}
      role="listbox"
      aria-label="Entries"
      aria-rowcount={entries.total}
      sx={{ flex: 1, overflow: 'auto', minHeight: 0 }}
    >
      <Box sx={{ height: rows.getTotalSize(), position: 'relative' }}>
        {items.map(({ index, start }) => {
          const item = entries.at(index);
          return (
            <Box
              key={index}
              sx={{
                position: 'absolute',
                top: 0,
                left: 0,
                right: 0,
                height: ROW,
                transform: `translateY(${start}px)`,
              }}
            >
              {item ? (
                <EntryRow
                  item={item}
                  selected={index === selected}
                  changed={changed.has(`${item.archive}#${item.index}`)}
                  picked={picks.has(entryKey(item))}
                  onSelect={() => onSelect(index)}
                  onPick={() => onPick(item)}
                />
              ) : (
                <Box sx={{ px: 2, color: 'ink2' }}>…</Box>
              )}
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}

function EntryRow({
  item,
  selected,
  changed,
  picked,
  onSelect,
  onPick,
}: {
  item: EntryItem;
  selected: boolean;
  changed: boolean;
  picked: boolean;
  onSelect: () => void;
  onPick: () => void;
}) {
  return (
    <Box
      role="option"
      aria-selected={selected}
      onClick={onSelect}
      title={item.path}
      sx={{
        height: ROW,
        display: 'grid',
        gridTemplateColumns: '30px 26px minmax(0, 1fr) auto 72px 116px',
        alignItems: 'center',
        gap: 0.5,
        px: 1,
        cursor: 'pointer',
        borderBottom: 1,
        borderColor: 'line',
        bgcolor: selected ? 'tint' : 'transparent',
        boxShadow: selected ? (theme) => `inset 3px 0 ${theme.vars?.palette.brass}` : 'none',
        '&:hover': { bgcolor: 'tint' },
      }}
    >
      <Checkbox
        size="small"
        checked={picked}
        slotProps={{ input: { 'aria-label': `Pick ${item.path}`, tabIndex: -1 } }}
        onClick={(event) => event.stopPropagation()}
        onChange={onPick}
        sx={{ p: 0.25 }}
      />
      <KindIcon kind={item.kind} />
      <Box sx={{ minWidth: 0, display: 'flex', alignItems: 'baseline', gap: 1 }}>
        <Box
          className="mono"
          sx={{ fontWeight: 600, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
        >
          {nameOf(item.path)}
        </Box>
        <Box
          className="mono"
          sx={{
            color: 'ink2',
            fontSize: 11.5,
            flexShrink: 3,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            whiteSpace: 'nowrap',
          }}
        >
          {folderOf(item.path)}
        </Box>
      </Box>
      <Box>
        {item.problem ? (
          <StateMark tone="bad">problem</StateMark>
        ) : changed ? (
          <StateMark tone="look">changed</StateMark>
        ) : null}
      </Box>
      <Box sx={{ textAlign: 'right', fontSize: 13 }}>{bytes(item.size)}</Box>
      <Box
        className="mono"
        sx={{
          color: 'ink2',
          fontSize: 11.5,
          overflow: 'hidden',
          textOverflow: 'ellipsis',
          whiteSpace: 'nowrap',
          textAlign: 'right',
        }}
      >
        {nameOf(item.archive)}
      </Box>
    </Box>
  );
}
