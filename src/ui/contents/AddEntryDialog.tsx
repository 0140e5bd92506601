'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { enqueueSnackbar } from 'notistack';
import { useDeferredValue, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import type { FitShown } from '@/core/fit';
import type { LikeView } from '@/server/mods/add-entry';
import { api } from '../api';
import { bytes, folderOf, nameOf } from '../format';
import { Failed } from '../kit/Blank';
import { useAction } from '../queries';

interface Props {
  gameId: number;
  modId: number;
  archiveId: number;
  archive: string;
  /** Entry that it was asked for beside; the new one goes into its folder. */
  beside: string;
  onClose: () => void;
}

const LIKELIEST = 'likeliest';

/** Adds an entry to an archive: a file, the path that it gets, and the entry whose way of storing it shares. */
export function AddEntryDialog({ gameId, modId, archiveId, archive, beside, onClose }: Props) {
  const [file, setFile] = useState<File>();
  const [written, setWritten] = useState<string>();
  const [like, setLike] = useState(LIKELIEST);
  const path = written ?? (file ? `${folderOf(beside)}${file.name}` : folderOf(beside));
  // Only these tell what is likely, and each question opens the archive.
  const asked = useDeferredValue(`${folderOf(path)}x${/\.[^./]*$/.exec(path)?.[0] ?? ''}`);
  const base = `games/${gameId}/mods/${modId}/added`;
  const query = new URLSearchParams({ archive: String(archiveId), path: asked });
  const { data: likes } = useQuery({
    queryKey: ['likes', gameId, archiveId, asked],
    queryFn: ({ signal }) => api.get<LikeView[]>(`${base}?${query}`, signal),
    placeholderData: (before) => before,
  });
  const add = useAction(
    (given: File) => {
      const wanted = new URLSearchParams({ archive: String(archiveId), path: path.trim(), name: given.name });
      if (like !== LIKELIEST) wanted.set('like', like);
      return api.put<{ fit: FitShown }>(`${base}?${wanted}`, given);
    },
    ({ fit }) => {
      enqueueSnackbar(
        fit === 'does not fit'
          ? `${nameOf(path)} is added, but does not fit yet; see Changes for the mend.`
          : `${nameOf(path)} is added to ${archive}.`,
        { variant: fit === 'does not fit' ? 'warning' : 'success' },
      );
      onClose();
    },
  );
  const drop = useDropzone({ multiple: false, onDrop: ([given]) => given && setFile(given) });
  const isNamed = path.trim() !== '' && !path.endsWith('/');
  return (
    <Dialog
      open
      onClose={onClose}
      maxWidth="sm"
      fullWidth
      slotProps={{ paper: { 'aria-label': 'Add an entry' } }}
    >
      <DialogTitle sx={{ fontSize: 17 }}>
        Add an entry to <span className="mono">{archive}</span>
      </DialogTitle>
      <DialogContent>
        <Box
          {...drop.getRootProps()}
          sx={{
            border: 1,
            borderStyle: 'dashed',
            borderColor: drop.isDragActive ? 'brass' : 'line',
            borderRadius: 1,
            p: 2,
            mb: 2,
            cursor: 'pointer',
          }}
        >
          <input {...drop.getInputProps({ 'aria-label': 'File to add' })} />
          {file ? (
            <>
              <span className="mono">{file.name}</span>, {bytes(file.size)}
            </>
          ) : (
            'Drop the file here, or press to choose it.'
          )}
        </Box>
        <TextField
          fullWidth
          label="Path in the archive"
          value={path}
          onChange={(event) => setWritten(event.target.value)}
          helperText="As the game will ask for it, with its folders and ending."
          slotProps={{ htmlInput: { className: 'mono', spellCheck: false } }}
          sx={{ mb: 2 }}
        />
        <TextField
          select
          fullWidth
          label="Stored like"
          value={like}
          onChange={(event) => setLike(event.target.value)}
          helperText="It is packed, locked and checked like this entry, and a picture is made in its format."
        >
          <MenuItem value={LIKELIEST}>
            {likes?.[0] ? `the likeliest, ${likes[0].path}` : 'the likeliest'}
          </MenuItem>
          {likes?.map(({ index, path: one }) => (
            <MenuItem key={index} value={String(index)} className="mono">
              {one}
            </MenuItem>
          ))}
        </TextField>
        {add.error && <Failed error={add.error} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={!file || !isNamed}
          loading={add.isPending}
          onClick={() => file && add.mutate(file)}
        >
          Add it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
