'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { NewModDialog } from '../frame/NewModDialog';
import { Blank, Failed, Loading } from '../kit/Blank';
import { useMod } from '../use-mod';
import { Desk } from './Desk';
import { useDeskView } from './desk-state';
import { useOverview } from './use-desk';

/** The text desk: all lines of a game in its languages, worked on as a mod. */
export function DeskScreen({ gameId }: { gameId: number }) {
  const { mod, loaded } = useMod(gameId);
  const [making, setMaking] = useState(false);
  if (!loaded) return <Loading what="Looking for the mod" />;
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
          What is translated belongs to a mod. Make one, and all lines of the game stand here.
        </Blank>
        <NewModDialog gameId={gameId} open={making} onClose={() => setMaking(false)} />
      </>
    );
  return <OfMod key={mod.id} gameId={gameId} modId={mod.id} />;
}

function OfMod({ gameId, modId }: { gameId: number; modId: number }) {
  const [view, setView] = useDeskView();
  const { data, error } = useOverview(gameId, modId, view);
  if (error && !data) return <Failed error={error} />;
  if (!data) return <Loading what="Reading the tables of texts" />;
  return (
    <Box sx={{ height: '100%', minHeight: 0 }}>
      <Desk {...{ gameId, modId, view, overview: data }} onView={setView} />
    </Box>
  );
}
