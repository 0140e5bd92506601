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
import type { PictureWay } from '@/core/recipe';
import { api } from '../api';
import { startDownload } from '../download';
import { rememberFolder, useOutputFolder } from '../default-folder';
import { bytes, plural } from '../format';
import { PICTURE_WORDS } from '../picture-words';
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

const KEPT_WAY = 'zero-latch-extract-pictures';

const PICTURE_HELP: Readonly<Record<PictureWay, string>> = {
  stored: 'The bytes as the game has them.',
  png: 'To edit in any program: the largest level with its alpha, 8 or 16 bits a channel.',
  tga: 'The largest level with its alpha, 8 bits a channel, not packed.',
  dds: 'All levels as they are stored, nothing coded anew.',
  ktx2: 'All levels as they are stored, under Zstandard.',
};

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
  const kept = useKeptText(KEPT_WAY) as PictureWay | null;
  const picture = kept !== null && kept in PICTURE_WORDS ? kept : 'png';
  const entries = items.map(({ archiveId, index }) => ({ archiveId, index }));
  const pictures = items.filter(({ kind }) => kind === 'picture').length;
  const zip = useAction(
    () => api.post<{ ticket: string }>(`games/${gameId}/picks`, { entries, picture }),
    ({ ticket }) => {
      startDownload(ticket);
      onClose();
    },
  );
  const write = useAction(
    () => api.post(`games/${gameId}/jobs`, { kind: 'extract', entries, folder, picture }),
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
        {pictures > 0 && (
          <TextField
            select
            fullWidth
            margin="dense"
            label={plural(pictures, 'picture')}
            value={picture}
            onChange={(event) => keepText(KEPT_WAY, event.target.value)}
            helperText={PICTURE_HELP[picture]}
            sx={{ mb: 2 }}
          >
            {Object.entries(PICTURE_WORDS).map(([way, words]) => (
              <MenuItem key={way} value={way}>
                {words}
              </MenuItem>
            ))}
          </TextField>
        )}
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
