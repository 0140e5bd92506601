'use client';
import Box from '@mui/material/Box';
import { useQueries } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import { hex } from '../format';

const ACROSS = 16;
const CHUNK = 16_384;
const ROW = 20;

const printable = (byte: number): string => (byte >= 0x20 && byte < 0x7f ? String.fromCharCode(byte) : '·');

async function fetchBytes(url: string, chunk: number): Promise<Uint8Array> {
  const response = await fetch(`${url}?offset=${chunk * CHUNK}&length=${CHUNK}`);
  if (!response.ok) throw new Error(((await response.json()) as { error: string }).error);
  return new Uint8Array(await response.arrayBuffer());
}

/** The plain bytes of an entry of any size, in rows of sixteen; what is in sight is fetched. */
export function BytesView({
  url,
  size,
  across = ACROSS,
  stamp = '',
}: {
  url: string;
  size: number;
  across?: number;
  /** Stands for the bytes, where the same address may give others later. */
  stamp?: string;
}) {
  const box = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: Math.ceil(size / across),
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 20,
  });
  const items = rows.getVirtualItems();
  const chunks = [...new Set(items.map(({ index }) => Math.floor((index * across) / CHUNK)))];
  const loaded = useQueries({
    queries: chunks.map((chunk) => ({
      queryKey: ['bytes', url, stamp, chunk],
      queryFn: () => fetchBytes(url, chunk),
    })),
  });
  const error = loaded.find((one) => one.error)?.error;
  if (size === 0) return <Box sx={{ color: 'ink2' }}>The entry is empty.</Box>;
  if (error) return <Box sx={{ color: 'bad' }}>{error.message}</Box>;
  return (
    <Box
      ref={box}
      tabIndex={0}
      role="region"
      aria-label="Bytes"
      sx={{ height: '100%', overflow: 'auto', fontSize: 12.5 }}
      className="mono"
    >
      <Box sx={{ height: rows.getTotalSize(), position: 'relative', minWidth: 40 * across }}>
        {items.map(({ index, start }) => {
          const offset = index * across;
          const chunk = Math.floor(offset / CHUNK);
          const bytes = loaded[chunks.indexOf(chunk)]?.data?.subarray(
            offset - chunk * CHUNK,
            offset - chunk * CHUNK + across,
          );
          return (
            <Box
              key={index}
              sx={{
                position: 'absolute',
                top: 0,
                height: ROW,
                transform: `translateY(${start}px)`,
                display: 'flex',
                gap: 2,
                whiteSpace: 'pre',
              }}
            >
              <Box component="span" sx={{ color: 'ink2' }}>
                {hex(offset)}
              </Box>
              <span>
                {bytes
                  ? [...bytes]
                      .map((byte) => hex(byte, 2))
                      .join(' ')
                      .padEnd(across * 3 - 1)
                  : '…'.padEnd(across * 3 - 1)}
              </span>
              <Box component="span" sx={{ color: 'good' }}>
                {bytes ? [...bytes].map(printable).join('') : ''}
              </Box>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}
