'use client';
import { enqueueSnackbar } from 'notistack';
import { useRef, useState } from 'react';
import type { BatchMatch } from '@/server/mods/match-batch';
import { api } from '../api';
import { entryParams, type ContentsView } from './url-state';

/** A file of a batch with the entries that it may be meant for, and which of them is chosen; -1 for none. */
export interface BatchRow extends Omit<BatchMatch, 'file'> {
  readonly file: File;
  readonly chosen: number;
  /** Why it does not go anywhere as it stands. */
  readonly problem?: string | undefined;
}

export interface BatchResult {
  readonly taken: number;
  readonly unfit: number;
  readonly failed: readonly string[];
  readonly isStopped: boolean;
}

/** Two files for one place: which, somebody has to say. */
function withTwice(rows: readonly BatchRow[]): BatchRow[] {
  const count = new Map<string, number>();
  const keyOf = ({ entries, chosen }: BatchRow): string => {
    const entry = entries[chosen];
    return entry ? `${entry.archiveId}:${entry.index}` : '';
  };
  for (const row of rows) count.set(keyOf(row), (count.get(keyOf(row)) ?? 0) + 1);
  return rows.map((row) => {
    const isTwice = keyOf(row) !== '' && count.get(keyOf(row))! > 1;
    return { ...row, problem: isTwice ? 'another file has this place too' : undefined };
  });
}

/** The path of a file within the folder that was given, where one was. */
const pathOf = (file: File & { path?: string }): string =>
  (file.webkitRelativePath || file.path || file.name).replace(/^\.?\/+/, '');

/** Files that are held against what is listed, and then put in their places one after the other. */
export function useBatch(gameId: number, view: ContentsView, modId: number | undefined) {
  const [rows, setRows] = useState<readonly BatchRow[]>([]);
  const [matching, setMatching] = useState(false);
  const [at, setAt] = useState<number>();
  const [result, setResult] = useState<BatchResult>();
  const isStopped = useRef(false);
  const look = async (files: readonly File[]): Promise<void> => {
    if (files.length === 0) return;
    setMatching(true);
    setResult(undefined);
    try {
      const list = Object.fromEntries(entryParams(view));
      const names = files.map(pathOf);
      const found = await api.post<BatchMatch[]>(`games/${gameId}/entries/match`, { list, files: names });
      setRows(
        withTwice(
          found.map(({ by, entries }, i) => ({
            file: files[i]!,
            by,
            entries,
            chosen: entries.length === 1 ? 0 : -1,
          })),
        ),
      );
    } catch (error) {
      enqueueSnackbar((error as Error).message, { variant: 'error' });
    } finally {
      setMatching(false);
    }
  };
  const choose = (row: number, entry: number): void =>
    setRows(withTwice(rows.map((one, i) => (i === row ? { ...one, chosen: entry } : one))));
  const ready = rows.filter(({ chosen, problem }) => chosen >= 0 && problem === undefined);
  const send = async (): Promise<void> => {
    if (modId === undefined) return;
    isStopped.current = false;
    const failed: string[] = [];
    let [taken, unfit] = [0, 0];
    for (const [i, { file, entries, chosen }] of ready.entries()) {
      if (isStopped.current) break;
      setAt(i);
      const { archiveId, index } = entries[chosen]!;
      const query = new URLSearchParams({
        archive: String(archiveId),
        index: String(index),
        name: file.name,
      });
      try {
        const { fit } = await api.put<{ fit: string }>(
          `games/${gameId}/mods/${modId}/changes?${query}`,
          file,
        );
        taken++;
        if (fit === 'does not fit') unfit++;
      } catch (error) {
        failed.push(`${file.name}: ${(error as Error).message}`);
      }
    }
    setAt(undefined);
    setResult({ taken, unfit, failed, isStopped: isStopped.current });
  };
  return {
    ...{ rows, matching, result, ready, choose, send },
    at: at ?? 0,
    isSending: at !== undefined,
    look: (files: readonly File[]) => void look(files),
    stop: () => {
      isStopped.current = true;
    },
  };
}
