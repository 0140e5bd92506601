'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { enqueueSnackbar } from 'notistack';
import { api } from '../api';
import { startDownload } from '../download';
import { rememberFolder, useOutputFolder } from '../default-folder';
import { bytes, plural } from '../format';
import { MEDIA_WAYS, STORED, waysOf } from '@/media/ways';
import { FolderField } from '../kit/FolderField';
import { useAction } from '../queries';
import { keepText, useKeptText } from '../kept-text';

export interface ExtractItem {
  archiveId: number;
  index: number;
  path: string;
  kind: string;
  size: number;
}

const KEPT_WAYS = 'zero-latch-extract-ways';

/** The ways in which entries of each kind are taken out: what was chosen last, else what is usual. */
function useWays(): Record<string, string> {
  const kept = useKeptText(KEPT_WAYS);
  let chosen: Record<string, unknown> = {};
  try {
    chosen = JSON.parse(kept ?? '{}') as Record<string, unknown>;
  } catch {
    // What cannot be read is as if nothing had been chosen.
  }
  return Object.fromEntries(
    MEDIA_WAYS.map(([kind, { usual = STORED.name }]) => {
      const way = waysOf(kind).find(({ name }) => name === chosen[kind]);
      return [kind, way?.name ?? usual];
    }),
  );
}

/** Where picked entries go: a ZIP to download, or a folder on this machine. */
export function ExtractDialog({
  gameId,
  items,
  onClose,
}: {
  gameId: number;
  items: readonly ExtractItem[];
  onClose: () => void;
}) {
  const [folder, setFolder] = useOutputFolder(gameId);
  const ways = useWays();
  const entries = items.map(({ archiveId, index }) => ({ archiveId, index }));
  const convert = Object.fromEntries(
    Object.entries(ways).filter(([kind]) => items.some((item) => item.kind === kind)),
  );
  const zip = useAction(
    () => api.post<{ ticket: string }>(`games/${gameId}/picks`, { entries, convert }),
    ({ ticket }) => {
      startDownload(ticket);
      onClose();
    },
  );
  const write = useAction(
    () => api.post(`games/${gameId}/jobs`, { kind: 'extract', entries, folder, convert }),
    () => {
      rememberFolder(gameId, folder);
      enqueueSnackbar(
        `Extracting ${plural(items.length, 'entry', 'entries')} to ${folder}; see the jobs at the top.`,
      );
      onClose();
    },
  );
  return (
    <Dialog open={items.length > 0} onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ fontSize: 17 }}>
        Extract {plural(items.length, 'entry', 'entries')},{' '}
        {bytes(items.reduce((sum, { size }) => sum + size, 0))}
      </DialogTitle>
      <DialogContent>
        {MEDIA_WAYS.filter(([kind]) => kind in convert).map(([kind, { one }]) => (
          <TextField
            key={kind}
            select
            fullWidth
            margin="dense"
            label={plural(items.filter((item) => item.kind === kind).length, one)}
            value={ways[kind]}
            onChange={(event) => keepText(KEPT_WAYS, JSON.stringify({ ...ways, [kind]: event.target.value }))}
            helperText={waysOf(kind).find(({ name }) => name === ways[kind])?.help}
            sx={{ mb: 2 }}
          >
            {waysOf(kind).map(({ name, label }) => (
              <MenuItem key={name} value={name}>
                {label}
              </MenuItem>
            ))}
          </TextField>
        ))}
        <Typography variant="h2" sx={{ mb: 0.5 }}>
          Into a ZIP
        </Typography>
        <Button variant="contained" fullWidth loading={zip.isPending} onClick={() => zip.mutate(undefined)}>
          Download the ZIP
        </Button>
        <Typography variant="h2" sx={{ mt: 3, mb: 0.5 }}>
          Into a folder
        </Typography>
        <FolderField
          label="Folder on this machine"
          value={folder}
          onChange={setFolder}
          error={write.error?.message}
          help="The whole path; folders of the entries are kept. A game folder is refused."
        />
        <Button
          variant="outlined"
          fullWidth
          disabled={folder.trim() === ''}
          loading={write.isPending}
          onClick={() => write.mutate(undefined)}
        >
          Write to the folder
        </Button>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
      </DialogActions>
    </Dialog>
  );
}
