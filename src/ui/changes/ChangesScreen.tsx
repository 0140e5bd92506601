'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import NextLink from 'next/link';
import { closeSnackbar, enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import type { ChangeView, RemovedChange } from '@/server/mods';
import { api } from '../api';
import { bytes, folderOf, nameOf, plural } from '../format';
import { NewModDialog } from '../frame/NewModDialog';
import { Blank, Failed, Loading } from '../kit/Blank';
import { Facts } from '../kit/Facts';
import { Screen, sheet } from '../kit/Screen';
import { StateMark, type Tone } from '../kit/StateMark';
import { useAction, useChanges } from '../queries';
import { useMod } from '../use-mod';
import { BeforeAfter } from './BeforeAfter';

export const FIT_TONES: Record<ChangeView['fit'], Tone> = {
  fits: 'good',
  look: 'look',
  'does not fit': 'bad',
};

/** The mod: what it changes, whether each change fits, and how to mend what does not. */
export function ChangesScreen({ gameId }: { gameId: number }) {
  const { mod, loaded } = useMod(gameId);
  const { data: changes, error } = useChanges(gameId, mod?.id);
  const [chosen, setChosen] = useState<number>();
  const [making, setMaking] = useState(false);
  if (!loaded) return <Loading what="Looking at the mods" />;
  if (!mod)
    return (
      <>
        <Blank
          title="No mod yet"
          action={
            <Button variant="contained" onClick={() => setMaking(true)}>
              New mod
            </Button>
          }
        >
          A mod gathers your changes. Make one, then replace entries on the Contents screen.
        </Blank>
        <NewModDialog gameId={gameId} open={making} onClose={() => setMaking(false)} />
      </>
    );
  const unfit = changes?.filter(({ fit }) => fit === 'does not fit').length ?? 0;
  const selected =
    changes?.find(({ id }) => id === chosen) ??
    changes?.find(({ fit }) => fit === 'does not fit') ??
    changes?.[0];
  return (
    <Screen
      title={mod.title}
      fact={
        changes &&
        (unfit > 0
          ? `${plural(changes.length, 'change')}, ${unfit} not fitting yet`
          : plural(changes.length, 'change'))
      }
      actions={
        <Button
          component={NextLink}
          href={`/games/${gameId}/build`}
          variant="contained"
          disabled={!changes || changes.length === 0 || unfit > 0}
        >
          To the build
        </Button>
      }
      side={selected && <ChangeSide gameId={gameId} modId={mod.id} change={selected} />}
    >
      {error && !changes && <Failed error={error} />}
      {changes?.length === 0 && (
        <Blank
          title="Nothing changed yet"
          action={
            <Button component={NextLink} href={`/games/${gameId}/contents`} variant="contained">
              To the contents
            </Button>
          }
        >
          Choose an entry and press Replace, or drop a file on it. Pictures, sounds and texts are checked
          against the slot they go into.
        </Blank>
      )}
      {changes && changes.length > 0 && (
        <Box sx={sheet} role="listbox" aria-label="Changes">
          {changes.map((change) => (
            <Box
              key={change.id}
              role="option"
              tabIndex={0}
              aria-selected={change.id === selected?.id}
              onClick={() => setChosen(change.id)}
              onKeyDown={(event) => event.key === 'Enter' && setChosen(change.id)}
              sx={{
                display: 'grid',
                gridTemplateColumns: 'minmax(0, 1fr) 118px minmax(0, 1fr) 132px',
                gap: 1.5,
                alignItems: 'center',
                px: 1.5,
                py: 1,
                cursor: 'pointer',
                borderBottom: 1,
                borderColor: 'line',
                bgcolor: change.id === selected?.id ? 'tint' : 'transparent',
              }}
            >
              <Box sx={{ minWidth: 0 }} title={change.path}>
                <Box
                  className="mono"
                  sx={{ fontWeight: 600, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
                >
                  {nameOf(change.path)}
                </Box>
                <Box
                  className="mono"
                  sx={{
                    color: 'ink2',
                    fontSize: 11.5,
                    overflow: 'hidden',
                    textOverflow: 'ellipsis',
                    whiteSpace: 'nowrap',
                  }}
                >
                  {folderOf(change.path)}
                </Box>
              </Box>
              <StateMark tone={FIT_TONES[change.fit]}>{change.fit}</StateMark>
              <Box sx={{ fontSize: 13, color: 'ink2', overflow: 'hidden', textOverflow: 'ellipsis' }}>
                {change.findings[0]?.what}
              </Box>
              <Box sx={{ fontSize: 13, textAlign: 'right' }}>
                {bytes(change.originalSize)} →{' '}
                {change.preparedSize === null ? '?' : bytes(change.preparedSize)}
              </Box>
            </Box>
          ))}
        </Box>
      )}
    </Screen>
  );
}

function ChangeSide({ gameId, modId, change }: { gameId: number; modId: number; change: ChangeView }) {
  const base = `games/${gameId}/mods/${modId}/changes`;
  const mend = useAction((name: string) => api.post(`${base}/${change.id}`, { mend: name }));
  const undo = useAction((removed: RemovedChange) => api.post(base, removed));
  const remove = useAction(
    () => api.remove<RemovedChange>(`${base}/${change.id}`),
    (removed) =>
      enqueueSnackbar(`${nameOf(change.path)} is as it was.`, {
        action: (key) => (
          <Button
            sx={{ color: 'inherit' }}
            onClick={() => {
              closeSnackbar(key);
              undo.mutate(removed);
            }}
          >
            Undo
          </Button>
        ),
      }),
  );
  return (
    <>
      <Typography className="mono" sx={{ fontWeight: 700, overflowWrap: 'anywhere', mb: 1, fontSize: 14 }}>
        {nameOf(change.path)}
      </Typography>
      <BeforeAfter gameId={gameId} modId={modId} change={change} />
      <Box sx={{ my: 2 }}>
        {change.findings.map((finding) => (
          <Box key={finding.what} sx={{ py: 1, borderBottom: 1, borderColor: 'line' }}>
            <StateMark tone={FIT_TONES[finding.state]}>{finding.state}</StateMark>
            <Box sx={{ mt: 0.5, fontWeight: 600, overflowWrap: 'anywhere' }}>{finding.what}</Box>
            <Box sx={{ color: 'ink2', fontSize: 13 }}>{finding.why}.</Box>
            {finding.mend && (
              <Button
                sx={{ mt: 1 }}
                variant="contained"
                loading={mend.isPending}
                onClick={() => mend.mutate(finding.mend!.name)}
              >
                {finding.mend.label}
              </Button>
            )}
          </Box>
        ))}
      </Box>
      <Facts
        rows={[
          [
            'Given',
            <span key="given" className="mono">
              {change.givenName}
            </span>,
          ],
          [
            'Size',
            `${bytes(change.givenSize)} given, ${change.preparedSize === null ? 'not made ready' : `${bytes(change.preparedSize)} made ready`}`,
          ],
          [
            'Archive',
            <span key="archive" className="mono">
              {change.archive}
            </span>,
          ],
        ]}
      />
      <Box sx={{ display: 'flex', gap: 1, mt: 2 }}>
        {change.archiveId !== null && (
          <Button
            component={NextLink}
            variant="outlined"
            href={`/games/${gameId}/contents?entry=${change.archiveId}:${change.index}`}
          >
            Show the slot
          </Button>
        )}
        <Button sx={{ color: 'bad' }} onClick={() => remove.mutate(undefined)}>
          Take out
        </Button>
      </Box>
    </>
  );
}
