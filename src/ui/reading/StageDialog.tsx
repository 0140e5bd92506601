'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { Failed, Loading } from '../kit/Blank';

interface Props<T> {
  readonly data: T | undefined;
  readonly error: Error | null;
  /** What it is called before it is there, and while it is made. */
  readonly title: string;
  readonly loading: string;
  /** What its heading is known by. */
  readonly titleId: string;
  /** To the words that say it otherwise. */
  readonly onWords: () => void;
  readonly onClose: () => void;
  readonly children: (data: T) => React.ReactNode;
}

/** A map or a level over the whole window: while it is made, where that fails, and then. */
export function StageDialog<T>({
  data,
  error,
  title,
  loading,
  titleId,
  onWords,
  onClose,
  children,
}: Props<T>) {
  return (
    <Dialog open onClose={onClose} fullScreen aria-labelledby={titleId}>
      {data === undefined && (
        <span id={titleId} hidden>
          {title}
        </span>
      )}
      {error && data === undefined && (
        <Box>
          <Failed error={error} />
          <Box sx={{ display: 'flex', gap: 1, px: 3 }}>
            <Button onClick={onWords}>Words for steps and maps</Button>
            <Button onClick={onClose}>Close</Button>
          </Box>
        </Box>
      )}
      {data === undefined && !error && <Loading what={loading} />}
      {data !== undefined && children(data)}
    </Dialog>
  );
}
