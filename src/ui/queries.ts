'use client';
import { useMutation, useQuery, type UseMutationResult, type UseQueryResult } from '@tanstack/react-query';
import { enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import type { KnownOfGame } from '@/server/installing/originals';
import type { ArchiveView } from '@/server/games/archives';
import type { BuildView, ToBuild } from '@/server/building/builds';
import type { Link } from '@/server/entries/chain';
import type { ContentsMap } from '@/server/entries/contents-map';
import type { FolderView } from '@/server/entries/entries';
import type { FolderFindings } from '@/server/games/folder-findings';
import type { GameView } from '@/server/games/games';
import type { InstallPlan } from '@/server/installing/install';
import type { FileNow, InstallationView } from '@/server/installing/installations';
import type { JobView } from '@/server/running/jobs';
import type { ProgramView } from '@/server/opening/key-finder';
import type { KeyView, NameListView } from '@/server/opening/keyring';
import type { EntryLinks } from '@/server/entries/links';
import type { ChangeView, ModView } from '@/server/mods/mods';
import type { EntryDetail } from '@/server/looking/preview';
import type { ScriptDetail, ScriptView } from '@/server/opening/scripts';
import type { TrialView } from '@/server/running/trials';
import { api } from './api';

export const useGames = (): UseQueryResult<GameView[]> =>
  useQuery({ queryKey: ['games'], queryFn: () => api.get('games') });
export const useGame = (id: number): UseQueryResult<GameView> =>
  useQuery({ queryKey: ['game', id], queryFn: () => api.get(`games/${id}`) });
export const useChain = (id: number, mod: number | undefined): UseQueryResult<Link[]> =>
  useQuery({
    queryKey: ['chain', id, mod],
    queryFn: () => api.get(`games/${id}/chain${mod ? `?mod=${mod}` : ''}`),
  });
export const useArchives = (id: number): UseQueryResult<ArchiveView[]> =>
  useQuery({ queryKey: ['archives', id], queryFn: () => api.get(`games/${id}/archives`) });
export const useFindings = (id: number): UseQueryResult<FolderFindings> =>
  useQuery({ queryKey: ['findings', id], queryFn: () => api.get(`games/${id}/findings`) });
export const useContentsMap = (id: number, enabled: boolean): UseQueryResult<ContentsMap> =>
  useQuery({ queryKey: ['map', id], enabled, queryFn: () => api.get(`games/${id}/map`) });
export const useKeys = (id: number): UseQueryResult<KeyView[]> =>
  useQuery({ queryKey: ['keys', id], queryFn: () => api.get(`games/${id}/keys`) });
export const usePrograms = (id: number, enabled: boolean): UseQueryResult<ProgramView[]> =>
  useQuery({ queryKey: ['programs', id], enabled, queryFn: () => api.get(`games/${id}/programs`) });
export const useNameLists = (id: number): UseQueryResult<NameListView[]> =>
  useQuery({ queryKey: ['names', id], queryFn: () => api.get(`games/${id}/names`) });
export const useFolders = (id: number): UseQueryResult<FolderView | null> =>
  useQuery({ queryKey: ['folders', id], queryFn: () => api.get(`games/${id}/folders`) });
export const useEntry = (id: number, archive: number, index: number): UseQueryResult<EntryDetail> =>
  useQuery({
    queryKey: ['entry', id, archive, index],
    queryFn: () => api.get(`games/${id}/entries/${archive}/${index}`),
  });
/** The text of a change, by the stamp of its bytes. */
export const useChangedText = (
  id: number,
  mod: number,
  change: number,
  stamp: string,
  enabled: boolean,
): UseQueryResult<{ text: string; whole: boolean }> =>
  useQuery({
    queryKey: ['changed-text', id, mod, change, stamp],
    enabled,
    queryFn: () => api.get(`games/${id}/mods/${mod}/changes/${change}/text`),
  });
export const useLinks = (id: number, archive: number, index: number): UseQueryResult<EntryLinks> =>
  useQuery({
    queryKey: ['links', id, archive, index],
    queryFn: () => api.get(`games/${id}/entries/${archive}/${index}/links`),
  });
export const useScripts = (): UseQueryResult<ScriptView[]> =>
  useQuery({ queryKey: ['scripts'], queryFn: () => api.get('scripts') });
export const useScript = (id: string, version: number | undefined): UseQueryResult<ScriptDetail> =>
  useQuery({
    queryKey: ['script', id, version],
    enabled: id !== '',
    queryFn: () => api.get(`scripts/${encodeURIComponent(id)}${version ? `?version=${version}` : ''}`),
  });
export const useMods = (id: number): UseQueryResult<ModView[]> =>
  useQuery({ queryKey: ['mods', id], queryFn: () => api.get(`games/${id}/mods`) });
/** Where a work folder is watched, changes come without anybody's asking. */
export const useChanges = (
  id: number,
  mod: number | undefined,
  watched = false,
): UseQueryResult<ChangeView[]> =>
  useQuery({
    refetchInterval: watched ? 1500 : false,
    queryKey: ['changes', id, mod],
    enabled: mod !== undefined,
    queryFn: () => api.get(`games/${id}/mods/${mod}/changes`),
  });
export const useBuilds = (id: number, mod: number | undefined): UseQueryResult<BuildView[]> =>
  useQuery({
    queryKey: ['builds', id, mod],
    enabled: mod !== undefined,
    queryFn: () => api.get(`games/${id}/mods/${mod}/builds`),
  });
/** What a build of a mod and those along with it would be made of. */
export const useToBuild = (id: number, mod: number | undefined): UseQueryResult<ToBuild> =>
  useQuery({
    queryKey: ['to-build', id, mod],
    enabled: mod !== undefined,
    queryFn: () => api.get(`games/${id}/mods/${mod}/to-build`),
  });
export const useInstallPlan = (id: number, build: number | undefined): UseQueryResult<InstallPlan> =>
  useQuery({
    queryKey: ['install-plan', id, build],
    enabled: build !== undefined,
    retry: false,
    queryFn: () => api.get(`games/${id}/builds/${build}/plan`),
  });
export const useKnownOriginals = (id: number): UseQueryResult<KnownOfGame> =>
  useQuery({ queryKey: ['originals', id], queryFn: () => api.get(`games/${id}/originals`) });
export interface Installations {
  installations: InstallationView[];
  files: FileNow[];
}
export const useInstallations = (id: number): UseQueryResult<Installations> =>
  useQuery({ queryKey: ['installations', id], queryFn: () => api.get(`games/${id}/installations`) });
export const useTrials = (id: number): UseQueryResult<TrialView[]> =>
  useQuery({ queryKey: ['trials', id], queryFn: () => api.get(`games/${id}/trials`) });
const isBusy = ({ state }: JobView): boolean => state === 'running' || state === 'waiting';

/** Events keep the jobs current; asking again while one runs mends what an event that was missed has left. */
export const useJobs = (): UseQueryResult<JobView[]> =>
  useQuery({
    queryKey: ['jobs'],
    queryFn: () => api.get('jobs'),
    refetchInterval: ({ state }) => ((state.data as JobView[] | undefined)?.some(isBusy) ? 2500 : false),
  });

/** The job of a kind that runs or waits for a game, if there is one. */
export function useRunning(gameId: number, kind: string): JobView | undefined {
  const { data } = useJobs();
  return data?.find(
    (job) =>
      job.gameId === gameId && job.kind === kind && (job.state === 'running' || job.state === 'waiting'),
  );
}

/** How long the outcome of a job is worth showing beside what it changed. */
const FRESH_MS = 10 * 60_000;

/** The jobs of some kinds that run for a game, and the latest of each that has ended and says something. */
export function useGameJobs(gameId: number, kinds: readonly string[]): JobView[] {
  const { data = [] } = useJobs();
  const [now] = useState(() => Date.now());
  return kinds.flatMap((kind) => {
    const own = data.filter((job) => job.gameId === gameId && job.kind === kind);
    const busy = own.filter(isBusy);
    if (busy.length > 0) return busy;
    const [last] = own;
    const isFresh = now - Date.parse(last?.endedAt ?? '') < FRESH_MS;
    const saysSomething =
      last && (last.error !== null || (last.result as { detail?: string } | null)?.detail);
    return last && isFresh && saysSomething ? [last] : [];
  });
}

/** The latest ended job of a kind for a game. */
export function useLast(gameId: number, kind: string): JobView | undefined {
  const { data } = useJobs();
  return data?.find((job) => job.gameId === gameId && job.kind === kind && job.endedAt !== null);
}

/** Something that changes the server: says what went wrong, and looks at everything anew afterwards. */
export function useAction<Input, Output>(
  work: (input: Input) => Promise<Output>,
  done?: (output: Output, input: Input) => void,
): UseMutationResult<Output, Error, Input> {
  return useMutation({
    mutationFn: work,
    // What it changed is asked again by itself; see `LiveEvents`.
    onSuccess: (output, input) => done?.(output, input),
    onError: (error) => void enqueueSnackbar(error.message, { variant: 'error', autoHideDuration: 15_000 }),
  });
}
