'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { enqueueSnackbar } from 'notistack';
import { useEffect, useRef, useState } from 'react';
import type { EntryRecord } from '@/server/entries/catalogue';
import type { JobView } from '@/server/running/jobs';
import type { AlikeResult } from '@/server/looking/looks';
import { api } from '../api';
import { number } from '../format';
import { useAction, useLast, useLinks, useRunning } from '../queries';
import { AlikePictures } from './AlikePictures';
import { EntryRow } from './EntryRow';
import { NamedByTables } from './NamedByTables';
import { Referrers } from './Referrers';

interface Props {
  gameId: number;
  archiveId: number;
  index: number;
  path: string;
  hash: string | null;
  hasAlike: boolean;
  onShow: (archiveId: number, index: number) => void;
}

const SHOWN = 12;

/** What an entry refers to, who may refer to it, and where the same content lies. */
export function EntryLinks({ gameId, archiveId, index, path, hash, hasAlike, onShow }: Props) {
  const { data } = useLinks(gameId, archiveId, index);
  const alike = useLast(gameId, 'find-alike');
  const looking = useRunning(gameId, 'find-alike');
  const look = useAction(() => api.post(`games/${gameId}/jobs`, { kind: 'find-alike', archiveId, index }));
  const found = alike?.state === 'done' ? (alike.result as AlikeResult) : undefined;
  const searching = useRunning(gameId, 'search-inside');
  const [asker, setAsker] = useState<string>();
  const ask = useAction(
    () =>
      api.post<JobView>(`games/${gameId}/jobs`, {
        kind: 'search-inside',
        text: path.replace(/\.[^./]*$/, ''),
        ...(hash && { hash }),
      }),
    (job) => setAsker(job.id),
  );
  // A step that was asked for before it was known where to.
  const asked = useRef(0);
  useEffect(() => {
    const step = (by: number) => (): void => {
      asked.current = data ? 0 : by;
      if (!data) return;
      const next = data.namesakes.at(by > 0 ? 0 : -1);
      if (next) onShow(next.archiveId, next.index);
      else enqueueSnackbar('No other folder has an entry of this name.');
    };
    if (data && asked.current !== 0) step(asked.current)();
    const [on, back] = [step(1), step(-1)];
    window.addEventListener('zero-latch-namesake', on);
    window.addEventListener('zero-latch-namesake-back', back);
    return () => {
      window.removeEventListener('zero-latch-namesake', on);
      window.removeEventListener('zero-latch-namesake-back', back);
    };
  }, [data, onShow]);
  if (!data) return null;
  const list = (title: string, entries: readonly EntryRecord[]) =>
    entries.length > 0 && (
      <Box component="section" aria-label={title} sx={{ mt: 2 }}>
        <Head>{`${title} ${number(entries.length)}`}</Head>
        {entries.slice(0, SHOWN).map((entry) => (
          <EntryRow
            key={`${entry.archiveId}:${entry.index}`}
            path={entry.path}
            title={`${entry.path} in ${entry.archive}`}
            onShow={() => onShow(entry.archiveId, entry.index)}
          />
        ))}
        {entries.length > SHOWN && (
          <Box sx={{ color: 'ink2' }}>and {number(entries.length - SHOWN)} more</Box>
        )}
      </Box>
    );
  return (
    <>
      {list('Same name in other folders', data.namesakes)}
      {list('Refers to', data.refersTo)}
      {data.byHash > 0 && (
        <Box sx={{ color: 'ink2', fontSize: 12.5 }}>
          {number(data.byHash)} of them by the hash of their name
        </Box>
      )}
      {data.byChance !== null && (
        <Box sx={{ color: 'ink2', fontSize: 12.5, mt: 1 }}>
          Hashes of 32 bits are not looked for here: {data.byChance.toFixed(1)} of its numbers would be one by
          chance.
        </Box>
      )}
      {data.missing.length > 0 && (
        <Box component="section" aria-label="Refers to what is not there" sx={{ mt: 2 }}>
          <Head>Refers to what no open archive has</Head>
          {data.missing.slice(0, 6).map((missing) => (
            <Box key={missing} className="mono" sx={{ overflowWrap: 'anywhere', color: 'ink2' }}>
              {missing}
            </Box>
          ))}
        </Box>
      )}
      {list('The same content elsewhere', data.identical)}
      {found?.of === `${archiveId}:${index}` && (
        <AlikePictures gameId={gameId} found={found} onShow={onShow} />
      )}
      <NamedByTables key={`${archiveId}:${index}`} {...{ gameId, archiveId, index }} />
      {hasAlike && (
        <Button
          size="small"
          sx={{ mt: 1.5, mr: 1 }}
          loading={looking !== undefined || look.isPending}
          onClick={() => look.mutate(undefined)}
        >
          Look for its like
        </Button>
      )}
      <Button
        size="small"
        sx={{ mt: 1.5 }}
        loading={ask.isPending || searching !== undefined}
        onClick={() => ask.mutate(undefined)}
      >
        Search who refers to it
      </Button>
      {asker !== undefined && <Referrers gameId={gameId} jobId={asker} onShow={onShow} />}
    </>
  );
}

function Head({ children }: { children: string }) {
  return <Box sx={{ fontSize: 12.5, fontWeight: 700, color: 'ink2', mb: 0.5 }}>{children}</Box>;
}
