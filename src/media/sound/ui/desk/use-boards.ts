'use client';
import { useMutation, useQuery, useQueryClient, type UseQueryResult } from '@tanstack/react-query';
import { enqueueSnackbar } from 'notistack';
import { useEffect, useRef, useState } from 'react';
import type { BoardSort, PadContent, StripContent } from '@/media/sound/core/board';
import type { BoardItem, BoardView } from '@/server/boards/boards';
import type { ClipPath, ClipPlace } from '@/server/boards/clip-places';
import { api } from '@/ui/api';

export const useBoards = (): UseQueryResult<BoardItem[]> =>
  useQuery({ queryKey: ['boards'], queryFn: () => api.get('boards') });

/** Makes a board, and gives it. */
export const addBoard = (sort: BoardSort, title: string): Promise<BoardView> =>
  api.post<BoardView>('boards', { sort, title });

const failed = (error: Error): void => void enqueueSnackbar(error.message, { variant: 'error' });

/** What is changed on a board, with what undoes it. */
export interface OpenBoard<C> {
  readonly data: BoardView | undefined;
  readonly content: C | undefined;
  readonly error: Error | null;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
  /** Whether what was changed last is not kept yet. */
  readonly isBusy: boolean;
  placeOf(clip: ClipPath): ClipPlace | undefined;
  /** What it holds from now on; kept at once. */
  change(next: C): void;
  undo(): void;
  redo(): void;
  retitle(title: string): void;
}

interface BoardChange<C> {
  readonly content?: C;
  readonly title?: string;
}

const LISTEN_MS = 4000;

/** Games of clips whose length is not known yet. */
const unheard = (board: BoardView | undefined): number[] => [
  ...new Set(
    board?.places.flatMap(({ entry }, i) => (entry && !entry.measured ? board.content.clips[i]!.game : [])),
  ),
];

/** A board that is open on this page: what is changed is shown at once and kept in turn. */
export function useBoard<C extends StripContent | PadContent>(id: number): OpenBoard<C> {
  const client = useQueryClient();
  const key = ['board', id];
  const { data, error } = useQuery({
    queryKey: key,
    queryFn: () => api.get<BoardView>(`boards/${id}`),
    // Until the lengths of all are known.
    refetchInterval: ({ state }) => (unheard(state.data).length > 0 ? LISTEN_MS : false),
  });
  const games = unheard(data).join();
  useEffect(() => {
    // Whoever asks how many are known has the others listened to.
    for (const game of games === '' ? [] : games.split(','))
      void api.get(`games/${game}/known?kinds=sound`).catch(() => undefined);
  }, [games]);
  const [steps, setSteps] = useState<{ past: C[]; future: C[] }>({ past: [], future: [] });
  // What was asked for last, and what is under way: the next waits for the version that it gives.
  const [shown, setShown] = useState<C>();
  const line = useRef<Promise<unknown>>(Promise.resolve());
  const waiting = useRef<BoardChange<C>>(undefined);
  const content = shown ?? (data?.content as C | undefined);
  const patch = (change: BoardChange<C>): void => {
    const isAsked = waiting.current !== undefined;
    // What is changed while the change before is under way goes to the server as one.
    waiting.current = { ...waiting.current, ...change };
    if (isAsked) return;
    line.current = line.current
      .then(async () => {
        // What was asked for before would show again what is changed here.
        await client.cancelQueries({ queryKey: key });
        const asked = waiting.current;
        waiting.current = undefined;
        const now = client.getQueryData<BoardView>(key);
        const made = await api.patch<BoardView>(`boards/${id}`, { ...asked, version: now!.version });
        client.setQueryData(key, made);
      })
      .catch((problem: unknown) => {
        failed(problem as Error);
        setSteps({ past: [], future: [] });
        return client.refetchQueries({ queryKey: key });
      })
      .finally(() => {
        if (!waiting.current) setShown(undefined);
      });
  };
  const keep = (next: C, past: C[], future: C[]): void => {
    setShown(next);
    setSteps({ past, future });
    patch({ content: next });
  };
  const { past, future } = steps;
  const isBusy = shown !== undefined;
  useEffect(() => {
    if (!isBusy) return;
    // Whoever leaves in just that moment is asked, since the last change would be lost.
    const ask = (event: BeforeUnloadEvent): void => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [isBusy]);
  return {
    ...{ data, content, error, canUndo: past.length > 0, canRedo: future.length > 0, isBusy },
    placeOf: ({ game, archive, path }) => {
      const at = data?.content.clips.findIndex(
        (one) => one.game === game && one.archive === archive && one.path === path,
      );
      return at === undefined || at < 0 ? undefined : data?.places[at];
    },
    change: (next) => content && keep(next, [...past, content].slice(-200), []),
    undo: () => content && past.length > 0 && keep(past.at(-1)!, past.slice(0, -1), [content, ...future]),
    redo: () => content && future.length > 0 && keep(future[0]!, [...past, content], future.slice(1)),
    retitle: (title) => patch({ title }),
  };
}

/** Ctrl+Z and Ctrl+Y (or with Shift) where nothing is typed. */
export function useUndoKeys({ undo, redo }: Pick<OpenBoard<never>, 'undo' | 'redo'>): void {
  const latest = useRef({ undo, redo });
  useEffect(() => {
    latest.current = { undo, redo };
  });
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || (event.target as HTMLElement).closest('input, textarea'))
        return;
      const key = event.key.toLowerCase();
      if (key !== 'z' && key !== 'y') return;
      event.preventDefault();
      if (key === 'z' && !event.shiftKey) latest.current.undo();
      else latest.current.redo();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
}

/** Puts a clip on a board that is not open: it is read, changed and kept. */
export function useAddClip<C extends StripContent | PadContent>(
  add: (content: C) => C,
  done: (board: BoardView) => void,
) {
  return useMutation({
    mutationFn: async (id: number) => {
      const board = await api.get<BoardView>(`boards/${id}`);
      return api.patch<BoardView>(`boards/${id}`, {
        content: add(board.content as C),
        version: board.version,
      });
    },
    onSuccess: done,
    onError: failed,
  });
}
