import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import type { TakenTexts } from '@/server/films/film-texts';
import { plural } from '@/ui/format';

interface Props {
  readonly taken: TakenTexts;
  readonly name: string;
  readonly onTake: (texts: readonly { key: string; text: string }[]) => void;
  readonly onClose: () => void;
}

/** What a file of subtitles would change, before it does. */
export const TakeTextsDialog = ({ taken: { texts, problems }, name, onTake, onClose }: Props) => (
  <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
    <DialogTitle>Subtitles, {name}</DialogTitle>
    <DialogContent>
      {problems.length > 0 && (
        <Alert severity="warning" sx={{ mb: 2 }}>
          {problems.slice(0, 6).map((problem) => (
            <Box key={problem}>{problem}</Box>
          ))}
        </Alert>
      )}
      {texts.length === 0
        ? 'The file says what the film shows already.'
        : `${plural(texts.length, 'text')} will be changed; times stay as the marks of the film say.`}
      {texts.slice(0, 200).map(({ key, was, text }) => (
        <Box key={key} sx={{ py: 0.75, borderBottom: 1, borderColor: 'line', fontSize: 13 }}>
          <Box sx={{ color: 'ink2', textDecoration: 'line-through' }}>{was}</Box>
          {text}
        </Box>
      ))}
    </DialogContent>
    <DialogActions>
      <Button onClick={onClose}>Cancel</Button>
      <Button variant="contained" disabled={texts.length === 0} onClick={() => onTake(texts)}>
        Take them in
      </Button>
    </DialogActions>
  </Dialog>
);
