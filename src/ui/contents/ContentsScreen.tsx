'use client';
import CloseRounded from '@mui/icons-material/CloseRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Chip from '@mui/material/Chip';
import NextLink from 'next/link';
import { enqueueSnackbar } from 'notistack';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { api } from '../api';
import { bytes, number } from '../format';
import { Blank, Failed, Loading } from '../kit/Blank';
import { SidePanels } from '../kit/SidePanels';
import { useAction, useArchives, useChanges } from '../queries';
import { NEW_RECIPE, RecipeDialog } from '../recipes/RecipeDialog';
import { useMod } from '../use-mod';
import type { EntryRecord } from '@/server/entries/catalogue';
import { CompareEntries } from '../compare/CompareDialog';
import { ContentsSide } from './ContentsSide';
import { EntryList } from './EntryList';
import { ExtractDialog, type ExtractItem } from './ExtractDialog';
import { Facets } from './Facets';
import { IdTablesDialog } from './IdTablesDialog';
import { InsideDialog } from './InsideDialog';
import { Inspector } from './Inspector';
import { LENSES } from '@/media/lenses';
import { uiOf } from '@/media/ui';
import { LensTabs } from './LensTabs';
import { LinesDialog } from './LinesDialog';
import { SearchBox } from './SearchBox';
import { SearchMenu, useRecentSearch } from './SearchMenu';
import { useContentsKeys } from './use-keys';
import { entryKey, entryParams, parseEntry, useContentsView, viewOfAddress } from './url-state';
import { WallGroups } from './WallGroups';
import { PAGE, useEntries, usePlace, useRuns, type Entries, type EntryItem } from './use-entries';
import { useListened } from './use-listened';

/** How long the list rests before pages far away are fetched. */
const REST_MS = 80;

/** One tree under the load order, lenses, search, and an inspector. */
export function ContentsScreen({ gameId }: { gameId: number }) {
  const [view, setView] = useContentsView();
  const [range, setRange] = useState<readonly [number, number]>([0, 0]);
  const [columns, setColumns] = useState(1);
  const [picks, setPicks] = useState<ReadonlyMap<string, EntryItem>>(new Map());
  const [extracting, setExtracting] = useState<readonly ExtractItem[]>([]);
  const [dialog, setDialog] = useState<'inside' | 'tables' | 'compare' | 'lines' | 'recipe'>();
  const entries = useEntries(gameId, view, range[0], range[1]);
  const listened = useListened(gameId, view);
  const { data: archives } = useArchives(gameId);
  const { mod } = useMod(gameId);
  const { data: changes } = useChanges(gameId, mod?.id);
  const changed = useMemo(
    () => new Set((changes ?? []).map(({ archive, index }) => `${archive}#${index}`)),
    [changes],
  );
  useRecentSearch(gameId, view.search);
  const searchBox = useRef<HTMLInputElement>(null);
  const chosen = parseEntry(view.entry);
  const [moved, setCursor] = useState(-1);
  const place = usePlace(gameId, view, moved < 0);
  const cursor = moved >= 0 ? moved : indexInSight(entries, range, view.entry, place);

  const latest = useRef(entries);
  useEffect(() => {
    latest.current = entries;
  });
  const select = useCallback(
    (index: number) => {
      const item = latest.current.at(index);
      setCursor(index);
      if (item) setView({ entry: entryKey(item) });
    },
    [setView],
  );
  // Whole pages, so that the screen is not made anew for every row that comes into sight.
  const fetched = useRef(0);
  const far = useRef<ReturnType<typeof setTimeout>>(undefined);
  const onRange = useCallback((first: number, last: number) => {
    const from = Math.floor(first / PAGE) * PAGE;
    const to = Math.ceil((last + 1) / PAGE) * PAGE - 1;
    clearTimeout(far.current);
    const go = (): void => {
      fetched.current = from;
      setRange((old) => (old[0] === from && old[1] === to ? old : [from, to]));
    };
    // Pages that the bar only flies past are not fetched.
    if (Math.abs(fetched.current - from) <= 2 * PAGE) go();
    else far.current = setTimeout(go, REST_MS);
  }, []);
  useEffect(() => () => clearTimeout(far.current), []);
  const pick = useCallback((item: EntryItem) => {
    setPicks((old) => {
      const next = new Map(old);
      if (!next.delete(entryKey(item))) next.set(entryKey(item), item);
      return next;
    });
  }, []);
  const pickAll = useAction(
    () => api.get<readonly EntryItem[]>(`games/${gameId}/entries/refs?${entryParams(view)}`),
    (items) => {
      setPicks((old) => new Map([...old, ...items.map((item) => [entryKey(item), item] as const)]));
      if (items.length < entries.total)
        enqueueSnackbar(
          `Only the first ${number(items.length)} were picked; narrow the list for the others`,
          {
            variant: 'warning',
          },
        );
    },
  );
  const addPicks = (records: readonly EntryRecord[]): void =>
    setPicks(
      (old) => new Map([...old, ...records.map((record) => [entryKey(record), asItem(record)] as const)]),
    );
  const narrow = (change: Parameters<typeof setView>[0]): void => {
    setCursor(-1);
    setView(change);
  };
  const latestNarrow = useRef(narrow);
  useEffect(() => {
    latestNarrow.current = narrow;
  });
  const extractNow = (): void => {
    const current = entries.at(cursor);
    if (picks.size > 0) setExtracting([...picks.values()]);
    else if (current) setExtracting([current]);
  };
  const { Wall, Through } = uiOf(view.kind) ?? {};
  const wall = Wall !== undefined;
  const runs = useRuns(
    gameId,
    view,
    wall && view.group === 'folder' && view.sort === '' && view.order === '',
  );
  useContentsKeys({
    isFirst: cursor <= 0,
    search: () => searchBox.current?.focus(),
    move: (by) => select(Math.max(0, Math.min(entries.total - 1, cursor + by))),
    step: wall ? columns : 1,
    sideways: wall,
    pick: () => {
      const current = entries.at(cursor);
      if (current) pick(current);
    },
    extract: extractNow,
    clear: () => setPicks(new Map()),
  });

  const latestCursor = useRef(cursor);
  useEffect(() => {
    latestCursor.current = cursor;
  });
  /** From the search box into what it found. */
  const intoList = useCallback(() => {
    document.querySelector<HTMLElement>('[role=grid][aria-label=Entries]')?.focus();
    select(Math.max(0, latestCursor.current));
  }, [select]);
  const onSort = (sort: string, order: string): void =>
    narrow({ sort: sort === 'path' ? '' : sort, order: order === 'up' ? '' : order });
  // The same from one picture of the screen to the next, so that what takes them is not made anew while one scrolls.
  const on = useMemo(() => {
    const change = (view: Parameters<typeof setView>[0]): void => latestNarrow.current(view);
    return {
      kind: (kind: string) => change({ kind }),
      view: change,
      search: (search: string) => change({ search }),
      group: (group: string) =>
        // Folders are told in the order of the paths.
        change({ group, ...(group === 'folder' && { sort: '', order: '' }) }),
      address: (address: string) => change(viewOfAddress(address)),
      extract: (item: ExtractItem) => setExtracting([item]),
      show: (archiveId: number, index: number) => setView({ entry: entryKey({ archiveId, index }) }),
    };
  }, [setView]);
  const list = {
    lens: LENSES.find(({ kind }) => kind === view.kind) ?? LENSES[0]!,
    sort: view.sort,
    order: view.order,
    onSort,
    gameId,
    entries,
    selected: cursor,
    changed,
    picks,
    onSelect: select,
    onPick: pick,
    onRange,
  };
  const archive = archives?.find(({ id }) => String(id) === view.archive);
  const inspector = (
    <Box component="aside" aria-label="Inspector" sx={{ height: '100%', bgcolor: 'panel', minWidth: 0 }}>
      {chosen ? (
        <Inspector key={view.entry} gameId={gameId} {...chosen} onExtract={on.extract} onShow={on.show} />
      ) : (
        <Blank title="Nothing chosen">
          Choose an entry to look at it, listen to it or read it. The arrow keys move through the list.
        </Blank>
      )}
    </Box>
  );
  return (
    <>
      <SidePanels
        id="zero-latch-contents"
        left={<ContentsSide gameId={gameId} view={view} onView={on.view} />}
        leftTitle="the left side"
        right={inspector}
        rightTitle="the right side"
      >
        <Box sx={{ height: '100%', minWidth: 0, display: 'flex', flexDirection: 'column' }}>
          <Box
            sx={{
              display: 'flex',
              alignItems: 'center',
              gap: 1.5,
              px: 1.5,
              borderBottom: 1,
              borderColor: 'line',
              bgcolor: 'panel',
            }}
          >
            <LensTabs kind={view.kind} kinds={entries.kinds} onKind={on.kind} />
          </Box>
          <Box
            sx={{
              display: 'flex',
              alignItems: 'center',
              flexWrap: 'wrap',
              gap: 1,
              px: 1.5,
              py: 1,
              borderBottom: 1,
              borderColor: 'line',
            }}
          >
            <SearchBox inputRef={searchBox} value={view.search} onSearch={on.search} onLeave={intoList} />
            <SearchMenu gameId={gameId} onSearch={on.search} onAddress={on.address} />
            <Button size="small" sx={{ whiteSpace: 'nowrap' }} onClick={() => setDialog('inside')}>
              Search inside…
            </Button>
            <Button size="small" sx={{ whiteSpace: 'nowrap' }} onClick={() => setDialog('tables')}>
              Readable names…
            </Button>
          </Box>
          <Box
            sx={{
              display: 'flex',
              flexWrap: 'wrap',
              alignItems: 'center',
              columnGap: 2,
              px: 1.5,
              py: 0.25,
              borderBottom: 1,
              borderColor: 'line',
            }}
          >
            {view.folder && (
              <Chip
                size="small"
                label={`in ${view.folder}`}
                onDelete={() => narrow({ folder: '' })}
                deleteIcon={<CloseRounded />}
              />
            )}
            {archive && (
              <Chip
                size="small"
                label={archive.sort === 'loose' ? 'only loose files' : `only ${archive.path}`}
                onDelete={() => narrow({ archive: '' })}
                deleteIcon={<CloseRounded />}
              />
            )}
            {wall && <WallGroups group={view.group} onGroup={on.group} />}
            <Facets facts={entries.facts} search={view.search} onSearch={on.search} />
            {Through && <Through {...{ gameId, entries }} selected={cursor} onSelect={select} />}
            {listened && listened.measured < listened.sounds && (
              <Box role="status" sx={{ color: 'ink2', fontSize: 12.5 }}>
                Length and level of {number(listened.measured)} of {number(listened.sounds)} sounds are known
                so far
              </Box>
            )}
            <Box sx={{ flex: 1, textAlign: 'right', color: 'ink2', fontSize: 12.5, whiteSpace: 'nowrap' }}>
              {number(entries.total)}, {bytes(entries.bytes)}
              {entries.total > 0 && (
                <Button size="small" sx={{ ml: 1 }} onClick={() => pickAll.mutate(undefined)}>
                  Pick all
                </Button>
              )}
              <Button size="small" onClick={() => setDialog('lines')}>
                Pick by lines…
              </Button>
              <Button size="small" component={NextLink} href={`/games/${gameId}/recipes`}>
                Recipes
              </Button>
            </Box>
          </Box>
          {entries.error && <Failed error={entries.error} />}
          {!entries.loaded && !entries.error && <Loading what="Listing the entries" />}
          {entries.loaded && !entries.error && entries.total === 0 && (
            <Nothing
              gameId={gameId}
              narrowed={view.search !== '' || view.folder !== '' || view.kind !== '' || view.archive !== ''}
              onAll={() => narrow({ search: '', folder: '', kind: '', archive: '' })}
            />
          )}
          {entries.total > 0 &&
            !entries.error &&
            (Wall ? (
              <Wall
                {...list}
                group={view.group}
                folder={view.folder}
                search={view.search}
                chosen={view.entry}
                onShow={on.show}
                onColumns={setColumns}
                runs={runs}
              />
            ) : (
              <EntryList {...list} />
            ))}
          {picks.size > 0 && (
            <Box
              role="region"
              aria-label="Picked"
              sx={{
                display: 'flex',
                alignItems: 'center',
                gap: 1.5,
                px: 2,
                py: 1,
                borderTop: 1,
                borderColor: 'line',
                bgcolor: 'panel',
              }}
            >
              <Box sx={{ fontWeight: 700 }}>Picked {number(picks.size)}</Box>
              <Box sx={{ flex: 1, color: 'ink2' }}>
                {bytes([...picks.values()].reduce((sum, { size }) => sum + size, 0))}
              </Box>
              <Button onClick={() => setPicks(new Map())}>Clear</Button>
              <Button onClick={() => setDialog('lines')}>Keep as a list…</Button>
              <Button onClick={() => setDialog('recipe')}>Recipe…</Button>
              {picks.size === 2 && (
                <Button variant="outlined" onClick={() => setDialog('compare')}>
                  Compare
                </Button>
              )}
              <Button variant="contained" onClick={extractNow}>
                Extract
              </Button>
            </Box>
          )}
        </Box>
      </SidePanels>
      {dialog === 'inside' && (
        <InsideDialog gameId={gameId} view={view} onShow={on.show} onClose={() => setDialog(undefined)} />
      )}
      {dialog === 'tables' && (
        <IdTablesDialog gameId={gameId} chosen={chosen} onClose={() => setDialog(undefined)} />
      )}
      {dialog === 'lines' && (
        <LinesDialog
          gameId={gameId}
          picked={[...picks.values()].map(({ path }) => path)}
          onPick={addPicks}
          onArchive={(id) => narrow({ ...viewOfAddress(''), archive: String(id) })}
          onClose={() => setDialog(undefined)}
        />
      )}
      {dialog === 'recipe' && (
        <RecipeDialog
          gameId={gameId}
          recipe={{ ...NEW_RECIPE, pick: { paths: [...picks.values()].map(({ path }) => path) } }}
          onClose={() => setDialog(undefined)}
        />
      )}
      {dialog === 'compare' && picks.size === 2 && (
        <CompareEntries
          gameId={gameId}
          left={[...picks.values()][0]!}
          right={[...picks.values()][1]!}
          onClose={() => setDialog(undefined)}
        />
      )}
      {extracting.length > 0 && (
        <ExtractDialog gameId={gameId} items={extracting} onClose={() => setExtracting([])} />
      )}
    </>
  );
}

/** A record as a list has it, for what was picked without having been listed. */
const asItem = (record: EntryRecord): EntryItem => ({
  ...record,
  labels: [],
  alias: '',
  tags: [],
  facts: [],
});

/** Where the entry that the address names stands in the list, while it is in sight. */
function indexInSight(
  entries: Entries,
  [first, last]: readonly [number, number],
  entry: string,
  place: number,
): number {
  if (place >= 0) return place;
  if (entry !== '')
    for (let i = first; i <= last; i++) {
      const item = entries.at(i);
      if (item && entryKey(item) === entry) return i;
    }
  return -1;
}

function Nothing({ gameId, narrowed, onAll }: { gameId: number; narrowed: boolean; onAll: () => void }) {
  return narrowed ? (
    <Blank
      title="Nothing matches"
      action={
        <Button variant="outlined" onClick={onAll}>
          Show everything
        </Button>
      }
    >
      No entry of an open archive matches this search and these filters.
    </Blank>
  ) : (
    <Blank
      title="No archive is open"
      action={
        <Button component={NextLink} href={`/games/${gameId}/locks`} variant="contained">
          To the locks
        </Button>
      }
    >
      Add a key on the Locks screen; what the archives hold is listed here then.
    </Blank>
  );
}
