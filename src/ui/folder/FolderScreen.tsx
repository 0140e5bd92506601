'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { GameView } from '@/server/games/games';
import { api } from '../api';
import { bytes, plural, when } from '../format';
import { JobLine } from '../frame/JobLine';
import { Blank, Failed, Loading } from '../kit/Blank';
import { Facts } from '../kit/Facts';
import { Screen } from '../kit/Screen';
import { FolderMap } from './FolderMap';
import { FolderNotes } from './FolderNotes';
import { FolderField } from '../kit/FolderField';
import { useAction, useArchives, useGame, useGames, useLast, useRunning } from '../queries';

/** The game's folder: where it is, what is in it, and the user's own notes. */
export function FolderScreen({ gameId }: { gameId: number }) {
  const { data: game, error } = useGame(gameId);
  const { data: all = [] } = useArchives(gameId);
  const archives = all.filter(({ sort }) => sort === 'file');
  const running = useRunning(gameId, 'scan');
  const last = useLast(gameId, 'scan');
  const scan = useAction(() => api.post(`games/${gameId}/jobs`, { kind: 'scan' }));
  if (error && !game) return <Failed error={error} />;
  if (!game) return <Loading what="Opening the game" />;
  return (
    <Screen
      title={game.title}
      fact={game.scannedAt ? `scanned ${when(game.scannedAt)}` : 'not scanned yet'}
      actions={
        <Button
          variant="contained"
          disabled={!game.present}
          loading={running !== undefined}
          onClick={() => scan.mutate(undefined)}
        >
          Scan again
        </Button>
      }
      side={<Side key={game.folder} game={game} />}
    >
      {!game.present && (
        <Failed
          error={`The folder ${game.folder} is no longer there. Put it back or mount it again, or give its new place at the right. Keys, mods and originals are kept.`}
        />
      )}
      {(running ?? last) && <JobLine job={(running ?? last)!} />}
      {game.present && archives.length === 0 && !running ? (
        <Blank title="No archives were found">
          No shipped format script knows any file in this folder. Check that it is the folder of the game
          itself, not one above or below.
        </Blank>
      ) : (
        <>
          <Typography variant="h2" sx={{ mt: 2.5, mb: 1 }}>
            {plural(archives.length, 'archive')}, {bytes(archives.reduce((sum, { size }) => sum + size, 0))}
          </Typography>
          <FolderMap gameId={gameId} archives={archives} />
        </>
      )}
      {game.present && <FolderNotes gameId={gameId} onScan={() => scan.mutate(undefined)} />}
    </Screen>
  );
}

function Side({ game }: { game: GameView }) {
  const router = useRouter();
  const [notes, setNotes] = useState(game.notes);
  const [folder, setFolder] = useState(game.folder);
  const [removing, setRemoving] = useState(false);
  const [asking, setAsking] = useState(false);
  const { data: games } = useGames();
  const other = games?.find((one) => one.id !== game.id && one.folder === folder.replace(/\/+$/, ''));
  const change = useAction((input: Partial<GameView> & { takeOver?: boolean }) =>
    api.patch(`games/${game.id}`, input),
  );
  const remove = useAction(
    () => api.remove(`games/${game.id}`),
    () => router.push('/'),
  );
  return (
    <>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Notes
      </Typography>
      <TextField
        multiline
        minRows={7}
        fullWidth
        value={notes}
        onChange={(event) => setNotes(event.target.value)}
        slotProps={{ htmlInput: { 'aria-label': 'Notes', className: 'mono' } }}
        placeholder="Terms of the game, where keys come from, what you want to remember."
      />
      <Button
        sx={{ mt: 1 }}
        variant="outlined"
        disabled={notes === game.notes}
        loading={change.isPending}
        onClick={() => change.mutate({ notes })}
      >
        Keep the notes
      </Button>
      <Typography variant="h2" sx={{ mt: 3, mb: 1 }}>
        Place
      </Typography>
      <FolderField label="Folder of the game" value={folder} onChange={setFolder} />
      <Button
        sx={{ mt: 1 }}
        variant="outlined"
        disabled={folder === game.folder}
        onClick={() => (other ? setAsking(true) : change.mutate({ folder }))}
      >
        Use this folder
      </Button>
      <Dialog open={asking && other !== undefined} onClose={() => setAsking(false)}>
        <DialogContent>
          {other?.title} is on the shelf with this folder as a game of its own. Take it off the shelf and
          point {game.title} at its folder? Its keys come along; changes, keys and mods of {game.title} stay.
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setAsking(false)}>Leave both</Button>
          <Button
            variant="contained"
            onClick={() => {
              setAsking(false);
              change.mutate({ folder, takeOver: true });
            }}
          >
            Point it there
          </Button>
        </DialogActions>
      </Dialog>
      <Box sx={{ mt: 3 }}>
        <Facts rows={[['Stand-in', game.standIn ?? 'none knows this game']]} />
      </Box>
      <Button sx={{ mt: 3, color: 'bad' }} onClick={() => setRemoving(true)}>
        Take off the shelf…
      </Button>
      <Dialog open={removing} onClose={() => setRemoving(false)}>
        <DialogContent>
          Take {game.title} off the shelf? Its keys, mods and builds are forgotten. Its folder is not touched.
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setRemoving(false)}>Keep it</Button>
          <Button variant="contained" color="error" onClick={() => remove.mutate(undefined)}>
            Take it off
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
