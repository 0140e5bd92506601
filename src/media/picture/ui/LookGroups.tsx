'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import type { LookGroups as Grouped } from '@/server/looking/looks';
import { api } from '@/ui/api';
import { nameOf, plural } from '@/ui/format';
import { JobLine } from '@/ui/frame/JobLine';
import { Blank } from '@/ui/kit/Blank';
import { checker } from '@/ui/kit/checker';
import { useAction, useLast, useRunning } from '@/ui/queries';

const CELL = 112;

/** Pictures of the list that look alike, put together; worked out on request, since all have to be looked at. */
export function LookGroups({
  gameId,
  folder,
  search,
  chosen,
  onShow,
}: {
  gameId: number;
  folder: string;
  search: string;
  chosen: string;
  onShow: (archiveId: number, index: number) => void;
}) {
  const running = useRunning(gameId, 'group-looks');
  const last = useLast(gameId, 'group-looks');
  const begin = useAction(() => api.post(`games/${gameId}/jobs`, { kind: 'group-looks', folder, search }));
  const result = last?.state === 'done' ? (last.result as Grouped) : undefined;
  const found = result?.folder === folder && result.search === search ? result : undefined;
  const box = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: found?.groups.length ?? 0,
    getScrollElement: () => box.current,
    estimateSize: () => CELL + 48,
    overscan: 3,
  });
  if (running) return <Box sx={{ p: 2 }}>{<JobLine job={running} />}</Box>;
  if (!found || found.groups.length === 0)
    return (
      <Blank
        title={found ? 'No two look alike' : 'Not looked at yet'}
        action={
          <Button variant="contained" loading={begin.isPending} onClick={() => begin.mutate(undefined)}>
            Look at all pictures
          </Button>
        }
      >
        {found?.detail ?? 'Every picture of this list is looked at once; what was seen is kept.'}
        {last?.state === 'failed' && <JobLine job={last} />}
      </Blank>
    );
  return (
    <>
      <Box sx={{ display: 'flex', alignItems: 'center', px: 2, py: 0.75, color: 'ink2', fontSize: 12.5 }}>
        <Box sx={{ flex: 1 }}>{found.detail}</Box>
        <Button size="small" onClick={() => begin.mutate(undefined)}>
          Look again
        </Button>
      </Box>
      <Box
        ref={box}
        sx={{ flex: 1, overflow: 'auto', minHeight: 0, px: 2 }}
        aria-label="Look-alikes"
        role="list"
      >
        <Box sx={{ height: rows.getTotalSize(), position: 'relative' }}>
          {rows.getVirtualItems().map(({ index, start }) => {
            const group = found.groups[index]!;
            return (
              <Box
                key={index}
                role="listitem"
                sx={{ position: 'absolute', left: 0, right: 0, transform: `translateY(${start}px)` }}
              >
                <Box sx={{ fontSize: 12.5, color: 'ink2', py: 0.5 }}>
                  {plural(group.length, 'picture')} like{' '}
                  <span className="mono">{group[0] && nameOf(group[0].path)}</span>
                </Box>
                <Box sx={{ display: 'flex', gap: 1, overflowX: 'auto', pb: 1 }}>
                  {group.map(({ archiveId, index: number, path }) => (
                    <Box
                      key={`${archiveId}:${number}`}
                      component="button"
                      title={path}
                      aria-label={path}
                      onClick={() => onShow(archiveId, number)}
                      sx={{
                        all: 'unset',
                        flexShrink: 0,
                        cursor: 'pointer',
                        width: CELL,
                        height: CELL,
                        border: 1,
                        borderColor: chosen === `${archiveId}:${number}` ? 'brass' : 'line',
                        borderRadius: 1,
                        overflow: 'hidden',
                        '&:hover, &:focus-visible': { borderColor: 'brass' },
                      }}
                    >
                      <img
                        src={`/api/games/${gameId}/entries/${archiveId}/${number}/picture?most=256`}
                        alt=""
                        loading="lazy"
                        style={{ width: '100%', height: '100%', objectFit: 'contain', ...checker }}
                      />
                    </Box>
                  ))}
                </Box>
              </Box>
            );
          })}
        </Box>
      </Box>
    </>
  );
}
