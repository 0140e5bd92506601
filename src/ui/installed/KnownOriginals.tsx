'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { api } from '../api';
import { plural } from '../format';
import { useAction, useKnownOriginals } from '../queries';

const WORDS = {
  terms: {
    title: 'Terms of the game',
    label: 'What its makers say about changing it',
    help: 'Shown before each installation.',
    isList: false,
  },
  listing: {
    title: 'Known originals',
    label: 'SHA-256 sums, a file a line',
    help: 'As sha256sum writes them. Paste the list, or drop it here. A file that differs is questioned before it is overwritten.',
    isList: true,
  },
  looseFolder: {
    title: 'Loose files',
    label: 'Folder in which the game looks before its archives',
    help: 'As a path in the game folder. Then a mod can be built as loose files.',
    isList: false,
  },
} as const;
type Sort = keyof typeof WORDS;

/** What is known of a game's originals and terms, to be noted by hand. */
export function KnownOriginals({ gameId }: { gameId: number }) {
  const { data } = useKnownOriginals(gameId);
  const [open, setOpen] = useState<Sort>();
  const lines = data?.listing.split('\n').filter((line) => line.trim() !== '').length ?? 0;
  return (
    <Box sx={{ mt: 3 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        What is known of this game
      </Typography>
      <Row
        title="Known originals"
        fact={lines === 0 ? 'no list of sums' : plural(lines, 'sum')}
        onEdit={() => setOpen('listing')}
      />
      <Row
        title="Terms of the game"
        fact={data?.terms.trim() ? 'noted' : 'none noted'}
        onEdit={() => setOpen('terms')}
      />
      <Row
        title="Loose files"
        fact={data?.looseFolder ? `read from ${data.looseFolder}` : 'not known to be read'}
        onEdit={() => setOpen('looseFolder')}
      />
      {open && data && (
        <TextDialog
          key={open}
          gameId={gameId}
          sort={open}
          given={data[open]}
          onClose={() => setOpen(undefined)}
        />
      )}
    </Box>
  );
}

function Row({ title, fact, onEdit }: { title: string; fact: string; onEdit: () => void }) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', py: 0.25, borderBottom: 1, borderColor: 'line' }}>
      <Box sx={{ flex: 1 }}>
        {title}
        <Box component="span" sx={{ color: 'ink2', fontSize: 12.5, ml: 1 }}>
          {fact}
        </Box>
      </Box>
      <Button size="small" aria-label={`Edit ${title.toLowerCase()}`} onClick={onEdit}>
        Edit
      </Button>
    </Box>
  );
}

function TextDialog({
  gameId,
  sort,
  given,
  onClose,
}: {
  gameId: number;
  sort: Sort;
  given: string;
  onClose: () => void;
}) {
  const [text, setText] = useState(given);
  const words = WORDS[sort];
  const save = useAction(() => api.patch(`games/${gameId}/originals`, { [sort]: text }), onClose);
  const drop = useDropzone({
    noClick: true,
    multiple: false,
    onDrop: ([file]) => void file?.text().then(setText),
  });
  return (
    <Dialog
      open
      onClose={onClose}
      maxWidth="sm"
      fullWidth
      slotProps={{ paper: { 'aria-label': words.title } }}
    >
      <DialogTitle sx={{ fontSize: 17 }}>{words.title}</DialogTitle>
      <DialogContent>
        <Box
          {...drop.getRootProps()}
          sx={{ outline: drop.isDragActive ? '2px dashed' : 'none', outlineColor: 'brass', borderRadius: 1 }}
        >
          <input {...drop.getInputProps()} />
          <TextField
            autoFocus
            {...(sort !== 'looseFolder' && { multiline: true, minRows: 6, maxRows: 14 })}
            fullWidth
            margin="dense"
            label={words.label}
            helperText={words.help}
            value={text}
            onChange={(event) => setText(event.target.value)}
            slotProps={{ htmlInput: { className: words.isList ? 'mono' : '', spellCheck: !words.isList } }}
          />
          {words.isList && <Button onClick={drop.open}>Choose a file…</Button>}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" loading={save.isPending} onClick={() => save.mutate(undefined)}>
          Save
        </Button>
      </DialogActions>
    </Dialog>
  );
}
