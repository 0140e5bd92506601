'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import type { BesideProps } from '@/media/medium-ui';
import type { EntryRecord } from '@/server/entries/catalogue';
import type { AlikeSounds } from '@/server/looking/sound-alikes';
import type { TakeBeside as Beside } from '@/server/looking/take-beside';
import { api } from '@/ui/api';
import { EntryRow } from '@/ui/contents/EntryRow';
import { nameOf, number } from '@/ui/format';
import { TakeButton } from './TakeButton';

const Section = ({ title, children }: { title: string; children: ReactNode }) => (
  <Box component="section" aria-label={title} sx={{ mt: 2 }}>
    <Typography variant="h2" sx={{ mb: 0.5 }}>
      {title}
    </Typography>
    {children}
  </Box>
);

/** What belongs to a sound: what is said in it, the same line in other languages, and sounds that sound like it. */
export function TakeBeside({ gameId, data: { archiveId, index }, onShow }: BesideProps) {
  const base = `games/${gameId}/entries/${archiveId}/${index}`;
  const { data } = useQuery({
    queryKey: ['take', gameId, archiveId, index],
    queryFn: () => api.get<Beside>(`${base}/take`),
  });
  const isThis = (other: { archiveId: number; index: number }): boolean =>
    other.archiveId === archiveId && other.index === index;
  return (
    <>
      {data && data.lines.length > 0 && (
        <Section title="What is said">
          {data.lines.map(({ text, from }) => (
            <Box key={`${from.archiveId}:${from.index}`} sx={{ mb: 0.5 }}>
              <Box sx={{ overflowWrap: 'anywhere' }}>{text}</Box>
              <Box sx={{ fontSize: 11.5 }}>
                <EntryRow
                  path={from.path}
                  title={`${from.path} in ${from.archive}, tied by its name`}
                  onShow={() => onShow(from.archiveId, from.index)}
                />
              </Box>
            </Box>
          ))}
        </Section>
      )}
      {data && data.takes.length > 0 && (
        <Section title="The same line in other languages">
          {data.takes.map(({ tongue, name, entry }) => (
            <TakeRow key={tongue} {...{ gameId, entry, onShow }} label={name}>
              <Box sx={{ width: 92, flex: 'none', fontWeight: isThis(entry) ? 700 : 400 }}>{name}</Box>
            </TakeRow>
          ))}
          {data.missing.length > 0 && (
            <Box sx={{ color: 'look', fontSize: 12.5, mt: 0.5 }}>
              None in {data.missing.join(', ')}, which others beside it have.
            </Box>
          )}
        </Section>
      )}
      <Alikes {...{ gameId, base, onShow }} stamp={`${archiveId}:${index}`} />
    </>
  );
}

/** A sound of a list: heard where it stands, or gone to. */
function TakeRow({
  gameId,
  entry,
  label,
  end,
  children,
  onShow,
}: {
  gameId: number;
  entry: EntryRecord;
  /** What is played, for those who do not see it. */
  label: string;
  end?: string;
  children?: ReactNode;
  onShow: BesideProps['onShow'];
}) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, minWidth: 0 }}>
      <TakeButton gameId={gameId} entry={entry} label={label} />
      {children}
      <Box sx={{ minWidth: 0, flex: 1 }}>
        <EntryRow
          path={entry.path}
          title={`${entry.path} in ${entry.archive}`}
          onShow={() => onShow(entry.archiveId, entry.index)}
        />
      </Box>
      {end && (
        <Box className="mono" sx={{ color: 'ink2', fontSize: 11.5, flex: 'none' }}>
          {end}
        </Box>
      )}
    </Box>
  );
}

/** Sounds that sound like one, looked for when they are asked for. */
function Alikes({
  gameId,
  base,
  stamp,
  onShow,
}: {
  gameId: number;
  base: string;
  stamp: string;
  onShow: BesideProps['onShow'];
}) {
  const [asked, setAsked] = useState('');
  const { data, isFetching, error, refetch } = useQuery({
    queryKey: ['alike-sounds', gameId, stamp],
    queryFn: () => api.get<AlikeSounds>(`${base}/alike`),
    enabled: asked === stamp,
    staleTime: 0,
  });
  if (asked !== stamp)
    return (
      <Button size="small" sx={{ mt: 1.5 }} onClick={() => setAsked(stamp)}>
        What sounds like it
      </Button>
    );
  return (
    <Section title="Sound alike">
      <Box sx={{ color: error ? 'bad' : 'ink2', fontSize: 12.5, mb: 0.5 }}>
        {error ? error.message : data ? told(data) : 'Holding it against the others'}{' '}
        {data && data.measured < data.all && (
          <Button size="small" loading={isFetching} onClick={() => void refetch()}>
            Look again
          </Button>
        )}
      </Box>
      {data?.alike.map((entry) => (
        <TakeRow
          key={`${entry.archiveId}:${entry.index}`}
          {...{ gameId, entry, onShow }}
          label={nameOf(entry.path)}
          end={`${entry.apart.toFixed(1)} dB apart`}
        />
      ))}
    </Section>
  );
}

function told({ isKnown, alike, more, measured, all }: AlikeSounds): string {
  const left = measured < all ? ` ${number(all - measured)} are not listened to yet.` : '';
  if (!isKnown) return `This one was not listened to yet, or nothing is heard in it.${left}`;
  const count = alike.length + more;
  const found = count === 0 ? 'None' : number(count);
  const shown = more > 0 ? `, the nearest ${number(alike.length)} of them here` : '';
  return `${found} of ${number(measured)} ${count === 1 ? 'sounds' : 'sound'} like it${shown}.${left}`;
}
