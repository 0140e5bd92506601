'use client';
import Box from '@mui/material/Box';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import type { LinkView, ReadingOverview } from '@/server/reading/reading-view';
import { nameOf } from '../format';
import { RowLink } from './RowLink';
import type { Rows } from './use-reading';

const ROW = 34;
const WIDTH = 150;
/** So many columns stand in the grid; all of them are on the card of a row. */
const MOST_COLUMNS = 40;

interface Props {
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
  const names = of.columns.slice(0, MOST_COLUMNS);
  const meaning = new Map(
    links
      .filter(({ source }) => source !== 'likely' && source !== 'refused')
      .map(({ field, to }) => [field.replace(/[.[].*$/, ''), to]),
  );
  const width = names.length * WIDTH + 54;
  const columns = `54px repeat(${names.length}, minmax(${WIDTH}px, 1fr))`;
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
      aria-colcount={names.length + 1}
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
        <div role="columnheader">Row</div>
        {names.map((name, i) => (
          <div
            role="columnheader"
            key={i}
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
              <div role="gridcell" className="mono number">
                {row ? row.row + 1 : '…'}
              </div>
              {row?.cells.slice(0, names.length).map(({ text, to, isChanged }, i) => (
                <div
                  role="gridcell"
                  key={i}
                  className={isChanged && 'changed'}
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
                    : text}
                </div>
              ))}
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
  '& .means': { fontWeight: 400 },
  '& .row': {
    ...{ display: 'grid', position: 'absolute', left: 0, right: 0, height: ROW, alignItems: 'center' },
    ...{ fontSize: 13.5, borderBottom: 1, borderColor: 'line', cursor: 'pointer' },
  },
  '& .row:hover': { bgcolor: 'tint' },
  '& .row[aria-selected=true]': { bgcolor: 'tint', boxShadow: 'inset 3px 0 0 var(--mui-palette-brass)' },
  '& .row > div': { px: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
  '& .changed': { bgcolor: 'tint', fontWeight: 650 },
  '& .number': { color: 'ink2', fontSize: 12 },
} as const;
