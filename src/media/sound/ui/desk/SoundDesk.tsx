'use client';
import AddRounded from '@mui/icons-material/AddRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import List from '@mui/material/List';
import ListItemButton from '@mui/material/ListItemButton';
import ListItemText from '@mui/material/ListItemText';
import ListSubheader from '@mui/material/ListSubheader';
import { useRouter, useSearchParams } from 'next/navigation';
import { enqueueSnackbar } from 'notistack';
import { useDropzone } from 'react-dropzone';
import type { BoardSort } from '@/media/sound/core/board';
import type { BoardItem, BoardView } from '@/server/boards/boards';
import { api } from '@/ui/api';
import { TopBar } from '@/ui/frame/TopBar';
import { Blank, Failed, Loading } from '@/ui/kit/Blank';
import { PadBoard } from './PadBoard';
import { StripBoard } from './StripBoard';
import { addBoard, useBoards } from './use-boards';

const SORTS = [
  { sort: 'strip', title: 'Strips', one: 'Strip' },
  { sort: 'pad', title: 'Pads', one: 'Pad' },
] as const satisfies readonly { sort: BoardSort; title: string; one: string }[];

const told = (error: unknown): void =>
  void enqueueSnackbar((error as Error).message, { variant: 'error', autoHideDuration: 12_000 });

/** Where sounds of all games are joined to new ones, and played by keys. */
export function SoundDesk() {
  const router = useRouter();
  const { data: boards, error } = useBoards();
  const asked = Number(useSearchParams().get('board'));
  const chosen = boards?.find(({ id }) => id === asked) ?? boards?.[0];
  const show = (id: number): void => router.push(`/sound-desk?board=${id}`);
  const make = async (sort: BoardSort, one: string): Promise<void> => {
    try {
      const count = boards?.filter((board) => board.sort === sort).length ?? 0;
      show((await addBoard(sort, `${one} ${count + 1}`)).id);
    } catch (problem) {
      told(problem);
    }
  };
  const take = async (file: File): Promise<void> => {
    try {
      const board: unknown = JSON.parse(await file.text());
      show((await api.post<BoardView>('boards/shared', { board })).id);
    } catch (problem) {
      told(problem instanceof SyntaxError ? new Error(`${file.name} is no board: it is not JSON.`) : problem);
    }
  };
  const drop = useDropzone({
    ...{ noClick: true, noKeyboard: true, multiple: false, accept: { 'application/json': ['.json'] } },
    onDrop: ([file]) => file && void take(file),
  });
  return (
    <Box sx={{ height: '100dvh', display: 'flex', flexDirection: 'column', minWidth: 900 }}>
      <TopBar>
        <Box sx={{ fontWeight: 600 }}>Sound desk</Box>
      </TopBar>
      <Box component="main" sx={{ flex: 1, minHeight: 0, display: 'flex' }} {...drop.getRootProps()}>
        <input {...drop.getInputProps({ 'aria-label': 'File of a board' })} />
        <Box
          component="nav"
          aria-label="Boards"
          sx={{
            width: 220,
            flexShrink: 0,
            borderRight: 1,
            borderColor: 'line',
            bgcolor: 'panel',
            overflow: 'auto',
          }}
        >
          {SORTS.map(({ sort, title, one }) => (
            <List
              key={sort}
              dense
              subheader={<ListSubheader sx={{ bgcolor: 'panel' }}>{title}</ListSubheader>}
            >
              {boards
                ?.filter((board) => board.sort === sort)
                .map((board) => (
                  <ListItemButton
                    key={board.id}
                    selected={board.id === chosen?.id}
                    onClick={() => show(board.id)}
                  >
                    <ListItemText
                      primary={board.title}
                      secondary={`${board.count} ${board.count === 1 ? 'clip' : 'clips'}`}
                      slotProps={{ primary: { noWrap: true, title: board.title } }}
                    />
                  </ListItemButton>
                ))}
              <Button
                size="small"
                startIcon={<AddRounded />}
                sx={{ mx: 1 }}
                onClick={() => void make(sort, one)}
              >
                New {one.toLowerCase()}
              </Button>
            </List>
          ))}
          <Button size="small" sx={{ mx: 1 }} onClick={drop.open}>
            Take in a shared one…
          </Button>
        </Box>
        <Box sx={{ flex: 1, minWidth: 0, overflow: 'auto', px: 2.75, py: 2.25 }}>
          {error && !boards ? (
            <Failed error={error} />
          ) : !boards ? (
            <Loading what="Looking for boards" />
          ) : chosen ? (
            <OpenedBoard board={chosen} />
          ) : (
            <Blank title="No strip and no pad yet">
              A strip joins sounds to a new one, with gaps, levels and fades; a pad plays them by the keys of
              the keyboard. Make one here, or choose a sound of a game and press <em>To a strip</em> or{' '}
              <em>To a pad</em> below its wave.
            </Blank>
          )}
        </Box>
      </Box>
    </Box>
  );
}

const OpenedBoard = ({ board: { id, sort } }: { board: BoardItem }) =>
  sort === 'strip' ? <StripBoard key={id} id={id} /> : <PadBoard key={id} id={id} />;
