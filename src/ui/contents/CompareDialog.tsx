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
import type { Comparison } from '@/core/compare';
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

/** Two entries byte by byte, with a step from one difference to the next. */
export function CompareDialog({
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
  const [at, setAt] = useState(0);
  const url = `games/${gameId}/entries/${left.archiveId}/${left.index}`;
  const { data, error } = useQuery({
    queryKey: ['compare', gameId, left.archiveId, left.index, right.archiveId, right.index],
    queryFn: () =>
      api.get<Comparison & { sizes: [number, number] }>(
        `${url}/compare?archive=${right.archiveId}&index=${right.index}`,
      ),
  });
  const step = (by: number): void => {
    if (data) setAt((old) => Math.max(0, Math.min(data.differences.length - 1, old + by)));
  };
  const difference = data?.differences[at];
  const first = Math.max(0, Math.floor((difference?.offset ?? 0) / ACROSS) - ABOVE) * ACROSS;
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
                  ? `Difference ${number(at + 1)} of ${number(data.differences.length)}: ${plural(difference.length, 'byte')} from 0x${hex(difference.offset)}`
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
            <Both gameId={gameId} left={left} right={right} first={first} sizes={data.sizes} />
          </>
        )}
      </DialogContent>
    </Dialog>
  );
}

function useWindow(gameId: number, { archiveId, index }: Compared, first: number, size: number) {
  return useQuery({
    queryKey: ['window', gameId, archiveId, index, first],
    enabled: first < size,
    queryFn: async () => {
      const url = `/api/games/${gameId}/entries/${archiveId}/${index}/bytes`;
      const response = await fetch(`${url}?offset=${first}&length=${WINDOW}`);
      if (!response.ok) throw new Error('The bytes could not be read.');
      return new Uint8Array(await response.arrayBuffer());
    },
  }).data;
}

function Both({
  gameId,
  left,
  right,
  first,
  sizes,
}: {
  gameId: number;
  left: Compared;
  right: Compared;
  first: number;
  sizes: readonly [number, number];
}) {
  const a = useWindow(gameId, left, first, sizes[0]);
  const b = useWindow(gameId, right, first, sizes[1]);
  const side = (own: Uint8Array | undefined, other: Uint8Array | undefined, of: Compared, size: number) => (
    <Box sx={{ flex: 1, minWidth: 0 }}>
      <Box className="mono" sx={{ fontWeight: 700, overflowWrap: 'anywhere' }}>
        {of.path}
      </Box>
      <Box className="mono" sx={{ color: 'ink2', mb: 1, overflowWrap: 'anywhere' }}>
        {of.archive}, {bytes(size)}
      </Box>
      {Array.from({ length: ROWS }, (_, row) => (
        <Box key={row} className="mono" sx={{ display: 'flex', gap: 1.5, fontSize: 12.5, height: 19 }}>
          <Box sx={{ color: 'ink2' }}>{hex(first + row * ACROSS)}</Box>
          <Box sx={{ whiteSpace: 'pre' }}>
            {Array.from({ length: ACROSS }, (_unused, i) => {
              const place = row * ACROSS + i;
              const byte = own?.[place];
              const isOther = byte !== other?.[place];
              return (
                <Box
                  key={i}
                  component="span"
                  sx={{
                    px: 0.35,
                    ...(isOther && {
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
            {[...(own?.subarray(row * ACROSS, (row + 1) * ACROSS) ?? [])]
              .map((byte) => (byte >= 32 && byte < 127 ? String.fromCharCode(byte) : '·'))
              .join('')}
          </Box>
        </Box>
      ))}
    </Box>
  );
  return (
    <Box role="region" aria-label="Both entries" sx={{ display: 'flex', gap: 3 }}>
      {side(a, b, left, sizes[0])}
      {side(b, a, right, sizes[1])}
    </Box>
  );
}
