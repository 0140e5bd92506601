'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { Failed, Loading } from '../../kit/Blank';
import type { ReadingView, SetView } from '../reading-state';
import { useLevel } from '../use-reading';
import { LevelStage } from './LevelStage';

interface Props {
  readonly gameId: number;
  readonly table: string;
  readonly view: ReadingView;
  readonly onView: SetView;
  readonly onGo: (table: string, row: number) => void;
  readonly onClose: () => void;
}

/** A level as it is put together: its parts as a tree, and where they stand from above. */
export function LevelDialog({ gameId, table, view, onView, onGo, onClose }: Props) {
  // A table as a whole is told from a row of it.
  const { data, error } = useLevel(gameId, table, view.over === 'whole' ? '' : view.row);
  return (
    <Dialog open onClose={onClose} fullScreen aria-labelledby="level-title">
      {!data && (
        <span id="level-title" hidden>
          Parts
        </span>
      )}
      {error && !data && (
        <Box>
          <Failed error={error} />
          <Box sx={{ display: 'flex', gap: 1, px: 3 }}>
            <Button onClick={() => onView({ over: 'words' })}>Words for steps and maps</Button>
            <Button onClick={onClose}>Close</Button>
          </Box>
        </Box>
      )}
      {!data && !error && <Loading what="Putting it together" />}
      {data && (
        <LevelStage
          {...{ gameId, onGo, onClose }}
          level={data}
          chosen={view.spot === '' ? undefined : Number(view.spot)}
          onChoose={(part) => onView({ spot: String(part) })}
          onWords={() => onView({ over: 'words', value: data.words, spot: '' })}
        />
      )}
    </Dialog>
  );
}
