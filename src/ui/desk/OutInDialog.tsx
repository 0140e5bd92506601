'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import type { TextTaken } from '@/media/text/core/desk';
import type { Brought } from '@/server/desk/exchange';
import type { LinesEdited } from '@/server/desk/edit-lines';
import { api } from '../api';
import { number, plural } from '../format';
import { Facts } from '../kit/Facts';
import { useAction } from '../queries';
import { linesOf, refOf, tonguesOf, type DeskView } from './desk-state';

const FORMS = [
  ['xlsx', 'XLSX, for table programs'],
  ['csv', 'CSV'],
  ['po', 'PO (gettext)'],
  ['xliff 1.2', 'XLIFF 1.2'],
  ['xliff 2', 'XLIFF 2'],
  ['json', 'JSON'],
] as const;

interface Props {
  readonly path: string;
  readonly view: DeskView;
  readonly total: number;
  readonly by: string;
  readonly onClose: () => void;
  readonly onDone: (done: LinesEdited) => void;
}

interface Read extends Brought {
  readonly blob: string;
  readonly name: string;
}

/** Lines out as a file for whoever translates them elsewhere, and back: what it would change is told before it is taken. */
export function OutInDialog({ path, view, total, by, onClose, onDone }: Props) {
  const [form, setForm] = useState<string>('xlsx');
  const [read, setRead] = useState<Read>();
  const [theirs, setTheirs] = useState<ReadonlySet<string>>(new Set());
  const give = useAction(
    async (file: File): Promise<Read> => {
      const query = new URLSearchParams({ ...tonguesOf(view), name: file.name });
      return { ...(await api.put<Omit<Read, 'name'>>(`${path}/brought?${query}`, file)), name: file.name };
    },
    (now) => {
      setRead(now);
      setTheirs(new Set());
    },
  );
  const take = useAction(
    () => {
      const wanted = (read?.conflicts ?? []).filter((one) => theirs.has(refOf(one)));
      const ids = wanted.map(({ place, key, nth }) => ({ place, key, nth }));
      return api.post<LinesEdited>(`${path}/brought`, {
        ...tonguesOf(view),
        blob: read!.blob,
        name: read!.name,
        theirs: ids,
        by,
      });
    },
    (done) => onDone(done),
  );
  const { getRootProps, getInputProps, isDragActive } = useDropzone({
    multiple: false,
    onDrop: ([file]) => file && give.mutate(file),
  });
  const count = (read?.changed ?? 0) + theirs.size;
  const address = `/api/${path}/take?${new URLSearchParams({ ...linesOf(view), form })}`;
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>Out and in as a file</DialogTitle>
      <DialogContent>
        <Typography variant="h2" sx={{ fontSize: 14, mb: 1 }}>
          Out
        </Typography>
        <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap', pt: 0.5 }}>
          <TextField
            select
            size="small"
            label="As"
            value={form}
            onChange={(event) => setForm(event.target.value)}
            sx={{ minWidth: 220 }}
          >
            {FORMS.map(([name, title]) => (
              <MenuItem key={name} value={name}>
                {title}
              </MenuItem>
            ))}
          </TextField>
          <Button variant="outlined" component="a" href={address} download>
            Take out {plural(total, 'line')}
          </Button>
          <Box sx={{ color: 'ink2', fontSize: 13 }}>
            The lines that are listed now, with keys, source and text.
          </Box>
        </Box>
        <Typography variant="h2" sx={{ fontSize: 14, mt: 3, mb: 1 }}>
          In
        </Typography>
        <Box
          {...getRootProps()}
          sx={{
            p: 2,
            border: '1px dashed',
            borderColor: isDragActive ? 'brass' : 'line',
            borderRadius: 1,
            cursor: 'pointer',
            textAlign: 'center',
            color: 'ink2',
          }}
        >
          <input {...getInputProps({ 'aria-label': 'File with lines' })} />
          {give.isPending
            ? 'Looking at it …'
            : 'Drop a file that came out here, or press to choose one. Nothing is changed before you have seen what it would change.'}
        </Box>
        {read && <Told read={read} theirs={theirs} onTheirs={setTheirs} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button
          variant="contained"
          disabled={!read || count === 0}
          loading={take.isPending}
          onClick={() => take.mutate(undefined)}
        >
          Take {plural(count, 'changed line')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Told({
  read,
  theirs,
  onTheirs,
}: {
  read: Read;
  theirs: ReadonlySet<string>;
  onTheirs: (now: ReadonlySet<string>) => void;
}) {
  return (
    <Box sx={{ mt: 2 }} role="status" aria-label="What it would change">
      <Facts
        rows={[
          ['File', `${read.name}, ${read.form.toUpperCase()}, ${plural(read.lines, 'line')}`],
          ['Changed', number(read.changed)],
          ['The same', number(read.same)],
          read.empty > 0 ? ['Empty', `${number(read.empty)}, which change nothing`] : undefined,
          read.conflicts.length > 0
            ? ['Both', `${number(read.conflicts.length)} were changed here as well; choose below`]
            : undefined,
          read.unknown > 0
            ? [
                'Unknown',
                `${number(read.unknown)}: ${read.firstUnknown.slice(0, 5).join(', ')}${read.unknown > 5 ? ' …' : ''}`,
              ]
            : undefined,
          read.missing > 0
            ? ['Not in it', `${plural(read.missing, 'line')}, which stay as they are`]
            : undefined,
        ]}
      />
      {read.warnings.map((warning) => (
        <Box key={warning} sx={{ mt: 1, px: 1, py: 0.5, bgcolor: 'lookBack', fontSize: 13 }}>
          {warning}
        </Box>
      ))}
      {read.conflicts.length > 0 && (
        <>
          <Typography variant="h3" sx={{ fontSize: 13, mt: 2, mb: 0.5 }}>
            Changed here and in the file
          </Typography>
          {read.conflicts.map((one) => (
            <Compared
              key={refOf(one)}
              line={one}
              choice={
                <Checkbox
                  size="small"
                  sx={{ p: 0.25 }}
                  checked={theirs.has(refOf(one))}
                  slotProps={{ input: { 'aria-label': `Take ${one.key} from the file` } }}
                  onChange={(_, isOn) => {
                    const now = new Set(theirs);
                    if (isOn) now.add(refOf(one));
                    else now.delete(refOf(one));
                    onTheirs(now);
                  }}
                />
              }
            />
          ))}
        </>
      )}
      <Box sx={{ maxHeight: 240, overflow: 'auto', mt: 2 }}>
        {read.shown.map((one) => (
          <Compared key={refOf(one)} line={one} />
        ))}
      </Box>
    </Box>
  );
}

function Compared({ line, choice }: { line: TextTaken; choice?: React.ReactNode }) {
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: '34px minmax(80px, 0.5fr) 1fr 1fr',
        gap: 1,
        py: 0.5,
        borderBottom: 1,
        borderColor: 'line',
        fontSize: 13,
        overflowWrap: 'anywhere',
      }}
    >
      <span>{choice}</span>
      <Box className="mono" sx={{ fontSize: 11.5, color: 'ink2' }}>
        {line.key}
      </Box>
      <Box sx={{ color: 'ink2' }} dir="auto">
        {line.now || 'nothing yet'}
      </Box>
      <Box dir="auto">{line.text}</Box>
    </Box>
  );
}
