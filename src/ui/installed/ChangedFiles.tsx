import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { FileNow } from '@/server/installing/installations';
import type { ChangedWay } from '@/server/installing/restore';
import { bytes, plural, when } from '../format';

const MOST_SHOWN = 8;

/** Files that something else wrote since they were installed, and the ways to restore in spite of it. */
export function ChangedFiles({
  files,
  busy,
  onChoose,
}: {
  files: readonly FileNow[];
  busy: boolean;
  onChoose: (way: ChangedWay) => void;
}) {
  return (
    <Alert severity="warning" sx={{ mb: 2 }} role="group" aria-label="Changed by something else">
      <Box sx={{ fontWeight: 600 }}>
        Something else changed {plural(files.length, 'file')} since this was installed
      </Box>
      {files.slice(0, MOST_SHOWN).map(({ path, state, size, modifiedMs }) => (
        <Box key={path}>
          <span className="mono">{path}</span>{' '}
          {state === 'missing'
            ? 'is gone'
            : `has ${bytes(size ?? 0)} and was written ${modifiedMs === null ? '' : when(new Date(modifiedMs).toISOString())}`}
          .
        </Box>
      ))}
      {files.length > MOST_SHOWN && <Box>{plural(files.length - MOST_SHOWN, 'more')}.</Box>}
      <Box sx={{ mt: 0.5 }}>
        An update of the game or another tool may have done it: then the new file is worth keeping, and the
        originals here are of the version before. What is overwritten is kept by its hash as well.
      </Box>
      <Box sx={{ display: 'flex', gap: 1, mt: 1 }}>
        <Button size="small" variant="outlined" loading={busy} onClick={() => onChoose('leave')}>
          Restore the others, leave {files.length === 1 ? 'it' : 'them'}
        </Button>
        <Button size="small" variant="outlined" loading={busy} onClick={() => onChoose('replace')}>
          Put {files.length === 1 ? 'its original' : 'their originals'} back too
        </Button>
      </Box>
    </Alert>
  );
}
