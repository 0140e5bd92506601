'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { PageLink } from '../kit/PageLink';
import { enqueueSnackbar } from 'notistack';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { api } from '../api';
import { number } from '../format';
import { Blank, Failed, Loading } from '../kit/Blank';
import { SidePanels } from '../kit/SidePanels';
import { useAction, useArchives, useChanges } from '../queries';
import { useMod } from '../use-mod';
import type { EntryRecord } from '@/server/entries/catalogue';
import { ContentsSide } from './ContentsSide';
import { EntryList } from './EntryList';
import type { ExtractItem } from './ExtractDialog';
import { ContentsDialogs, type ContentsDialog } from './ContentsDialogs';
import { Inspector } from './Inspector';
import { LENSES } from '@/media/lenses';
import { uiOf } from '@/media/ui';
import { LensTabs } from './LensTabs';
import { ListBar } from './ListBar';
import { PicksBar } from './PicksBar';
import { SearchBox } from './SearchBox';
import { SearchMenu, useRecentSearch } from './SearchMenu';
import { usePickAt } from './use-pick-at';
import { useContentsKeys } from './use-keys';
import { entryKey, entryParams, parseEntry, useContentsView, viewOfAddress } from './url-state';
import { PAGE, useEntries, usePlace, useRuns, type Entries, type EntryItem } from './use-entries';

/** How long the list rests before pages far away are fetched. */
const REST_MS = 80;

/** One tree under the load order, lenses, search, and an inspector. */
export function ContentsScreen({ gameId }: { gameId: number }) {
  const [view, setView] = useContentsView();
  const [range, setRange] = useState<readonly [number, number]>([0, 0]);
  const [columns, setColumns] = useState(1);
  const [picks, setPicks] = useState<ReadonlyMap<string, EntryItem>>(new Map());
  const [extracting, setExtracting] = useState<readonly ExtractItem[]>([]);
  const [dialog, setDialog] = useState<ContentsDialog>();
  const entries = useEntries(gameId, view, range[0], range[1]);
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
  // Keys come faster than the screen is made anew.
  const latestCursor = useRef(cursor);
  useEffect(() => {
    latestCursor.current = cursor;
  });
  const select = useCallback(
    (index: number) => {
      const item = latest.current.at(index);
      latestCursor.current = index;
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
  const pickAt = usePickAt(entries, pick);
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
  const Wall = uiOf(view.kind)?.Wall;
  const wall = isWall(view);
  const runs = useRuns(
    gameId,
    view,
    wall && view.group === 'folder' && view.sort === '' && view.order === '',
  );
  useContentsKeys({
    isFirst: cursor <= 0,
    search: () => searchBox.current?.focus(),
    move: (by) => select(Math.max(0, Math.min(entries.total - 1, latestCursor.current + by))),
    step: wall ? columns : 1,
    sideways: wall,
    pick: () => pickAt(latestCursor.current),
    extract: extractNow,
    clear: () => setPicks(new Map()),
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
            <LensTabs key={gameId} kind={view.kind} kinds={entries.kinds} onKind={on.kind} />
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
          <ListBar
            {...{ gameId, view, entries, cursor, archive }}
            onView={narrow}
            onSearch={on.search}
            onGroup={on.group}
            onSelect={select}
            onPickAll={() => pickAll.mutate(undefined)}
            onLines={() => setDialog('lines')}
            onBatch={() => setDialog('batch')}
          />
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
            (Wall && wall ? (
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
            <PicksBar
              gameId={gameId}
              picks={picks}
              onClear={() => setPicks(new Map())}
              onDialog={setDialog}
              onExtract={extractNow}
            />
          )}
        </Box>
      </SidePanels>
      <ContentsDialogs
        {...{ gameId, view, dialog, picks, extracting, chosen }}
        onShow={on.show}
        onPick={addPicks}
        onArchive={(id) => narrow({ ...viewOfAddress(''), archive: String(id) })}
        onClose={() => setDialog(undefined)}
        onExtracted={() => setExtracting([])}
      />
    </>
  );
}

/** Whether a view shows its entries as a wall in place of the list. */
function isWall({ kind, group }: { kind: string; group: string }): boolean {
  const { Wall, shown = [], asList } = uiOf(kind) ?? {};
  const word = shown.some(([one]) => one === group) ? group : shown[0]?.[0];
  return Wall !== undefined && word !== asList;
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
        <Button component={PageLink} href={`/games/${gameId}/locks`} variant="contained">
          To the locks
        </Button>
      }
    >
      Add a key on the Locks screen; what the archives hold is listed here then.
    </Blank>
  );
}
