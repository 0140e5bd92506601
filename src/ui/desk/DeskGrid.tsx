'use client';
import Box from '@mui/material/Box';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import type { DeskRow } from '@/server/desk/desk-view';
import { LineState } from './LineState';
import { TextCell } from './TextCell';
import type { Lines } from './use-desk';
import { isOther } from './use-writing';

const ROW = 46;

interface Props {
  readonly lines: Lines;
  readonly selected: number;
  /** Whether the text of the chosen line is being written; with what, where a key began it. */
  readonly writing: boolean;
  /** Languages in their order: source, target, further ones. */
  readonly titles: readonly string[];
  readonly tongues: readonly string[];
  readonly onSelect: (index: number) => void;
  readonly onWrite: (isWriting: boolean) => void;
  readonly onSave: (
    row: DeskRow,
    text: string,
    how: { readonly isDone: boolean; readonly next: number },
  ) => void;
  readonly onRange: (first: number, last: number) => void;
}

/** Lines in their languages side by side; only those in sight are made, however many there are. */
export function DeskGrid({
  lines,
  selected,
  writing,
  titles,
  tongues,
  onSelect,
  onWrite,
  onSave,
  onRange,
}: Props) {
  const box = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: lines.total,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 10,
  });
  const items = rows.getVirtualItems();
  const first = items[0]?.index ?? 0;
  const last = items.at(-1)?.index ?? 0;
  useEffect(() => onRange(first, last), [first, last, onRange]);
  useEffect(() => {
    if (selected >= 0) rows.scrollToIndex(selected, { align: 'auto' });
  }, [selected, rows]);
  // What was written in is left for the list, so that the arrows move again.
  useEffect(() => {
    if (!writing && document.activeElement === document.body) box.current?.focus({ preventScroll: true });
  }, [writing]);
  const others = titles.length - 2;
  const columns = `26px minmax(70px, 0.5fr) minmax(0, 1fr) minmax(0, 1fr) ${'minmax(0, 0.8fr) '.repeat(others)}`;
  return (
    <>
      <Box sx={{ ...HEAD, gridTemplateColumns: columns }}>
        <span />
        <span>Key</span>
        {titles.map((title, i) => (
          <span key={i}>{title}</span>
        ))}
      </Box>
      <Box
        ref={box}
        role="grid"
        id="lines"
        aria-label="Lines"
        aria-rowcount={lines.total}
        aria-busy={lines.isBefore}
        tabIndex={0}
        {...(selected >= 0 && { 'aria-activedescendant': `line-${selected}` })}
        sx={{
          ...{ flex: 1, overflow: 'auto', minHeight: 0, ...ROWS },
          '& .row': { ...ROWS['& .row'], gridTemplateColumns: columns },
          '&[aria-busy=true]': { opacity: 0.55, transition: 'opacity 0.1s 0.2s' },
        }}
      >
        <Box role="rowgroup" sx={{ height: rows.getTotalSize(), position: 'relative' }}>
          {items.map(({ index, start }) => {
            const row = lines.at(index);
            const isChosen = index === selected;
            return (
              // The grid has the focus; its keys are handled by the screen.
              // eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/interactive-supports-focus
              <div
                key={index}
                role="row"
                id={`line-${index}`}
                aria-rowindex={index + 1}
                aria-selected={isChosen}
                className={row ? 'row' : 'row wait'}
                style={{ transform: `translateY(${start}px)` }}
                onClick={() => onSelect(index)}
                onDoubleClick={() => onWrite(true)}
              >
                {row ? (
                  <>
                    <div role="gridcell">
                      <LineState row={row} />
                    </div>
                    <div role="gridcell" className="mono key" title={`${row.key}, ${row.place}`}>
                      {row.key}
                    </div>
                    <div role="gridcell" className="said" lang={tongues[0]} dir="auto">
                      {row.source}
                    </div>
                    <div
                      role="gridcell"
                      className={isChosen && writing ? 'writing' : 'said target'}
                      lang={tongues[1]}
                      dir="auto"
                    >
                      {isChosen && writing ? (
                        <TextCell
                          row={row}
                          lang={tongues[1] ?? ''}
                          onSave={onSave}
                          onLeave={() => onWrite(false)}
                        />
                      ) : (
                        <>
                          {row.writer && isOther(row.writer) && (
                            <span className="writer">{row.writer.by || 'Somebody'} writes … </span>
                          )}
                          {row.text || <span className="none">nothing yet</span>}
                        </>
                      )}
                    </div>
                    {row.others.map((text, i) => (
                      <div role="gridcell" key={i} className="said" lang={tongues[i + 2]} dir="auto">
                        {text}
                      </div>
                    ))}
                  </>
                ) : (
                  <div role="gridcell">…</div>
                )}
              </div>
            );
          })}
        </Box>
      </Box>
    </>
  );
}

const HEAD = {
  ...{ display: 'grid', gap: 1, px: 1, py: 0.5, fontSize: 12.5, color: 'ink2' },
  ...{ borderBottom: 1, borderColor: 'line', bgcolor: 'panel' },
} as const;

const ROWS = {
  '& .row': {
    ...{ position: 'absolute', top: 0, left: 0, right: 0, height: ROW, display: 'grid', gap: 1, px: 1 },
    ...{ alignItems: 'center', cursor: 'pointer', borderBottom: 1, borderColor: 'line', fontSize: 13.5 },
  },
  '& .row:hover, & .row[aria-selected=true]': { bgcolor: 'tint' },
  '& .row[aria-selected=true]': { boxShadow: 'inset 3px 0 var(--mui-palette-brass)', zIndex: 1 },
  '&:focus-visible': { outline: '2px solid', outlineColor: 'brass', outlineOffset: -2 },
  '& .key': {
    color: 'ink2',
    fontSize: 11.5,
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
  },
  '& .said': {
    ...{ display: '-webkit-box', WebkitLineClamp: '2', WebkitBoxOrient: 'vertical', overflow: 'hidden' },
    ...{ lineHeight: 1.3, overflowWrap: 'anywhere', whiteSpace: 'pre-wrap' },
  },
  '& .writer': { color: 'look', fontSize: 12 },
  '& .none': { color: 'ink2', fontStyle: 'italic', fontWeight: 400 },
  '& .writing': { alignSelf: 'start', pt: 0.25 },
  '& .wait': { color: 'ink2' },
} as const;
