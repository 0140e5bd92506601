'use client';
import KeyboardArrowDownRounded from '@mui/icons-material/KeyboardArrowDownRounded';
import KeyboardArrowUpRounded from '@mui/icons-material/KeyboardArrowUpRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Difference } from '@/core/compare';
import type { SizedComparison } from '@/server/looking/compare';
import type { ChangeView } from '@/server/mods/mods';
import { api } from '../api';
import { bytes, hex, number, plural } from '../format';
import { Failed, Loading } from '../kit/Blank';

const ACROSS = 8;
const ROWS = 22;
const WINDOW = ACROSS * ROWS;
/** Rows above the difference that is looked at. */
const ABOVE = 4;

export interface Compared {
  readonly archiveId: number;
  readonly index: number;
  readonly path: string;
  readonly archive: string;
}

/** One of both: what it is called, and where its bytes are to be had. */
interface Shown {
  readonly title: string;
  readonly below: string;
  readonly bytesUrl: string;
}

/** Two entries byte by byte. */
export function CompareEntries({
  gameId,
  left,
  right,
  onClose,
}: {
  gameId: number;
  left: Compared;
  right: Compared;
  onClose: () => void;
}) {
  const urlOf = ({ archiveId, index }: Compared): string => `games/${gameId}/entries/${archiveId}/${index}`;
  const shown = (one: Compared): Shown => ({
    title: one.path,
    below: one.archive,
    bytesUrl: `${urlOf(one)}/bytes`,
  });
  return (
    <CompareDialog
      url={`${urlOf(left)}/compare?archive=${right.archiveId}&index=${right.index}`}
      left={shown(left)}
      right={shown(right)}
      onClose={onClose}
    />
  );
}

/** What an entry was and what a mod makes of it, byte by byte. */
export function CompareChange({
  gameId,
  modId,
  change,
  onClose,
}: {
  gameId: number;
  modId: number;
  change: ChangeView;
  onClose: () => void;
}) {
  const base = `games/${gameId}/mods/${modId}/changes/${change.id}`;
  const stamp = `v=${encodeURIComponent(change.stamp)}`;
  return (
    <CompareDialog
      url={`${base}/compare?${stamp}`}
      left={{ title: change.path, below: 'the original', bytesUrl: `${base}/old-bytes` }}
      right={{ title: change.path, below: 'as it is built', bytesUrl: `${base}/bytes` }}
      onClose={onClose}
    />
  );
}

/** Two things side by side, with a step from one difference to the next. */
function CompareDialog({
  url,
  left,
  right,
  onClose,
}: {
  url: string;
  left: Shown;
  right: Shown;
  onClose: () => void;
}) {
  const [at, setAt] = useState(0);
  const { data, error } = useQuery({
    queryKey: ['compare', url],
    queryFn: () => api.get<SizedComparison>(url),
  });
  const step = (by: number): void => {
    if (data) setAt((old) => Math.max(0, Math.min(data.differences.length - 1, old + by)));
  };
  const difference = data?.differences[at];
  return (
    <Dialog
      open
      onClose={onClose}
      maxWidth="lg"
      fullWidth
      onKeyDown={(event) => {
        if (event.key === 'n') step(1);
        if (event.key === 'p') step(-1);
      }}
    >
      <DialogTitle sx={{ fontSize: 17 }}>
        {!data
          ? 'Comparing'
          : data.isSame
            ? 'Both are the same'
            : `${plural(data.differing, 'byte differs', 'bytes differ')} in ${plural(data.differences.length, 'place')}${data.hasMore ? ' and more' : ''}`}
      </DialogTitle>
      <DialogContent>
        {error && <Failed error={error} />}
        {!data && !error && <Loading what="Going through both" />}
        {data && (
          <>
            <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mb: 1 }}>
              <Box sx={{ flex: 1, color: 'ink2' }}>
                {difference
                  ? `Difference ${number(at + 1)} of ${number(data.differences.length)}: ${spelled(difference)}`
                  : `${bytes(data.sizes[0])}, all the same`}
              </Box>
              <Button
                startIcon={<KeyboardArrowUpRounded />}
                disabled={at === 0}
                onClick={() => step(-1)}
                title="p"
              >
                Previous
              </Button>
              <Button
                startIcon={<KeyboardArrowDownRounded />}
                disabled={at >= data.differences.length - 1}
                onClick={() => step(1)}
                title="n"
              >
                Next
              </Button>
            </Box>
            <Both
              windowKey={url}
              left={left}
              right={right}
              differences={data.differences}
              at={at}
              sizes={data.sizes}
            />
          </>
        )}
      </DialogContent>
    </Dialog>
  );
}

function useWindow(key: string, { bytesUrl }: Shown, first: number, size: number) {
  return useQuery({
    queryKey: ['window', key, bytesUrl, first],
    enabled: first < size,
    queryFn: async () => {
      const response = await fetch(`/api/${bytesUrl}?offset=${first}&length=${WINDOW}`);
      if (!response.ok) throw new Error('The bytes could not be read.');
      return new Uint8Array(await response.arrayBuffer());
    },
  }).data;
}

/** What a difference is, in words. */
function spelled({ offset, length, other = { offset, length } }: Difference): string {
  const place = `from 0x${hex(offset)}`;
  if (length === 0) return `${plural(other.length, 'byte')} more on the right ${place}`;
  if (other.length === 0) return `${plural(length, 'byte')} more on the left ${place}`;
  return other.length === length
    ? `${plural(length, 'byte')} ${place}`
    : `${plural(length, 'byte')} ${place}, on the right ${number(other.length)}`;
}

/** A byte of one side, or the gap that the other side has more; with whether it differs. */
interface Cell {
  readonly place: number | undefined;
  readonly differs: boolean;
}

/** The cells of both sides from some rows above a difference on, what belongs together beside each other. */
function cellsFrom(
  differences: readonly Difference[],
  at: number,
  sizes: readonly [number, number],
): readonly [Cell[], Cell[]] {
  const shown = differences[at];
  const start = shown?.offset ?? 0;
  const otherStart = shown?.other?.offset ?? start;
  const above = Math.min(ABOVE * ACROSS, start, otherStart);
  let [a, b] = [start - above, otherStart - above];
  // Differences that lie above the one that is shown end somewhere in what stands above it.
  let next = differences.findIndex(({ offset, length }) => offset + length > a);
  if (next < 0) next = differences.length;
  const [left, right]: [Cell[], Cell[]] = [[], []];
  const put = (inA: boolean, inB: boolean, differs: boolean): void => {
    left.push({ place: inA ? a++ : undefined, differs });
    right.push({ place: inB ? b++ : undefined, differs });
  };
  while (left.length < WINDOW && (a < sizes[0] || b < sizes[1])) {
    const difference = differences[next];
    if (!difference || a < difference.offset) {
      put(a < sizes[0], b < sizes[1], !difference && (a >= sizes[0] || b >= sizes[1]));
      continue;
    }
    const { offset, length, other = { offset, length } } = difference;
    while (left.length < WINDOW && (a < offset + length || b < other.offset + other.length))
      put(a < Math.min(sizes[0], offset + length), b < Math.min(sizes[1], other.offset + other.length), true);
    next++;
  }
  return [left, right];
}

function Both({
  windowKey,
  left,
  right,
  differences,
  at,
  sizes,
}: {
  windowKey: string;
  left: Shown;
  right: Shown;
  differences: readonly Difference[];
  at: number;
  sizes: readonly [number, number];
}) {
  const [leftCells, rightCells] = cellsFrom(differences, at, sizes);
  const firstOf = (cells: readonly Cell[]): number =>
    cells.find(({ place }) => place !== undefined)?.place ?? 0;
  const a = useWindow(windowKey, left, firstOf(leftCells), sizes[0]);
  const b = useWindow(windowKey, right, firstOf(rightCells), sizes[1]);
  return (
    <Box role="region" aria-label="Both entries" sx={{ display: 'flex', gap: 3 }}>
      <Side of={left} size={sizes[0]} cells={leftCells} bytes={a} />
      <Side of={right} size={sizes[1]} cells={rightCells} bytes={b} />
    </Box>
  );
}

const printable = (byte: number | undefined): string =>
  byte === undefined ? ' ' : byte >= 32 && byte < 127 ? String.fromCharCode(byte) : '·';

function Side({
  of,
  size,
  cells,
  bytes: own,
}: {
  of: Shown;
  size: number;
  cells: readonly Cell[];
  bytes: Uint8Array | undefined;
}) {
  const first = cells.find(({ place }) => place !== undefined)?.place ?? 0;
  const byteOf = ({ place }: Cell): number | undefined =>
    place === undefined ? undefined : own?.[place - first];
  return (
    <Box sx={{ flex: 1, minWidth: 0 }}>
      <Box className="mono" sx={{ fontWeight: 700, overflowWrap: 'anywhere' }}>
        {of.title}
      </Box>
      <Box className="mono" sx={{ color: 'ink2', mb: 1, overflowWrap: 'anywhere' }}>
        {of.below}, {bytes(size)}
      </Box>
      {Array.from({ length: Math.ceil(cells.length / ACROSS) }, (_, row) => {
        const inRow = cells.slice(row * ACROSS, (row + 1) * ACROSS);
        const address = inRow.find(({ place }) => place !== undefined)?.place;
        return (
          <Box key={row} className="mono" sx={{ display: 'flex', gap: 1.5, fontSize: 12.5, height: 19 }}>
            <Box sx={{ color: 'ink2', width: 62 }}>{address === undefined ? '' : hex(address)}</Box>
            <Box sx={{ whiteSpace: 'pre' }}>
              {inRow.map((cell, i) => {
                const byte = byteOf(cell);
                return (
                  <Box
                    key={i}
                    component="span"
                    data-differs={cell.differs || undefined}
                    sx={{
                      px: 0.35,
                      ...(cell.differs && {
                        bgcolor: 'lookBack',
                        fontWeight: 700,
                        outline: 1,
                        outlineColor: 'brass',
                      }),
                    }}
                  >
                    {byte === undefined ? '  ' : hex(byte, 2)}
                  </Box>
                );
              })}
            </Box>
            <Box sx={{ color: 'ink2', whiteSpace: 'pre' }}>
              {inRow.map((cell) => printable(byteOf(cell))).join('')}
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}
