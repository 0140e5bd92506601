'use client';
import AddRounded from '@mui/icons-material/AddRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { PageLink } from '../kit/PageLink';
import { useState } from 'react';
import type { GameView } from '@/server/games/games';
import { plural } from '../format';
import { TopBar } from '../frame/TopBar';
import { Blank, Failed, Loading } from '../kit/Blank';
import { Screen, sheet } from '../kit/Screen';
import { StateMark } from '../kit/StateMark';
import { useChain, useGames } from '../queries';
import { AddGameDialog } from './AddGameDialog';

function GameCard({ game }: { game: GameView }) {
  const { data: chain } = useChain(game.id, undefined);
  const fact = (name: string): string => chain?.find((link) => link.name === name)?.fact ?? '…';
  return (
    <Box
      component={PageLink}
      href={`/games/${game.id}/${game.present ? 'locks' : 'folder'}`}
      sx={{
        ...sheet,
        display: 'block',
        p: 2,
        color: 'text.primary',
        textDecoration: 'none',
        '&:hover': { borderColor: 'brass' },
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mb: 0.5 }}>
        <Box sx={{ flex: 1, fontWeight: 700, fontSize: 16 }}>{game.title}</Box>
        {game.present ? (
          <StateMark tone="good">there</StateMark>
        ) : (
          <StateMark tone="bad">folder gone</StateMark>
        )}
      </Box>
      <Box className="mono" sx={{ color: 'ink2', overflowWrap: 'anywhere', mb: 1.5 }}>
        {game.folder}
      </Box>
      {(['folder', 'locks', 'contents', 'installed'] as const).map((name) => (
        <Box
          key={name}
          sx={{ display: 'flex', gap: 1, py: 0.4, borderTop: 1, borderColor: 'line', fontSize: 13 }}
        >
          <Box sx={{ width: 76, color: 'ink2', textTransform: 'capitalize' }}>{name}</Box>
          {fact(name)}
        </Box>
      ))}
    </Box>
  );
}

/** All games. */
export function ShelfScreen() {
  const { data: games, error } = useGames();
  const [adding, setAdding] = useState(false);
  const add = (
    <Button variant="contained" startIcon={<AddRounded />} onClick={() => setAdding(true)}>
      Add a game folder
    </Button>
  );
  const actions = (
    <>
      <Button component={PageLink} href="/scripts">
        Format scripts
      </Button>
      {add}
    </>
  );
  return (
    <Box sx={{ height: '100dvh', display: 'flex', flexDirection: 'column' }}>
      <TopBar />
      <Box component="main" sx={{ flex: 1, minHeight: 0 }}>
        <Screen title="Shelf" fact={games && plural(games.length, 'game')} actions={actions}>
          {error && !games && <Failed error={error} />}
          {!games && !error && <Loading what="Looking at the shelf" />}
          {games?.length === 0 && (
            <Blank title="No games yet" action={add}>
              Add the folder of a game. Nothing in it is changed until you install a mod, and originals are
              always kept.
            </Blank>
          )}
          <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: 'repeat(auto-fill, minmax(340px, 1fr))' }}>
            {games?.map((game) => (
              <GameCard key={game.id} game={game} />
            ))}
          </Box>
        </Screen>
      </Box>
      <AddGameDialog open={adding} onClose={() => setAdding(false)} />
    </Box>
  );
}
