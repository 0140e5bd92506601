'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { PageLink } from '../kit/PageLink';
import { useSearchParams } from 'next/navigation';
import { useState } from 'react';
import { folderOf, nameOf, plural } from '../format';
import { NewModDialog } from '../frame/NewModDialog';
import { Blank, Failed, Loading } from '../kit/Blank';
import { Screen, sheet } from '../kit/Screen';
import { StateMark } from '../kit/StateMark';
import { useChanges } from '../queries';
import { useMod } from '../use-mod';
import { BringBack } from './BringBack';
import { ChangeSide } from './ChangeSide';
import { FIT_TONES } from './fit-tones';
import { HistoryButtons } from './HistoryButtons';
import { MendAll } from './MendAll';
import { PolicyChoice } from './PolicyChoice';
import { sizeWords } from './size-words';
import { SwapDialog } from './SwapDialog';
import { WorkFolder } from './WorkFolder';

/** The mod: what it changes, whether each change fits, and how to mend what does not. */
export function ChangesScreen({ gameId }: { gameId: number }) {
  const { mod, loaded } = useMod(gameId);
  const { data: changes, error } = useChanges(gameId, mod?.id, mod?.workFolder !== null);
  const asked = Number(useSearchParams().get('change') ?? '');
  const [picked, setChosen] = useState<number>();
  const chosen = picked ?? asked;
  const [making, setMaking] = useState(false);
  const [swapping, setSwapping] = useState(false);
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
        <>
          <HistoryButtons gameId={gameId} modId={mod.id} watched={mod.workFolder !== null} />
          <PolicyChoice gameId={gameId} mod={mod} />
          <WorkFolder gameId={gameId} mod={mod} />
          {changes && <MendAll url={`games/${gameId}/mods/${mod.id}/changes`} changes={changes} />}
          <Button variant="outlined" onClick={() => setSwapping(true)}>
            Swap a set
          </Button>
          <Button
            component={PageLink}
            href={`/games/${gameId}/build`}
            variant="contained"
            disabled={!changes || changes.length === 0 || unfit > 0}
          >
            To the build
          </Button>
        </>
      }
      side={selected && <ChangeSide gameId={gameId} modId={mod.id} change={selected} />}
    >
      {swapping && <SwapDialog gameId={gameId} modId={mod.id} onClose={() => setSwapping(false)} />}
      {error && !changes && <Failed error={error} />}
      <BringBack gameId={gameId} modId={mod.id}>
        {changes?.length === 0 && (
          <Blank
            title="Nothing changed yet"
            action={
              <Button component={PageLink} href={`/games/${gameId}/contents`} variant="contained">
                To the contents
              </Button>
            }
          >
            Choose an entry and press Replace, or drop a file on it. Files dropped here find their entries by
            their names. Pictures, sounds and texts are checked against the slot they go into.
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
                    sx={{
                      fontWeight: 600,
                      overflow: 'hidden',
                      textOverflow: 'ellipsis',
                      whiteSpace: 'nowrap',
                    }}
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
                <StateMark tone={FIT_TONES[change.fit]}>
                  {change.action === 'remove' ? 'taken out' : change.fit}
                </StateMark>
                <Box sx={{ fontSize: 13, color: 'ink2', overflow: 'hidden', textOverflow: 'ellipsis' }}>
                  {(change.findings.find(({ state }) => state === change.fit) ?? change.findings[0])?.what}
                </Box>
                <Box sx={{ fontSize: 13, textAlign: 'right' }}>{sizeWords(change)}</Box>
              </Box>
            ))}
          </Box>
        )}
      </BringBack>
    </Screen>
  );
}
