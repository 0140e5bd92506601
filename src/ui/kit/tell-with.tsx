import Button from '@mui/material/Button';
import { closeSnackbar, enqueueSnackbar } from 'notistack';

/** Tells what was done, with a button beside it that does something about it, mostly takes it back. */
export function tellWith(text: string, label: string, act: () => void): void {
  enqueueSnackbar(text, {
    action: (key) => (
      <Button
        size="small"
        color="inherit"
        onClick={() => {
          closeSnackbar(key);
          act();
        }}
      >
        {label}
      </Button>
    ),
  });
}
