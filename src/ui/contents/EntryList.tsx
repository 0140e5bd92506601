'use client';
import Box from '@mui/material/Box';
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useEffect, useRef, useState, type CSSProperties } from 'react';
import type { Head } from '@/media/head';
import { bytes, day, folderOf, nameOf } from '../format';
import { StateMark } from '../kit/StateMark';
import { KindIcon } from './KindIcon';
import type { Lens } from './lens';
import type { Entries, EntryItem } from './use-entries';
import { useHeads } from './use-heads';
import { entryKey } from './url-state';

export interface ListProps {
  gameId: number;
  lens: Lens;
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

/** Below this width names come first, and what stands beside them is left to the inspector. */
const NARROW = 620;
/** Below this width, columns of a kind stand where the archive would, which the tree and the inspector say, too. */
const MIDDLING = 820;
const ROW = 34;
/** Height of rows with a second line. */
const TALL_ROW = 52;

/** Columns of a lens: its own in place of those that every entry has. */
function gridOf({ columns }: Lens, room: Room, sort: string): string {
  if (room === 'little')
    return [
      '30px 26px minmax(0, 1fr) auto 72px',
      ...narrowColumns(columns, sort).map(({ width }) => width),
    ].join(' ');
  const own = columns.length > 0 ? columns.map(({ width }) => width).join(' ') : '72px 92px';
  return `30px 26px minmax(0, 1fr) auto 72px ${own}${hasArchive(columns, room) ? ' 116px' : ''}`;
}

/** Where there is little room, the one that the list is in the order of stays. */
const narrowColumns = (columns: Lens['columns'], sort: string): Lens['columns'] =>
  columns.filter((column) => column.sort !== undefined && column.sort === sort);

type Room = 'little' | 'middling' | 'much';

const roomOf = (width: number): Room => (width < NARROW ? 'little' : width < MIDDLING ? 'middling' : 'much');

const hasArchive = (columns: Lens['columns'], room: Room): boolean =>
  room === 'much' || (room === 'middling' && columns.length === 0);

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
  const { gameId, lens, entries, selected, changed, picks, sort, onSelect, onPick, onRange } = props;
  const height = lens.second ? TALL_ROW : ROW;
  const box = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState<Room>('much');
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setRoom(roomOf(entry.contentRect.width));
    });
    if (box.current) observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  const rows = useVirtualizer({
    count: entries.total,
    getScrollElement: () => box.current,
    estimateSize: () => height,
    overscan: 8,
  });
  const items = rows.getVirtualItems();
  // Rows that leave the sight become those that enter it: to fill one anew costs less than to make one.
  const pool = 2 ** Math.ceil(Math.log2(items.length + 1));
  const first = items[0]?.index ?? 0;
  const last = items.at(-1)?.index ?? 0;
  useEffect(() => onRange(first, last), [first, last, onRange]);
  useEffect(() => rows.measure(), [height, rows]);
  const headAt = useHeads(gameId, entries, first, last, lens.columns.length > 0);
  useEffect(() => {
    if (selected >= 0) rows.scrollToIndex(selected, { align: 'auto' });
  }, [selected, rows]);
  return (
    <>
      <Heads {...props} room={room} />
      <Box
        ref={box}
        role="grid"
        aria-label="Entries"
        aria-rowcount={entries.total}
        aria-busy={entries.isBefore}
        aria-readonly
        tabIndex={0}
        {...(selected >= 0 && { 'aria-activedescendant': rowId(selected) })}
        style={{ '--grid': gridOf(lens, room, sort), '--row': `${height}px` } as CSSProperties}
        sx={{
          ...{ flex: 1, overflow: 'auto', minHeight: 0, ...ROWS },
          // Rows of the search before are paler, once the next takes long enough to be seen.
          '&[aria-busy=true]': { opacity: 0.55, transition: 'opacity 0.1s 0.2s' },
        }}
      >
        <Box role="rowgroup" sx={{ height: rows.getTotalSize(), position: 'relative' }}>
          {items.map(({ index, start }) => {
            const item = entries.at(index);
            return (
              <div key={index % pool} className="slot" style={{ transform: `translateY(${start}px)` }}>
                <EntryRow
                  index={index}
                  item={item ?? WAITING}
                  {...{ lens, room, sort }}
                  head={item && headAt(index)}
                  selected={index === selected}
                  changed={item !== undefined && changed.has(`${item.archive}#${item.index}`)}
                  picked={item !== undefined && picks.has(entryKey(item))}
                  onSelect={onSelect}
                  onPick={onPick}
                />
              </div>
            );
          })}
        </Box>
      </Box>
    </>
  );
}

/** By which the list says which of its rows is the active one. */
const rowId = (index: number): string => `entry-${index}`;

function Heads({
  sort,
  order,
  onSort,
  lens,
  room,
}: Pick<ListProps, 'sort' | 'order' | 'onSort' | 'lens'> & { room: Room }) {
  const isNarrow = room === 'little';
  const head = (at: { sort: string; title: string; first: string }, align: 'left' | 'right') => {
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
  const [byPath, byName, bySize, byStored, byChange, byArchive] = HEADS;
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: gridOf(lens, room, sort),
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
      {head(bySize, 'right')}
      {!isNarrow && lens.columns.length === 0 && [byStored, byChange].map((at) => head(at, 'right'))}
      {(isNarrow ? narrowColumns(lens.columns, sort) : lens.columns).map(
        ({ title, sort: by, first = 'up' }) =>
          by ? (
            head({ sort: by, title, first }, 'right')
          ) : (
            <Box key={title} sx={{ textAlign: 'right', color: 'ink2' }}>
              {title}
            </Box>
          ),
      )}
      {hasArchive(lens.columns, room) && head(byArchive, 'right')}
    </Box>
  );
}

/** Stands in a row until its entry is here. It has the elements of a row, so that nothing is made anew then. */
const WAITING: EntryItem = {
  ...{ archiveId: -1, index: -1, path: '…', archive: '', named: true, guessed: false, hash: null },
  ...{ storedSize: 0, size: 0, modified: null, kind: 'data', problem: false, wins: true },
  ...{ labels: [], alias: '', tags: [], facts: [] },
};

/**
 * One row. Plain elements under the list's own styles, kept from being made anew as long as nothing of it changes: while
 * one scrolls, dozens come into sight between two pictures of the screen.
 */
const EntryRow = memo(function EntryRow({
  index,
  item,
  lens,
  room,
  sort,
  head,
  selected,
  changed,
  picked,
  onSelect,
  onPick,
}: {
  room: Room;
  sort: string;
  index: number;
  item: EntryItem;
  lens: Lens;
  head: Head | undefined;
  selected: boolean;
  changed: boolean;
  picked: boolean;
  onSelect: (index: number) => void;
  onPick: (item: EntryItem) => void;
}) {
  const people = called(item);
  const isNarrow = room === 'little';
  const isWaiting = item === WAITING;
  return (
    // The grid has the focus and says which row is meant (aria-activedescendant); its keys are handled there.
    // eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/interactive-supports-focus
    <div
      role="row"
      id={rowId(index)}
      aria-rowindex={index + 1}
      aria-selected={isWaiting ? undefined : selected}
      data-entry={isWaiting ? undefined : index}
      onClick={isWaiting ? undefined : () => onSelect(index)}
      title={item.path}
      className={isWaiting ? 'row wait' : 'row'}
    >
      <div role="gridcell">
        <input
          type="checkbox"
          checked={picked}
          aria-label={`Pick ${item.path}`}
          tabIndex={-1}
          onClick={(event) => event.stopPropagation()}
          onChange={() => onPick(item)}
        />
      </div>
      <div role="gridcell">
        <KindIcon kind={item.kind} />
      </div>
      <div role="gridcell" className="place">
        <div className="names">
          <span className="mono name">{nameOf(item.path)}</span>
          {people && <span className="people">{people}</span>}
          <span className="mono folder">{folderOf(item.path)}</span>
          {item.facts.length > 0 && (
            <span
              className="facts"
              title={item.facts.map(([title, value]) => `${title} ${value}`).join(', ')}
            >
              {item.facts.map(([, value]) => value).join(', ')}
            </span>
          )}
        </div>
        {lens.second && <div className="second">{head ? lens.second(head) : ''}</div>}
      </div>
      <div role="gridcell">
        {item.problem ? (
          <StateMark tone="bad">problem</StateMark>
        ) : changed ? (
          <StateMark tone="look">changed</StateMark>
        ) : item.guessed ? (
          <StateMark tone="look">guessed</StateMark>
        ) : !item.wins ? (
          <span className="small">hidden</span>
        ) : item.measured?.found[0] === 'finest' ? (
          <span className="small" title="It has the most triangles of several that are alike in name">
            finest
          </span>
        ) : item.measured?.found[0] ? (
          <StateMark tone={item.measured.found[0] === 'broken' ? 'bad' : 'look'}>
            {item.measured.found[0]}
          </StateMark>
        ) : item.tags.length > 0 ? (
          <span className="small">{item.tags.join(' ')}</span>
        ) : null}
      </div>
      <div role="gridcell" className="size">
        {bytes(item.size)}
      </div>
      {!isNarrow && lens.columns.length === 0 && (
        <div role="gridcell" className="size small">
          {bytes(item.storedSize)}
        </div>
      )}
      {!isNarrow && lens.columns.length === 0 && (
        <div role="gridcell" className="size small">
          {item.modified ? day(item.modified) : ''}
        </div>
      )}
      {(isNarrow ? narrowColumns(lens.columns, sort) : lens.columns).map(({ title, value }) => (
        <div role="gridcell" key={title} className="size told" title={head && value(head, item)}>
          {head ? value(head, item) : ''}
        </div>
      ))}
      {hasArchive(lens.columns, room) && (
        <div role="gridcell" className="mono size archive">
          {item.archive === '.' ? 'loose' : nameOf(item.archive)}
        </div>
      )}
    </div>
  );
});

/** Styles of all rows, once for the list. */
const ROWS = {
  '& .slot': { position: 'absolute', top: 0, left: 0, right: 0, height: 'var(--row)', contain: 'strict' },
  '& .row': {
    height: 'var(--row)',
    display: 'grid',
    gridTemplateColumns: 'var(--grid)',
    alignItems: 'center',
    gap: 0.5,
    px: 1,
    cursor: 'pointer',
    borderBottom: 1,
    borderColor: 'line',
    whiteSpace: 'nowrap',
  },
  '& .row:hover, & .row[aria-selected=true]': { bgcolor: 'tint' },
  '&:focus-visible': { outline: '2px solid', outlineColor: 'brass', outlineOffset: -2 },
  '& .row[aria-selected=true]': { boxShadow: 'inset 3px 0 var(--mui-palette-brass)' },
  '& .row input': { width: 16, height: 16, m: 0.5, accentColor: 'var(--mui-palette-primary-main)' },
  '& .place': { minWidth: 0 },
  '& .names': { minWidth: 0, display: 'flex', alignItems: 'baseline', columnGap: 1 },
  '& .second': { color: 'ink2', fontSize: 12.5, overflow: 'hidden', textOverflow: 'ellipsis' },
  '& .told': { overflow: 'hidden', textOverflow: 'ellipsis' },
  '& .name, & .people, & .folder, & .archive, & .facts': { overflow: 'hidden', textOverflow: 'ellipsis' },
  '& .name': { fontWeight: 600, flexShrink: 0, maxWidth: '75%' },
  '& .name:has(+ .people)': { maxWidth: '60%' },
  // What people call it is never squeezed away by what stands beside it.
  '& .people': { fontSize: 13, flexShrink: 2, minWidth: '35%' },
  '& .folder': { color: 'ink2', fontSize: 11.5, flexShrink: 9, flexGrow: 1 },
  '& .facts': { color: 'ink2', fontSize: 12.5, flexShrink: 0, maxWidth: 120 },
  '& .size': { textAlign: 'right', fontSize: 13 },
  '& .small': { fontSize: 12.5, color: 'ink2' },
  '& .archive': { color: 'ink2', fontSize: 11.5 },
  '& .wait > *': { visibility: 'hidden' },
  '& .wait > .place': { visibility: 'visible', color: 'ink2' },
} as const;

/** What people call it: the user's own name first, then those of an id table. */
const called = ({ alias, labels }: EntryItem): string => [alias, ...labels].filter(Boolean).join(', ');
