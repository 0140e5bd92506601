'use client';
import Box from '@mui/material/Box';
import { useRouter } from 'next/navigation';
import { enqueueSnackbar } from 'notistack';
import Button from '@mui/material/Button';
import { useCallback, useMemo, useRef, useState } from 'react';
import type { DeskOverview, DeskRow } from '@/server/desk/desk-view';
import type { LinesEdited } from '@/server/desk/edit-lines';
import { api } from '../api';
import { plural } from '../format';
import { SidePanels } from '../kit/SidePanels';
import { useAction } from '../queries';
import { DeskBar, type DeskAsks } from './DeskBar';
import { DeskGrid } from './DeskGrid';
import { DeskSide } from './DeskSide';
import { LinePanel, type LineWish } from './LinePanel';
import { OutInDialog } from './OutInDialog';
import { ProgressDialog } from './ProgressDialog';
import { ReplaceDialog } from './ReplaceDialog';
import { HeldDialog } from './HeldDialog';
import { TermsDialog, TongueDialog } from './SmallDialogs';
import { linesOf, parseRef, refOf, tonguesOf, useOwnName, type DeskView, type LineRef } from './desk-state';
import { deskPath, useLines } from './use-desk';
import { PutDespite, usePut } from './use-put';
import { useDeskKeys } from './use-desk-keys';
import { useWriting } from './use-writing';

interface Props {
  readonly gameId: number;
  readonly modId: number;
  readonly view: DeskView;
  readonly overview: DeskOverview;
  readonly onView: (change: Partial<DeskView>) => void;
}

interface Edit extends LineRef, LineWish {
  readonly base?: string;
}

export function Desk({ gameId, modId, view: asked, overview, onView }: Props) {
  const { source, target, others } = overview.chosen;
  const view = useMemo(
    () => ({ ...asked, source, target, others: others.join() }),
    [asked, source, target, others],
  );
  const path = deskPath(gameId, modId);
  const [name, setName] = useOwnName();
  const [range, setRange] = useState<readonly [number, number]>([0, 0]);
  const lines = useLines(gameId, modId, view, range[0], range[1]);
  const [cursor, setCursor] = useState(-1);
  const [writing, setWriting] = useState(false);
  const [drafting, setDrafting] = useState(false);
  const [dialog, setDialog] = useState<DeskAsks>();
  const searchField = useRef<HTMLInputElement>(null);
  const router = useRouter();
  // The address follows what is chosen, and a little later than the keys may come.
  const [own, setOwn] = useState<LineRef>();
  // One far down the list is chosen before it is there.
  const [awaited, setAwaited] = useState(-1);
  const at = cursor >= 0 ? lines.at(cursor) : undefined;
  const isAwaited = cursor >= 0 && awaited === cursor;
  const line = isAwaited ? at : (own ?? parseRef(view.line));
  // The chosen line keeps being it where the list became another one.
  const isThere = isAwaited || (at !== undefined && line !== undefined && refOf(at) === refOf(line));
  const selected = isThere ? cursor : placeOf(lines, line, range);

  const select = (index: number): void => {
    const row = lines.at(index);
    setCursor(index);
    setWriting(false);
    setAwaited(row ? -1 : index);
    if (row) choose(row);
  };
  const choose = (to: LineRef): void => {
    setOwn({ place: to.place, key: to.key, nth: to.nth });
    onView({ line: refOf(to) });
  };
  const show = (change: Partial<DeskView>): void => {
    setCursor(-1);
    setAwaited(-1);
    if (change.line === '') setOwn(undefined);
    onView(change);
  };
  const told = (done: LinesEdited): void => {
    for (const { key, by, now, text } of done.conflicts.slice(0, 3))
      enqueueSnackbar(
        `${key} was changed by ${by || 'somebody'} meanwhile to “${now}”. Yours, “${text}”, is not kept; write it again to have your way.`,
        {
          variant: 'warning',
          autoHideDuration: 20_000,
        },
      );
  };
  const edit = useAction(
    ({ edits, what }: { edits: readonly Edit[]; what: string }) =>
      api.post<LinesEdited>(`${path}/texts`, { ...tonguesOf(view), edits, what, by: name }),
    told,
  );
  const keep = (row: DeskRow, wish: LineWish): void => {
    const { place, key, nth, text: base } = row;
    const what = wish.isBack
      ? `putting ${key} back`
      : wish.text !== undefined
        ? `writing ${key}`
        : `saying ${wish.state} of ${key}`;
    edit.mutate({ edits: [{ place, key, nth, base, ...wish }], what });
  };
  const many = useAction(
    (what: object) => api.post<LinesEdited>(`${path}/many`, { query: linesOf(view), by: name, ...what }),
    (done) => {
      told(done);
      enqueueSnackbar(`${plural(done.changed, 'line')} changed.`, { variant: 'success' });
    },
  );
  const step = useAction(
    (direction: 'undo' | 'redo') =>
      api.post<{ what: string; left: number }>(`${path}/history`, {
        ...tonguesOf(view),
        direction,
        by: name,
      }),
    ({ what, left }, direction) =>
      enqueueSnackbar(
        `${direction === 'undo' ? 'Undone' : 'Done again'}: ${what}.${left > 0 ? ` ${plural(left, 'line')} changed by others since were left.` : ''}`,
        { variant: left > 0 ? 'warning' : 'info' },
      ),
  );
  const forms = useAction((of: LineRef) =>
    api.post<LinesEdited>(`${path}/forms`, { ...tonguesOf(view), ...of, by: name }),
  );
  const put = usePut(path, () => router.push(`/games/${gameId}/changes`));
  const comment = useAction(({ line: of, text }: { line: LineRef; text: string }) =>
    api.post(`${path}/comments`, { ...{ place: of.place, key: of.key, nth: of.nth }, text, by: name }),
  );
  const ask = (what: DeskAsks): void => {
    if (what === 'done') many.mutate({ state: 'done' });
    else if (what === 'fill') many.mutate({ fill: true });
    else if (what === 'put back') many.mutate({ isBack: true });
    else setDialog(what);
  };
  const chosenRow = selected >= 0 ? lines.at(selected) : undefined;
  useDeskKeys({
    isOff: dialog !== undefined || writing,
    move: (by) => select(Math.max(0, Math.min(lines.total - 1, selected < 0 ? 0 : selected + by))),
    write: () => chosenRow && setWriting(true),
    done: () =>
      chosenRow &&
      chosenRow.text !== '' &&
      keep(chosenRow, { state: chosenRow.state === 'done' ? 'draft' : 'done' }),
    search: () => searchField.current?.focus(),
    replace: () => setDialog('replace'),
    step: (direction) => step.mutate(direction),
  });
  useWriting(path, target, name, line, writing || drafting);
  const nameOf = (code: string): string =>
    overview.tongues.find(({ tongue }) => tongue === code)?.name ?? code;
  const close = (): void => setDialog(undefined);
  const closeAnd = (done: LinesEdited): void => {
    close();
    told(done);
    enqueueSnackbar(`${plural(done.changed, 'line')} changed.`, { variant: 'success' });
  };
  const onRange = useCallback((first: number, last: number) => setRange([first, last]), []);
  return (
    <>
      <SidePanels
        id="desk"
        leftTitle="the tables"
        rightTitle="the line"
        left={<DeskSide overview={overview} view={view} onView={show} />}
        right={
          <LinePanel
            {...{ gameId, modId, view, line }}
            tongue={{ code: target, name: nameOf(target) }}
            onEdit={keep}
            onMany={(rows, text) =>
              edit.mutate({
                edits: rows.map(({ place, key, nth, text: base }) => ({ place, key, nth, base, text })),
                what: `saying ${plural(rows.length, 'line')} alike`,
              })
            }
            onGo={(to) => {
              setCursor(-1);
              choose(to);
            }}
            onForms={({ place, key, nth }) => forms.mutate({ place, key, nth })}
            onDraft={setDrafting}
            onComment={(of, text) => comment.mutate({ line: of, text })}
          />
        }
      >
        <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column', minHeight: 0 }}>
          <DeskBar
            {...{ overview, view, name, searchField }}
            total={lines.total}
            isPutting={put.isPutting}
            onName={setName}
            onView={show}
            onAsk={ask}
            onStep={(direction) => step.mutate(direction)}
            onPut={() => put.put(false)}
          />
          {overview.problems.length > 0 && (
            <Box
              role="alert"
              sx={{ px: 1.5, py: 0.5, bgcolor: 'lookBack', fontSize: 13, overflowWrap: 'anywhere' }}
            >
              {plural(overview.problems.length, 'table')} cannot be read: {overview.problems[0]!.path}:{' '}
              {overview.problems[0]!.why}
            </Box>
          )}
          {lines.loaded && lines.total === 0 ? (
            <Box sx={{ p: 4, color: 'ink2', textAlign: 'center' }}>
              No line is so.{' '}
              <Button onClick={() => show({ shown: '', text: '', place: '', speaker: '' })}>
                Show all lines
              </Button>
            </Box>
          ) : (
            <DeskGrid
              {...{ lines, selected, writing, onRange }}
              titles={[source, target, ...others].map(nameOf)}
              tongues={[source, target, ...others]}
              onSelect={select}
              onWrite={setWriting}
              onSave={(row, text, { isDone, next }) => {
                if (text !== row.text || isDone)
                  keep(row, {
                    ...(text !== row.text && { text }),
                    ...(isDone && { state: 'done' as const }),
                  });
                setWriting(false);
                if (next !== 0) select(Math.max(0, Math.min(lines.total - 1, selected + next)));
              }}
            />
          )}
        </Box>
      </SidePanels>
      {put.refused !== undefined && (
        <PutDespite why={put.refused} onClose={() => put.forget()} onPut={() => put.put(true)} />
      )}
      {dialog === 'replace' && (
        <ReplaceDialog {...{ path, view }} by={name} onClose={close} onDone={closeAnd} />
      )}
      {dialog === 'out and in' && (
        <OutInDialog {...{ path, view }} total={lines.total} by={name} onClose={close} onDone={closeAnd} />
      )}
      {dialog === 'held' && <HeldDialog path={path} onClose={close} />}
      {dialog === 'terms' && <TermsDialog {...{ path, view }} terms={overview.terms} onClose={close} />}
      {dialog === 'progress' && <ProgressDialog {...{ gameId, modId, overview }} onClose={close} />}
      {dialog === 'tongue' && (
        <TongueDialog
          path={path}
          onClose={close}
          onDone={(tongue) => {
            close();
            show({ target: tongue, line: '' });
          }}
        />
      )}
    </>
  );
}

/** Where the line of an address stands among those that are there. */
function placeOf(
  lines: ReturnType<typeof useLines>,
  line: LineRef | undefined,
  [first, last]: readonly [number, number],
): number {
  if (!line) return -1;
  const wanted = refOf(line);
  for (let index = first; index <= last; index++) {
    const row = lines.at(index);
    if (row && refOf(row) === wanted) return index;
  }
  return -1;
}
