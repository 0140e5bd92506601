'use client';
import { useQuery, type UseQueryResult } from '@tanstack/react-query';
import type Hls from 'hls.js';
import { useCallback, useEffect, useRef, useState, type RefObject } from 'react';
import type { FilmView } from '@/server/films/film-view';
import { api } from '@/ui/api';
import { filmUrl } from './film-address';

export const useFilm = (gameId: number, key: string): UseQueryResult<FilmView> =>
  useQuery({
    queryKey: ['film', gameId, key],
    queryFn: () => api.get(`games/${gameId}/films/${key}`),
    retry: false,
  });

/** What the server answers for pieces behind the end (410). */
const ENDED = 410;
/** A first picture that comes later than this is late by itself. */
const MOST_LEAD = 0.2;

/** When the picture begins that is shown at a time. */
const pictureAt = (seconds: number, rate: number): number =>
  Math.floor(Math.max(0, seconds) * rate + 0.01) / rate;

const SEEK = 'zero-latch-film-seek';

/** Has the film that is watched large go to a place. */
export const seekTo = (seconds: number): void =>
  void window.dispatchEvent(new CustomEvent(SEEK, { detail: seconds }));

/** Hears what other parts of the screen ask. */
export function useSeeks(seek: FilmVideo['seek'], isOn: boolean): void {
  useEffect(() => {
    if (!isOn) return;
    const go = (event: Event): void => seek((event as CustomEvent<number>).detail);
    window.addEventListener(SEEK, go);
    return () => window.removeEventListener(SEEK, go);
  }, [seek, isOn]);
}

export interface FilmVideo {
  readonly video: RefObject<HTMLVideoElement | null>;
  /** Seconds of the picture that is shown. */
  readonly at: number;
  readonly isPlaying: boolean;
  /** Whether the first picture is there. */
  readonly isReady: boolean;
  readonly failed: string;
  seek(seconds: number): void;
  /** So many pictures on, or back; it rests then. */
  step(pictures: number): void;
  playPause(): void;
}

/** Plays a film with one of its sounds: as it lies where the browser can, else in pieces that are made while it is watched. */
export function useFilmVideo(
  gameId: number,
  key: string,
  film: FilmView,
  { sound, speed }: { readonly sound: number; readonly speed: number },
): FilmVideo {
  const video = useRef<HTMLVideoElement>(null);
  const [at, setAt] = useState(0);
  const [isPlaying, setPlaying] = useState(false);
  const [isReady, setReady] = useState(false);
  const [failed, setFailed] = useState('');
  const { how } = film.playing[sound] ?? film.playing[0]!;
  const { stamp } = film;
  const rate = film.picture?.rate ?? 25;
  /** So much later than it is comes what is played: the first picture waits for what a coder of sound begins with. */
  const lead = useRef(0);
  const isMeasured = useRef(false);
  /** The picture that was asked for and is not shown yet: steps add up, however fast they come. */
  const goal = useRef<number>(undefined);
  /** What `at` becomes with the next drawing of the screen; steps do not wait for that. */
  const shownAt = useRef(0);
  useEffect(() => {
    const element = video.current!;
    const base = filmUrl(gameId, key);
    // The same place with the other sound.
    const from = element.currentTime;
    isMeasured.current = false;
    let hls: Hls | undefined;
    const tell = (): void => setFailed(element.error?.message ?? 'The browser cannot play it.');
    element.addEventListener('error', tell);
    let isGone = false;
    if (how === 'in pieces') {
      // Only who watches such a film needs the package.
      void import('hls.js').then(({ default: Player }) => {
        if (isGone) return;
        hls = new Player({ startPosition: from, maxBufferLength: 20, backBufferLength: 30 });
        hls.on(Player.Events.ERROR, (_event, { fatal, details, response }) => {
          // One that ends before it said so has just ended.
          if (fatal && response?.code === ENDED) element.pause();
          else if (fatal) setFailed(`It cannot be shown: ${details}.`);
        });
        hls.loadSource(`${base}/pieces/${sound}/list.m3u8`);
        hls.attachMedia(element);
      });
    } else {
      element.src = `${base}/whole?sound=${sound}&v=${encodeURIComponent(stamp)}`;
      if (from > 0) element.currentTime = from;
    }
    return () => {
      element.removeEventListener('error', tell);
      isGone = true;
      hls?.destroy();
      if (how !== 'in pieces') {
        element.removeAttribute('src');
        element.load();
      }
      setReady(false);
      setFailed('');
    };
  }, [gameId, key, how, sound, stamp]);
  useEffect(() => {
    const element = video.current!;
    // The time of the picture itself, which the clock of the element runs ahead of.
    let asked = 0;
    const shown = (_now: number, { mediaTime }: VideoFrameCallbackMetadata): void => {
      if (!isMeasured.current && element.currentTime < 1 / rate) {
        lead.current = mediaTime < MOST_LEAD ? mediaTime : 0;
        isMeasured.current = true;
      }
      const seconds = Math.max(0, mediaTime - lead.current);
      if (Math.round(seconds * rate) === goal.current) goal.current = undefined;
      shownAt.current = seconds;
      setAt(seconds);
      setReady(true);
      asked = element.requestVideoFrameCallback(shown);
    };
    asked = element.requestVideoFrameCallback(shown);
    const listeners: [string, () => void][] = [
      ['play', () => setPlaying(true)],
      ['pause', () => setPlaying(false)],
      ['ended', () => setPlaying(false)],
      // Where there are no pictures, and where one is sought that is shown already.
      ['timeupdate', () => !element.videoWidth && setAt(Math.max(0, element.currentTime - lead.current))],
      ['loadeddata', () => setReady(true)],
      // Of several places that are sought in quick succession only the last may be told.
      [
        'seeked',
        () => {
          if (!element.paused) return;
          shownAt.current = pictureAt(element.currentTime - lead.current, rate);
          setAt(shownAt.current);
        },
      ],
    ];
    for (const [name, listener] of listeners) element.addEventListener(name, listener);
    return () => {
      element.cancelVideoFrameCallback(asked);
      for (const [name, listener] of listeners) element.removeEventListener(name, listener);
    };
  }, [rate]);
  useEffect(() => {
    if (video.current) video.current.playbackRate = speed;
  }, [speed, isReady]);
  const seek = useCallback(
    (seconds: number) => {
      const element = video.current!;
      const last = Math.max(0, film.seconds - 0.5 / rate);
      const place = Math.min(Math.max(0, seconds), last);
      // A step that is asked for before it is shown goes on from there.
      goal.current = Math.floor(place * rate + 0.01);
      element.currentTime = place + lead.current;
    },
    [film.seconds, rate],
  );
  return {
    ...{ video, at, isPlaying, isReady, failed, seek },
    step(pictures) {
      video.current!.pause();
      const most = Math.max(0, (film.picture?.count ?? 1) - 1);
      const next = Math.min(
        most,
        Math.max(0, (goal.current ?? Math.round(shownAt.current * rate)) + pictures),
      );
      // Into the middle of it, where rounding does not matter.
      seek((next + 0.5) / rate);
      goal.current = next;
    },
    playPause() {
      goal.current = undefined;
      const element = video.current!;
      if (element.paused) void element.play().catch(() => undefined);
      else element.pause();
    },
  };
}
