'use client';
import PushPin from '@mui/icons-material/PushPin';
import PushPinOutlined from '@mui/icons-material/PushPinOutlined';
import Box from '@mui/material/Box';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import type { LinkView, ReadingOverview } from '@/server/reading/reading-view';
import { nameOf } from '../format';
import { pinnedFirst, usePins } from './pins';
import { RowLink } from './RowLink';
import type { Rows } from './use-reading';

const ROW = 34;
const WIDTH = 150;
/** So many columns stand in the grid; all of them are on the card of a row. */
const MOST_COLUMNS = 40;

/** Dots of the column with the number of a row. */
const FIRST = 54;

interface Props {
  readonly gameId: number;
  readonly rows: Rows;
  readonly of: ReadingOverview['tables'][number];
  readonly links: readonly LinkView[];
  readonly order: number;
  readonly isBackwards: boolean;
  /** The row that is read, by its number in the table. */
  readonly chosen: number;
  readonly onChoose: (row: number) => void;
  readonly onGo: (table: string, row: number) => void;
  readonly onOrder: (column: number) => void;
  readonly onRange: (first: number, last: number) => void;
}

/** The rows of a table; only those in sight are made, however many there are. */
export function RowsGrid({
  gameId,
  rows,
  of,
  links,
  order,
  isBackwards,
  chosen,
  onChoose,
  onGo,
  onOrder,
  onRange,
}: Props) {
  const box = useRef<HTMLDivElement>(null);
  const all = useVirtualizer({
    count: rows.total,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const items = all.getVirtualItems();
  const first = items[0]?.index ?? 0;
  const last = items.at(-1)?.index ?? 0;
  useEffect(() => onRange(first, last), [first, last, onRange]);
  const [pins, setPins] = usePins(gameId, of.id);
  const shown = pinnedFirst(of.columns, pins).slice(0, Math.max(MOST_COLUMNS, pins.length));
  const meaning = new Map(
    links
      .filter(({ source }) => source !== 'likely' && source !== 'refused')
      .map(({ field, to }) => [field.replace(/[.[].*$/, ''), to]),
  );
  const pinned = shown.filter(({ isPinned }) => isPinned).length;
  const width = shown.length * WIDTH + FIRST;
  const columns = [
    `${FIRST}px`,
    ...(pinned > 0 ? [`repeat(${pinned}, ${WIDTH}px)`] : []),
    ...(shown.length > pinned ? [`repeat(${shown.length - pinned}, minmax(${WIDTH}px, 1fr))`] : []),
  ].join(' ');
  /** Where a cell stays while the others are moved along; those behind the pinned ones do not. */
  const stays = (place: number) =>
    pinned > 0 && place < pinned
      ? ({ position: 'sticky', left: place < 0 ? 0 : FIRST + place * WIDTH, zIndex: 1 } as const)
      : undefined;
  const at = items.find(({ index }) => rows.at(index)?.row === chosen)?.index ?? -1;
  const move = (by: number): void => {
    const next = Math.max(0, Math.min(rows.total - 1, at < 0 ? first : at + by));
    const row = rows.at(next);
    if (!row) return;
    all.scrollToIndex(next, { align: 'auto' });
    onChoose(row.row);
  };
  return (
    <Box
      ref={box}
      role="grid"
      aria-label="Rows"
      aria-rowcount={rows.total}
      aria-colcount={shown.length + 1}
      tabIndex={0}
      onKeyDown={(event) => {
        const by = { ArrowDown: 1, ArrowUp: -1, PageDown: 12, PageUp: -12 }[event.key];
        if (by === undefined || event.target !== event.currentTarget) return;
        event.preventDefault();
        move(by);
      }}
      sx={{ flex: 1, minHeight: 0, overflow: 'auto', ...LOOK }}
    >
      <Box role="row" className="head" sx={{ gridTemplateColumns: columns, minWidth: width }}>
        <div role="columnheader" className={pinned > 0 ? 'pinned' : undefined} style={stays(-1)}>
          Row
        </div>
        {shown.map(({ name, i, isPinned }, place) => (
          <div
            role="columnheader"
            key={i}
            className={isPinned ? 'pinned' : undefined}
            style={stays(place)}
            aria-sort={order === i ? (isBackwards ? 'descending' : 'ascending') : 'none'}
          >
            <Box
              component="button"
              type="button"
              title={meaning.has(name) ? `${name}, means rows of ${meaning.get(name)!}` : name}
              onClick={() => onOrder(i)}
            >
              {name}
              {order === i && (isBackwards ? ' ▾' : ' ▴')}
              {meaning.has(name) && <span className="means"> → {nameOf(meaning.get(name)!)}</span>}
            </Box>
            <Box
              component="button"
              type="button"
              className="pin"
              aria-pressed={isPinned}
              aria-label={`Pin ${name}`}
              title={isPinned ? `Let ${name} go` : `Keep ${name} in sight`}
              onClick={() => setPins(isPinned ? pins.filter((one) => one !== name) : [...pins, name])}
            >
              {isPinned ? <PushPin /> : <PushPinOutlined />}
            </Box>
          </div>
        ))}
      </Box>
      <Box role="rowgroup" sx={{ height: all.getTotalSize(), position: 'relative', minWidth: width }}>
        {items.map(({ index, start }) => {
          const row = rows.at(index);
          return (
            // The grid has the focus and its keys.
            // eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/interactive-supports-focus
            <div
              key={index}
              role="row"
              aria-rowindex={index + 1}
              aria-selected={row?.row === chosen}
              className="row"
              style={{ transform: `translateY(${start}px)`, gridTemplateColumns: columns }}
              onClick={() => row && onChoose(row.row)}
            >
              <div
                role="gridcell"
                className={pinned > 0 ? 'mono number pinned' : 'mono number'}
                style={stays(-1)}
              >
                {row ? row.row + 1 : '…'}
              </div>
              {row &&
                shown.flatMap(({ i, isPinned }, place) => {
                  const cell = row.cells[i];
                  if (!cell) return [];
                  const { text, to, called, isChanged } = cell;
                  return (
                    <div
                      role="gridcell"
                      key={i}
                      className={
                        [isChanged && 'changed', isPinned && 'pinned'].filter(Boolean).join(' ') || undefined
                      }
                      style={stays(place)}
                      title={isChanged ? `${text}, changed by the mod` : text}
                      dir="auto"
                    >
                      {to.length > 0
                        ? to.map((one, n) => (
                            <span key={n}>
                              {n > 0 && ', '}
                              <RowLink to={one} onGo={onGo} />
                            </span>
                          ))
                        : called === undefined
                          ? text
                          : `${text} ${called}`}
                    </div>
                  );
                })}
            </div>
          );
        })}
      </Box>
      {rows.loaded && rows.total === 0 && <Box sx={{ p: 3, color: 'ink2' }}>No row has that in it.</Box>}
    </Box>
  );
}

const LOOK = {
  '& .head': {
    ...{ display: 'grid', position: 'sticky', top: 0, zIndex: 1, bgcolor: 'panel', fontSize: 12.5 },
    ...{ borderBottom: 1, borderColor: 'line', color: 'ink2' },
  },
  '& .head > div': { p: '6px 8px', overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
  '& .head button': {
    ...{ all: 'unset', cursor: 'pointer', whiteSpace: 'nowrap', fontWeight: 600 },
    '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
  },
  '& .head .pin': {
    ...{ all: 'unset', cursor: 'pointer', ml: 0.5, opacity: 0, verticalAlign: 'middle' },
    '& svg': { fontSize: 14, display: 'block' },
    '&[aria-pressed=true]': { opacity: 1 },
    '&:focus-visible': { opacity: 1, outline: '2px solid', outlineColor: 'brass' },
  },
  '& .head > div:hover .pin': { opacity: 1 },
  '& .row .pinned, & .row .changed': { height: ROW - 1, lineHeight: `${ROW - 1}px` },
  '& .row .pinned': { bgcolor: 'background.default' },
  '& .head .pinned': { bgcolor: 'panel' },
  '& .row:hover .pinned, & .row[aria-selected=true] .pinned': { bgcolor: 'tint' },
  '& .means': { fontWeight: 400 },
  '& .row': {
    ...{ display: 'grid', position: 'absolute', left: 0, right: 0, height: ROW, alignItems: 'center' },
    ...{ fontSize: 13.5, borderBottom: 1, borderColor: 'line', cursor: 'pointer' },
  },
  '& .row:hover': { bgcolor: 'tint' },
  '& .row[aria-selected=true]': { bgcolor: 'tint', boxShadow: 'inset 3px 0 0 var(--mui-palette-brass)' },
  '& .row > div': { px: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
  '& .row .changed': { bgcolor: 'tint', fontWeight: 650 },
  '& .number': { color: 'ink2', fontSize: 12 },
} as const;
