'use client';
import type { EntryRecord } from '@/server/entries/catalogue';
import { CompareEntries } from '../compare/CompareDialog';
import { NEW_RECIPE, RecipeDialog } from '../recipes/RecipeDialog';
import { BatchDialog } from './BatchDialog';
import { ExtractDialog, type ExtractItem } from './ExtractDialog';
import { IdTablesDialog } from './IdTablesDialog';
import { InsideDialog } from './InsideDialog';
import { LinesDialog } from './LinesDialog';
import type { ContentsView } from './url-state';
import type { EntryItem } from './use-entries';

export type ContentsDialog = 'inside' | 'tables' | 'compare' | 'lines' | 'recipe' | 'batch';

interface Props {
  readonly gameId: number;
  readonly view: ContentsView;
  readonly dialog: ContentsDialog | undefined;
  readonly picks: ReadonlyMap<string, EntryItem>;
  readonly extracting: readonly ExtractItem[];
  readonly chosen: { readonly archiveId: number; readonly index: number } | undefined;
  readonly onShow: (archiveId: number, index: number) => void;
  readonly onPick: (records: readonly EntryRecord[]) => void;
  readonly onArchive: (id: number) => void;
  readonly onClose: () => void;
  readonly onExtracted: () => void;
}

/** The dialogs of the Contents screen, of which one is open at most. */
export function ContentsDialogs({ gameId, view, dialog, picks, extracting, chosen, ...on }: Props) {
  const paths = [...picks.values()].map(({ path }) => path);
  const [left, right] = [...picks.values()];
  return (
    <>
      {dialog === 'inside' && (
        <InsideDialog gameId={gameId} view={view} onShow={on.onShow} onClose={on.onClose} />
      )}
      {dialog === 'tables' && <IdTablesDialog gameId={gameId} chosen={chosen} onClose={on.onClose} />}
      {dialog === 'lines' && (
        <LinesDialog
          gameId={gameId}
          picked={paths}
          onPick={on.onPick}
          onArchive={on.onArchive}
          onClose={on.onClose}
        />
      )}
      {dialog === 'batch' && <BatchDialog gameId={gameId} view={view} onClose={on.onClose} />}
      {dialog === 'recipe' && (
        <RecipeDialog gameId={gameId} recipe={{ ...NEW_RECIPE, pick: { paths } }} onClose={on.onClose} />
      )}
      {dialog === 'compare' && picks.size === 2 && (
        <CompareEntries gameId={gameId} left={left!} right={right!} onClose={on.onClose} />
      )}
      {extracting.length > 0 && <ExtractDialog gameId={gameId} items={extracting} onClose={on.onExtracted} />}
    </>
  );
}
