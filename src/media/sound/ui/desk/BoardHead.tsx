'use client';
import RedoRounded from '@mui/icons-material/RedoRounded';
import UndoRounded from '@mui/icons-material/UndoRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import InputBase from '@mui/material/InputBase';
import { useRouter } from 'next/navigation';
import { enqueueSnackbar } from 'notistack';
import { useState, type ReactNode } from 'react';
import { api } from '@/ui/api';
import { useUndoKeys, type OpenBoard } from './use-boards';

/** The title of a board, which is changed where it stands, and what is done with all of it. */
export function BoardHead({
  board,
  children,
}: {
  board: Omit<OpenBoard<never>, 'change' | 'content'>;
  children?: ReactNode;
}) {
  const { data, canUndo, canRedo, undo, redo, retitle } = board;
  const router = useRouter();
  const [title, setTitle] = useState<string>();
  const [isSure, setSure] = useState(false);
  useUndoKeys({ undo, redo });
  if (!data) return null;
  const keep = (): void => {
    if (title?.trim() && title.trim() !== data.title) retitle(title.trim());
    setTitle(undefined);
  };
  const remove = async (): Promise<void> => {
    if (!isSure) return setSure(true);
    try {
      await api.remove(`boards/${data.id}`);
      router.replace('/sound-desk');
    } catch (error) {
      enqueueSnackbar((error as Error).message, { variant: 'error' });
    }
  };
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mb: 1.5, flexWrap: 'wrap' }}>
      <InputBase
        value={title ?? data.title}
        onChange={({ target }) => setTitle(target.value)}
        onBlur={keep}
        onKeyDown={(event) => event.key === 'Enter' && (event.target as HTMLElement).blur()}
        inputProps={{ 'aria-label': 'Title of the board', maxLength: 200 }}
        sx={{ flex: 1, minWidth: 180, fontSize: 20, fontWeight: 700 }}
      />
      <IconButton size="small" aria-label="Undo" title="Undo (Ctrl+Z)" disabled={!canUndo} onClick={undo}>
        <UndoRounded fontSize="small" />
      </IconButton>
      <IconButton size="small" aria-label="Redo" title="Redo (Ctrl+Y)" disabled={!canRedo} onClick={redo}>
        <RedoRounded fontSize="small" />
      </IconButton>
      {children}
      <Button component="a" size="small" href={`/api/boards/${data.id}/shared`} download>
        Share as a file
      </Button>
      <Button
        size="small"
        color={isSure ? 'error' : 'primary'}
        onClick={() => void remove()}
        onBlur={() => setSure(false)}
      >
        {isSure ? 'Delete it for good' : 'Delete…'}
      </Button>
    </Box>
  );
}
