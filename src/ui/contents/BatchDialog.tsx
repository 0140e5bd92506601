'use client';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import { PageLink } from '../kit/PageLink';
import { useDropzone } from 'react-dropzone';
import { number, plural } from '../format';
import { useMod } from '../use-mod';
import { BatchRows } from './BatchRows';
import type { ContentsView } from './url-state';
import { useBatch } from './use-batch';

/** Puts files into the places of what is listed: shown first which goes where, then done at one press. */
export function BatchDialog({
  gameId,
  view,
  onClose,
}: {
  gameId: number;
  view: ContentsView;
  onClose: () => void;
}) {
  const { mod } = useMod(gameId);
  const { rows, matching, at, result, isSending, ready, look, choose, send, stop } = useBatch(
    gameId,
    view,
    mod?.id,
  );
  const drop = useDropzone({ noClick: true, noKeyboard: true, disabled: isSending, onDropAccepted: look });
  const left = rows.length - ready.length;
  return (
    <Dialog
      open
      onClose={isSending ? undefined : onClose}
      maxWidth="md"
      fullWidth
      aria-labelledby="batch-title"
    >
      <DialogTitle id="batch-title">Files for what is listed</DialogTitle>
      <DialogContent {...drop.getRootProps()} sx={{ minHeight: 240 }}>
        <input {...drop.getInputProps({ 'aria-label': 'Files for what is listed' })} />
        {rows.length === 0 ? (
          <Box
            sx={{
              border: 2,
              borderStyle: 'dashed',
              borderColor: drop.isDragActive ? 'brass' : 'line',
              borderRadius: 1,
              p: 4,
              textAlign: 'center',
            }}
          >
            <Box sx={{ mb: 1.5 }}>
              Drop files or a folder here. Each finds its entry among those in the list by its path, its name,
              what the entry is called, or the number in its name; nothing is changed before you have seen
              where each would go.
            </Box>
            <Button variant="outlined" loading={matching} onClick={drop.open}>
              Choose files
            </Button>
          </Box>
        ) : (
          <>
            <Box role="status" sx={{ color: 'ink2', mb: 1 }}>
              {plural(ready.length, 'file')} {ready.length === 1 ? 'has' : 'have'} a place
              {left > 0 && `, ${number(left)} ${left === 1 ? 'has' : 'have'} none`}.
            </Box>
            <BatchRows rows={rows} disabled={isSending} onChoose={choose} />
          </>
        )}
        {!mod && (
          <Alert severity="info" sx={{ mt: 2 }}>
            Make a mod first; it gathers the changes.
          </Alert>
        )}
        {isSending && (
          <Box sx={{ mt: 2 }}>
            <LinearProgress variant="determinate" value={(100 * at) / Math.max(1, ready.length)} />
            <Box sx={{ color: 'ink2', fontSize: 13 }}>
              {number(at)} of {number(ready.length)}
            </Box>
          </Box>
        )}
        {result && (
          <Alert
            severity={result.failed.length > 0 || result.unfit > 0 ? 'warning' : 'success'}
            sx={{ mt: 2 }}
          >
            {plural(result.taken, 'file')} in {result.taken === 1 ? 'its place' : 'their places'}
            {result.unfit > 0 && `, ${number(result.unfit)} not fitting yet: Changes has the mend`}
            {result.isStopped && '. Stopped; those before it are kept'}.
            {result.failed.slice(0, 5).map((words) => (
              <Box key={words}>{words}</Box>
            ))}
            {result.failed.length > 5 && <Box>and {number(result.failed.length - 5)} more</Box>}
          </Alert>
        )}
      </DialogContent>
      <DialogActions>
        {isSending ? (
          <Button onClick={stop}>Stop</Button>
        ) : (
          <>
            {rows.length > 0 && <Button onClick={drop.open}>Other files</Button>}
            <Button onClick={onClose}>Close</Button>
          </>
        )}
        {result ? (
          <Button variant="contained" component={PageLink} href={`/games/${gameId}/changes`}>
            To Changes
          </Button>
        ) : (
          <Button
            variant="contained"
            disabled={!mod || ready.length === 0}
            loading={isSending}
            onClick={() => void send()}
          >
            Put {plural(ready.length, 'file')} in place
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}
