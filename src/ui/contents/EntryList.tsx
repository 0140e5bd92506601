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
  sort: string;
  order: string;
  onSort: (sort: string, order: string) => void;
}

const ROW = 34;
const COLUMNS = '30px 26px minmax(0, 1fr) auto 72px 72px 92px 116px';

/** What the rows can be put in the order of; sizes begin with the largest. */
const HEADS = [
  { sort: 'path', title: 'Path', first: 'up' },
  { sort: 'name', title: 'Name', first: 'up' },
  { sort: 'size', title: 'Size', first: 'down' },
  { sort: 'stored', title: 'Stored', first: 'down' },
  { sort: 'modified', title: 'Changed', first: 'down' },
  { sort: 'archive', title: 'Archive', first: 'up' },
] as const;

/** Rows of entries; only those in sight are made, however many there are. */
export function EntryList(props: ListProps) {
  const { entries, selected, changed, picks, onSelect, onPick, onRange } = props;
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
    <>
      <Heads {...props} />
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
    </>
  );
}

function Heads({ sort, order, onSort }: Pick<ListProps, 'sort' | 'order' | 'onSort'>) {
  const head = (at: (typeof HEADS)[number], align: 'left' | 'right') => {
    const isOn = (sort || 'path') === at.sort;
    const isDown = order === 'down';
    return (
      <Box
        key={at.sort}
        component="button"
        aria-label={`Order by ${at.title.toLowerCase()}`}
        aria-pressed={isOn}
        onClick={() => onSort(at.sort, isOn ? (isDown ? 'up' : 'down') : at.first)}
        sx={{
          all: 'unset',
          cursor: 'pointer',
          textAlign: align,
          fontWeight: isOn ? 700 : 400,
          color: isOn ? 'text.primary' : 'ink2',
          '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
        }}
      >
        {at.title}
        {isOn && (isDown ? ' ↓' : ' ↑')}
      </Box>
    );
  };
  const [byPath, byName, ...others] = HEADS;
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: COLUMNS,
        gap: 0.5,
        px: 1,
        py: 0.5,
        fontSize: 12.5,
        borderBottom: 1,
        borderColor: 'line',
        bgcolor: 'panel',
      }}
    >
      <span />
      <span />
      <Box sx={{ display: 'flex', gap: 1.5 }}>
        {head(byPath, 'left')}
        {head(byName, 'left')}
      </Box>
      <span />
      {others.map((at) => head(at, 'right'))}
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
        gridTemplateColumns: COLUMNS,
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
        {called(item) && (
          <Box sx={{ fontSize: 13, whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}>
            {called(item)}
          </Box>
        )}
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
        {item.facts.length > 0 && (
          <Box
            sx={{ color: 'ink2', fontSize: 12.5, flexShrink: 9, overflow: 'hidden', whiteSpace: 'nowrap' }}
            title={item.facts.map(([title, value]) => `${title} ${value}`).join(', ')}
          >
            {item.facts.map(([, value]) => value).join(', ')}
          </Box>
        )}
      </Box>
      <Box>
        {item.problem ? (
          <StateMark tone="bad">problem</StateMark>
        ) : changed ? (
          <StateMark tone="look">changed</StateMark>
        ) : item.guessed ? (
          <StateMark tone="look">guessed</StateMark>
        ) : !item.wins ? (
          <Box sx={{ fontSize: 12, color: 'ink2' }}>hidden</Box>
        ) : item.tags.length > 0 ? (
          <Box sx={{ fontSize: 12, color: 'ink2' }}>{item.tags.join(' ')}</Box>
        ) : null}
      </Box>
      <Box sx={{ textAlign: 'right', fontSize: 13 }}>{bytes(item.size)}</Box>
      <Box sx={{ textAlign: 'right', fontSize: 13, color: 'ink2' }}>{bytes(item.storedSize)}</Box>
      <Box sx={{ textAlign: 'right', fontSize: 12.5, color: 'ink2', whiteSpace: 'nowrap' }}>
        {item.modified ? day(item.modified) : ''}
      </Box>
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
        {item.archive === '.' ? 'loose' : nameOf(item.archive)}
      </Box>
    </Box>
  );
}

/** What people call it: the user's own name first, then those of an id table. */
const called = ({ alias, labels }: EntryItem): string => [alias, ...labels].filter(Boolean).join(', ');

const day = (seconds: number): string =>
  new Date(seconds * 1000).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });
