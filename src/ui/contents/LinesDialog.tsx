'use client';
import DeleteOutlineRounded from '@mui/icons-material/DeleteOutlineRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import IconButton from '@mui/material/IconButton';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import type { EntryRecord } from '@/server/entries/catalogue';
import type { PickedLine, PickListDetail, PickListView } from '@/server/recipes/pick-lists';
import { api } from '../api';
import { number, plural } from '../format';
import { useAction } from '../queries';
import { KindIcon } from './KindIcon';

const SHOWN = 400;

/** Picks what the lines of a paste, a manifest file or a saved list name; lines that fit nothing are pointed out. */
export function LinesDialog({
  gameId,
  picked,
  onPick,
  onArchive,
  onClose,
}: {
  gameId: number;
  /** Paths that are picked now, to be kept as a list. */
  picked: readonly string[];
  onPick: (records: readonly EntryRecord[]) => void;
  /** Shows what is in an archive that a line names. */
  onArchive: (id: number) => void;
  onClose: () => void;
}) {
  const [text, setText] = useState('');
  const [title, setTitle] = useState('');
  const [wanted, setWanted] = useState('');
  const [lines, setLines] = useState<readonly PickedLine[]>();
  const match = useAction(
    (pasted: string) => api.post<PickedLine[]>(`games/${gameId}/pick-lists`, { text: pasted }),
    setLines,
  );
  const { data: lists = [] } = useQuery({
    queryKey: ['pick-lists', gameId],
    queryFn: () => api.get<PickListView[]>(`games/${gameId}/pick-lists`),
  });
  const drop = useDropzone({
    noClick: true,
    multiple: false,
    onDrop: ([file]) =>
      file &&
      void file.text().then((whole) => {
        setText(whole);
        match.mutate(whole);
      }),
  });
  const all = lines ?? [];
  const found = all.flatMap(({ record }) => record ?? []);
  const archives = all.filter(({ named }) => named);
  const unknown = all.filter(({ record, named }) => !record && !named);
  const fits = ({ line, record, named }: PickedLine): boolean =>
    `${line} ${record?.kind ?? ''} ${named ? 'archive' : ''}`.toLowerCase().includes(wanted.toLowerCase());
  const shown = [...unknown, ...all.filter(({ record, named }) => record ?? named)].filter(fits);
  const pick = (records: readonly EntryRecord[], what: string): void => {
    onPick(records);
    enqueueSnackbar(`${what} picked`);
    onClose();
  };
  const take = useAction(
    (id: number) => api.get<PickListDetail>(`games/${gameId}/pick-lists/${id}`),
    ({ records, missing }) => {
      if (missing.length > 0)
        enqueueSnackbar(
          `${plural(missing.length, 'path is', 'paths are')} no longer there: ${missing.slice(0, 3).join(', ')}`,
          {
            variant: 'warning',
          },
        );
      pick(records, plural(records.length, 'entry', 'entries'));
    },
  );
  const remove = useAction((id: number) => api.remove(`games/${gameId}/pick-lists/${id}`));
  const keep = useAction(
    (isAdded: boolean) =>
      api.post<{ count: number }>(`games/${gameId}/pick-lists`, { title, paths: picked, isAdded }),
    ({ count }) => {
      enqueueSnackbar(`${title} has ${plural(count, 'path')} now.`);
      setTitle('');
    },
  );
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle sx={{ fontSize: 17 }}>Pick by lines</DialogTitle>
      <DialogContent>
        <Box
          {...drop.getRootProps()}
          sx={{ outline: drop.isDragActive ? '2px dashed' : 'none', outlineColor: 'brass' }}
        >
          <input {...drop.getInputProps({ 'aria-label': 'File with lines' })} />
          <TextField
            multiline
            minRows={4}
            maxRows={8}
            fullWidth
            margin="dense"
            label="Lines with paths, as of a manifest"
            value={text}
            onChange={(event) => setText(event.target.value)}
            slotProps={{ htmlInput: { className: 'mono', spellCheck: false } }}
            helperText="A path a line, in any case, with columns before or behind it; # begins a remark. A file can be dropped here."
          />
          <Box sx={{ display: 'flex', gap: 1, my: 1 }}>
            <Button
              variant={all.length === 0 ? 'contained' : 'outlined'}
              disabled={text.trim() === ''}
              loading={match.isPending}
              onClick={() => match.mutate(text)}
            >
              Match the lines
            </Button>
            <Button onClick={drop.open}>Choose a file…</Button>
          </Box>
        </Box>
        {lines && (
          <Box role="region" aria-label="Lines">
            <Box sx={{ fontWeight: 600, my: 1 }}>
              {number(found.length + archives.length)} of {plural(all.length, 'line')} matched
              {unknown.length > 0 && `, ${number(unknown.length)} not`}
              {archives.length > 0 && `; ${plural(archives.length, 'names an archive', 'name archives')}`}
            </Box>
            <Box sx={{ display: 'flex', gap: 1, mb: 1 }}>
              <TextField
                size="small"
                label="Find in the lines"
                value={wanted}
                onChange={(event) => setWanted(event.target.value)}
                sx={{ flex: 1 }}
              />
              <Button
                disabled={shown.length === 0}
                onClick={() =>
                  void navigator.clipboard
                    .writeText(shown.map(({ line }) => line).join('\n'))
                    .then(() => enqueueSnackbar(`${plural(shown.length, 'line')} on the clipboard`))
                }
              >
                Copy these lines
              </Button>
            </Box>
            <Box sx={{ maxHeight: 260, overflow: 'auto' }}>
              {shown.slice(0, SHOWN).map((one) => (
                <Line
                  key={one.number}
                  line={one}
                  onArchive={(id) => {
                    onArchive(id);
                    onClose();
                  }}
                  onTake={(nearest) => {
                    const next = text
                      .split(/\r?\n/)
                      .map((row, i) => (i + 1 === one.number ? nearest : row))
                      .join('\n');
                    setText(next);
                    match.mutate(next);
                  }}
                />
              ))}
            </Box>
          </Box>
        )}
        {lists.length > 0 && (
          <Box role="list" aria-label="Saved lists" sx={{ mt: 2 }}>
            <Box sx={{ fontSize: 12.5, fontWeight: 700, color: 'ink2' }}>Saved lists</Box>
            {lists.map(({ id, title: name, count }) => (
              <Box
                key={id}
                role="listitem"
                sx={{ display: 'flex', alignItems: 'center', gap: 1, borderBottom: 1, borderColor: 'line' }}
              >
                <Box sx={{ flex: 1 }}>
                  {name}, {plural(count, 'path')}
                </Box>
                <Button size="small" component="a" href={`/api/games/${gameId}/pick-lists/${id}?as=text`}>
                  Export
                </Button>
                <Button size="small" loading={take.isPending} onClick={() => take.mutate(id)}>
                  Pick
                </Button>
                <IconButton size="small" aria-label={`Remove ${name}`} onClick={() => remove.mutate(id)}>
                  <DeleteOutlineRounded fontSize="small" />
                </IconButton>
              </Box>
            ))}
          </Box>
        )}
        {picked.length > 0 && (
          <Box sx={{ display: 'flex', gap: 1, mt: 2, alignItems: 'center' }}>
            <TextField
              size="small"
              label={`Keep the ${number(picked.length)} picked as a list`}
              value={title}
              onChange={(event) => setTitle(event.target.value)}
              sx={{ flex: 1 }}
              slotProps={{ htmlInput: { maxLength: 120 } }}
            />
            <Button
              disabled={title.trim() === ''}
              loading={keep.isPending}
              onClick={() => keep.mutate(false)}
            >
              Keep
            </Button>
            {lists.some((list) => list.title === title.trim()) && (
              <Button loading={keep.isPending} onClick={() => keep.mutate(true)}>
                Add to it
              </Button>
            )}
          </Box>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button
          variant="contained"
          disabled={found.length === 0}
          onClick={() => pick(found, plural(found.length, 'entry', 'entries'))}
        >
          Pick {plural(found.length, 'entry', 'entries')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Line({
  line: { line, number: place, record, named, nearest },
  onTake,
  onArchive,
}: {
  line: PickedLine;
  onTake: (nearest: string) => void;
  onArchive: (id: number) => void;
}) {
  const isKnown = record !== undefined || named !== undefined;
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', py: 0.25, fontSize: 13 }}>
      <Box sx={{ width: 44, color: 'ink2', textAlign: 'right' }}>{place}</Box>
      {isKnown ? (
        <KindIcon kind={record?.kind ?? 'archive'} />
      ) : (
        <Box sx={{ width: 18, color: 'bad', fontWeight: 700 }}>!</Box>
      )}
      <Box
        className="mono"
        sx={{ flex: 1, overflowWrap: 'anywhere', color: isKnown ? 'text.primary' : 'bad' }}
      >
        {record ? record.path : line}
      </Box>
      {record && <Box sx={{ color: 'ink2' }}>{record.kind}</Box>}
      {named && (
        <>
          <Box sx={{ color: 'ink2' }}>
            {named.isPart ? `part of ${named.path}` : 'archive'},{' '}
            {named.state === 'open' ? plural(named.entries, 'entry', 'entries') : named.state}
          </Box>
          {named.state === 'open' && (
            <Button size="small" onClick={() => onArchive(named.id)}>
              Show its entries
            </Button>
          )}
        </>
      )}
      {!isKnown && nearest && (
        <Button size="small" className="mono" onClick={() => onTake(nearest)} title="Take this path instead">
          {nearest}
        </Button>
      )}
      {!isKnown && !nearest && <Box sx={{ color: 'ink2' }}>no entry is called so</Box>}
    </Box>
  );
}
