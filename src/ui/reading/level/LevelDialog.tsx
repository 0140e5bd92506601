'use client';
import type { ReadingView, SetView } from '../reading-state';
import { StageDialog } from '../StageDialog';
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
    <StageDialog
      {...{ data, error, onClose }}
      title="Parts"
      titleId="level-title"
      loading="Putting it together"
      onWords={() => onView({ over: 'words' })}
    >
      {(level) => (
        <LevelStage
          {...{ gameId, level, onGo, onClose }}
          chosen={/^\d+$/.test(view.spot) ? Number(view.spot) : undefined}
          onChoose={(part) => onView({ spot: String(part) })}
          onWords={() => onView({ over: 'words', value: level.words, spot: '' })}
        />
      )}
    </StageDialog>
  );
}
