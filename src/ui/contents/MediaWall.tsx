'use client';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState, type ComponentType } from 'react';
import type { Run } from '@/core/catalogue';
import type { Head } from '@/media/head';
import { bytes, folderOf, nameOf, plural } from '../format';
import { StateMark } from '../kit/StateMark';
import type { ListProps } from './EntryList';
import { spelledHead } from '@/media/lenses';
import type { EntryItem } from './use-entries';
import { useHeads } from './use-heads';
import { entryKey } from './url-state';
import { rowOf, wallRows } from './wall-rows';

const CELL = 172;
const TALL = 176;
const TITLE = 34;

/** What is seen of an entry on a wall. */
export interface FaceProps {
  readonly gameId: number;
  readonly item: EntryItem;
}

export interface MediaWallProps extends ListProps {
  readonly onColumns: (columns: number) => void;
  readonly runs: readonly Run[] | undefined;
  readonly Face: ComponentType<FaceProps>;
  /** What one of them is called. */
  readonly noun: string;
  /** A word in a corner, and what it means; undefined where there is nothing to say. */
  readonly corner?: (head: Head | undefined, item: EntryItem) => readonly [string, string] | undefined;
}

/** Entries as a wall of thumbnails; only those in sight are made. */
export function MediaWall({
  gameId,
  entries,
  selected,
  changed,
  picks,
  onSelect,
  onPick,
  onRange,
  onColumns,
  runs,
  Face,
  noun,
  corner,
}: MediaWallProps) {
  const box = useRef<HTMLDivElement>(null);
  const [columns, setColumns] = useState(4);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setColumns(Math.max(1, Math.floor((entry.contentRect.width - 20) / CELL)));
    });
    if (box.current) observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  useEffect(() => onColumns(columns), [columns, onColumns]);
  const laid = useMemo(() => wallRows(entries.total, columns, runs), [entries.total, columns, runs]);
  const rows = useVirtualizer({
    count: laid.length,
    getScrollElement: () => box.current,
    estimateSize: (row) => (laid[row]?.sort === 'title' ? TITLE : TALL),
    overscan: 2,
  });
  useEffect(() => rows.measure(), [laid, rows]);
  const items = rows.getVirtualItems();
  const shown = items.map(({ index }) => laid[index]).filter((row) => row?.sort === 'entries');
  const first = shown[0]?.from ?? 0;
  const last = Math.max(first, (shown.at(-1)?.to ?? 1) - 1);
  useEffect(() => onRange(first, last), [first, last, onRange]);
  const named = new Map<string, number>();
  for (let i = first; i <= last && i < entries.total; i++) {
    const name = nameOf(entries.at(i)?.path ?? '');
    named.set(name, (named.get(name) ?? 0) + 1);
  }
  const headAt = useHeads(gameId, entries, first, Math.min(last, entries.total - 1), true);
  useEffect(() => {
    if (selected >= 0) rows.scrollToIndex(rowOf(laid, selected), { align: 'auto' });
  }, [selected, laid, rows]);
  return (
    <Box
      ref={box}
      role="grid"
      aria-label="Entries"
      aria-readonly
      aria-rowcount={laid.length}
      aria-colcount={columns}
      tabIndex={0}
      {...(selected >= 0 && { 'aria-activedescendant': cellId(selected) })}
      sx={{ flex: 1, overflow: 'auto', minHeight: 0, px: 1.25, pt: 1.25 }}
    >
      <Box role="rowgroup" sx={{ height: rows.getTotalSize(), position: 'relative' }}>
        {items.map(({ index: number, start }) => {
          const row = laid[number];
          if (!row) return null;
          if (row.sort === 'title')
            return (
              <FolderTitle key={number} folder={row.folder} count={plural(row.count, noun)} start={start} />
            );
          return (
            <Box
              key={number}
              role="row"
              aria-rowindex={number + 1}
              sx={{
                position: 'absolute',
                left: 0,
                right: 0,
                height: TALL,
                transform: `translateY(${start}px)`,
                display: 'grid',
                gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))`,
                gap: 1.25,
              }}
            >
              {Array.from({ length: row.to - row.from }, (_, i) => row.from + i).map((index) => {
                const item = entries.at(index);
                return item ? (
                  <Cell
                    key={entryKey(item)}
                    {...{ gameId, index, Face }}
                    word={corner?.(headAt(index), item)}
                    item={item}
                    isTwin={(named.get(nameOf(item.path)) ?? 0) > 1}
                    head={headAt(index)}
                    selected={index === selected}
                    changed={changed.has(`${item.archive}#${item.index}`)}
                    picked={picks.has(entryKey(item))}
                    onSelect={() => onSelect(index)}
                    onPick={() => onPick(item)}
                  />
                ) : (
                  <Box
                    key={index}
                    role="gridcell"
                    sx={{ border: 1, borderColor: 'line', borderRadius: 1, mb: 1.25 }}
                  />
                );
              })}
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}

const cellId = (index: number): string => `entry-${index}`;

/** The folder of those below. */
function FolderTitle({ folder, count, start }: { folder: string; count: string; start: number }) {
  return (
    <Box
      role="row"
      sx={{
        position: 'absolute',
        left: 0,
        right: 0,
        height: TITLE,
        transform: `translateY(${start}px)`,
        display: 'flex',
        alignItems: 'baseline',
        gap: 1,
        pt: 1,
        overflow: 'hidden',
        whiteSpace: 'nowrap',
      }}
    >
      <Box
        role="rowheader"
        className="mono"
        title={folder}
        sx={{ fontWeight: 700, overflow: 'hidden', textOverflow: 'ellipsis' }}
      >
        {folder || 'at the top'}
      </Box>
      <Box role="gridcell" sx={{ color: 'ink2', fontSize: 12.5 }}>
        {count}
      </Box>
    </Box>
  );
}

function Cell({
  gameId,
  index,
  item,
  Face,
  word,
  isTwin,
  head,
  selected,
  changed,
  picked,
  onSelect,
  onPick,
}: {
  /** Whether another one in sight is called the same, so that the folder tells them apart. */
  isTwin: boolean;
  gameId: number;
  index: number;
  item: EntryItem;
  Face: ComponentType<FaceProps>;
  word: readonly [string, string] | undefined;
  head: Head | undefined;
  selected: boolean;
  changed: boolean;
  picked: boolean;
  onSelect: () => void;
  onPick: () => void;
}) {
  return (
    <Box
      role="gridcell"
      id={cellId(index)}
      data-entry={index}
      aria-selected={selected}
      onClick={onSelect}
      title={item.path}
      sx={{
        position: 'relative',
        mb: 1.25,
        border: 1,
        borderColor: selected ? 'brass' : 'line',
        boxShadow: selected ? (theme) => `0 0 0 1px ${theme.vars?.palette.brass}` : 'none',
        borderRadius: 1,
        overflow: 'hidden',
        bgcolor: 'background.paper',
        cursor: 'pointer',
        display: 'flex',
        flexDirection: 'column',
      }}
    >
      <Box
        sx={{
          flex: 1,
          minHeight: 0,
          bgcolor: 'muteBack',
          display: 'flex',
          alignItems: 'center',
          justifyContent: 'center',
        }}
      >
        <Face {...{ gameId, item }} />
      </Box>
      <Checkbox
        size="small"
        checked={picked}
        onChange={onPick}
        onClick={(event) => event.stopPropagation()}
        slotProps={{ input: { 'aria-label': `Pick ${item.path}`, tabIndex: -1 } }}
        sx={{ position: 'absolute', top: 2, right: 2, p: 0.25, bgcolor: 'background.paper', borderRadius: 1 }}
      />
      {(changed || item.problem) && (
        <Box sx={{ position: 'absolute', top: 6, left: 6 }}>
          {item.problem ? (
            <StateMark tone="bad">problem</StateMark>
          ) : (
            <StateMark tone="look">changed</StateMark>
          )}
        </Box>
      )}
      {word && (
        <Box
          title={word[1]}
          sx={{
            position: 'absolute',
            right: 6,
            bottom: 46,
            px: 0.6,
            borderRadius: 0.5,
            fontSize: 11,
            lineHeight: '16px',
            color: 'text.primary',
            bgcolor: 'background.paper',
            border: 1,
            borderColor: 'line',
          }}
        >
          {word[0]}
        </Box>
      )}
      <Box sx={{ px: 1, py: 0.6 }}>
        <Box className="mono" sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
          {nameOf(item.path)}
        </Box>
        <Box
          sx={{
            fontSize: 12,
            color: 'ink2',
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            whiteSpace: 'nowrap',
          }}
        >
          {isTwin
            ? folderOf(item.path)
            : `${head ? `${spelledHead(head) || bytes(item.size)}, ` : ''}${nameOf(item.archive)}`}
        </Box>
      </Box>
    </Box>
  );
}
