'use client';
import CloseRounded from '@mui/icons-material/CloseRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Chip from '@mui/material/Chip';
import { PageLink } from '../kit/PageLink';
import { uiOf } from '@/media/ui';
import { bytes, number } from '../format';
import { Facets } from './Facets';
import type { ContentsView } from './url-state';
import type { Entries } from './use-entries';
import { useKnown } from './use-known';
import { WallGroups } from './WallGroups';

interface Props {
  readonly gameId: number;
  readonly view: ContentsView;
  readonly entries: Entries;
  /** The place of the chosen one; -1 for none. */
  readonly cursor: number;
  /** The archive that the list is narrowed to. */
  readonly archive: { readonly sort: string; readonly path: string } | undefined;
  readonly onView: (change: Partial<ContentsView>) => void;
  readonly onSearch: (search: string) => void;
  readonly onGroup: (group: string) => void;
  readonly onSelect: (index: number) => void;
  readonly onPickAll: () => void;
  readonly onLines: () => void;
  readonly onBatch: () => void;
}

/** What the list is narrowed to, and how much is in it. */
export function ListBar({ gameId, view, entries, cursor, archive, ...on }: Props) {
  const known = useKnown(gameId, view);
  const { shown, Through } = uiOf(view.kind) ?? {};
  return (
    <Box
      sx={{
        ...{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', columnGap: 2, px: 1.5, py: 0.25 },
        ...{ borderBottom: 1, borderColor: 'line' },
      }}
    >
      {view.folder && (
        <Chip
          size="small"
          label={`in ${view.folder}`}
          onDelete={() => on.onView({ folder: '' })}
          deleteIcon={<CloseRounded />}
        />
      )}
      {archive && (
        <Chip
          size="small"
          label={archive.sort === 'loose' ? 'only loose files' : `only ${archive.path}`}
          onDelete={() => on.onView({ archive: '' })}
          deleteIcon={<CloseRounded />}
        />
      )}
      {shown && <WallGroups group={view.group} choices={shown} onGroup={on.onGroup} />}
      <Facets facts={entries.facts} search={view.search} onSearch={on.onSearch} />
      {Through && <Through {...{ gameId, entries }} selected={cursor} onSelect={on.onSelect} />}
      {known.map((line) => (
        <Box key={line} role="status" sx={{ color: 'ink2', fontSize: 12.5 }}>
          {line}
        </Box>
      ))}
      <Box sx={{ flex: 1, textAlign: 'right', color: 'ink2', fontSize: 12.5, whiteSpace: 'nowrap' }}>
        {number(entries.total)}, {bytes(entries.bytes)}
        {entries.total > 0 && (
          <Button size="small" sx={{ ml: 1 }} onClick={on.onPickAll}>
            Pick all
          </Button>
        )}
        <Button size="small" onClick={on.onLines}>
          Pick by lines…
        </Button>
        {entries.total > 0 && (
          <Button size="small" onClick={on.onBatch}>
            Files for these…
          </Button>
        )}
        <Button size="small" component={PageLink} href={`/games/${gameId}/recipes`}>
          Recipes
        </Button>
      </Box>
    </Box>
  );
}
