import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';

const KEYS: readonly (readonly [string, string])[] = [
  ['/', 'search the contents'],
  ['↑ ↓', 'move through the list'],
  ['Space', 'play a sound, or enlarge a picture'],
  ['x', 'pick the entry, or put it back'],
  ['n, N', 'next or previous entry of the same name in another folder'],
  ['e', 'extract what is picked, or the entry'],
  ['r', 'replace the entry'],
  ['b', 'show the bytes'],
  ['o', 'the original of what is changed, and back'],
  ['Esc', 'clear the picks'],
  ['?', 'this help'],
];

export function HelpDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} maxWidth="xs" fullWidth>
      <DialogTitle sx={{ fontSize: 17 }}>Keys</DialogTitle>
      <DialogContent>
        {KEYS.map(([key, what]) => (
          <Box key={key} sx={{ display: 'flex', gap: 2, py: 0.6, borderBottom: 1, borderColor: 'line' }}>
            <Box component="kbd" sx={{ width: 64, fontFamily: 'inherit', fontWeight: 700 }}>
              {key}
            </Box>
            {what}
          </Box>
        ))}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
