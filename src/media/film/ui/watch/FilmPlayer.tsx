'use client';
import NavigateBeforeRounded from '@mui/icons-material/NavigateBeforeRounded';
import NavigateNextRounded from '@mui/icons-material/NavigateNextRounded';
import PauseRounded from '@mui/icons-material/PauseRounded';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import Slider from '@mui/material/Slider';
import TextField from '@mui/material/TextField';
import { useEffect, useState, type ReactNode } from 'react';
import type { FilmView } from '@/server/films/film-view';
import type { Subtitle } from '@/media/film/core/subtitles';
import { isForPage } from '@/ui/letter-keys';
import { nameOf } from '@/ui/format';
import { placeIn } from './film-address';
import { FollowingVideo } from './FollowingVideo';
import { FilmStrip } from './FilmStrip';
import { useFilmVideo, useSeeks, type FilmVideo } from './use-film';
import { OTHER, useTracks } from './use-tracks';

const NO_TEXTS = 'none';
const NONE: readonly Subtitle[] = [];
const SPEEDS = [0.25, 0.5, 1, 1.5, 2];

interface Props {
  readonly gameId: number;
  readonly filmKey: string;
  readonly film: FilmView;
  /** Whether keys of the page are for it, and all of its controls are shown. */
  readonly isLarge?: boolean;
  /** Another one that is shown in step with it, silently. */
  readonly beside?: { readonly filmKey: string; readonly film: FilmView; readonly label: string } | undefined;
  /** Texts that are kept elsewhere, and shown with it. */
  readonly otherTexts?: readonly Subtitle[];
  /** What stands below its strip, and knows where it is, and whose texts are shown. */
  readonly below?: ((player: FilmVideo, language: string) => ReactNode) | undefined;
  /** What stands beside its controls, and knows where it is. */
  readonly children?: (player: FilmVideo) => ReactNode;
}

/** A film with its sounds, texts and marks; watched, sought, and gone through picture by picture. */
export function FilmPlayer({
  gameId,
  filmKey,
  film,
  isLarge = false,
  beside,
  otherTexts = NONE,
  below,
  children,
}: Props) {
  const [sound, setSound] = useState(0);
  const [chosen, setLanguage] = useState<string>();
  const language =
    chosen ??
    (otherTexts.length > 0
      ? OTHER
      : (film.texts.find(({ language: own }) => own === film.sounds[0]?.language)?.language ?? NO_TEXTS));
  const [speed, setSpeed] = useState(1);
  const player = useFilmVideo(gameId, filmKey, film, { sound, speed });
  const { video, at, isPlaying, isReady, failed, seek, step, playPause } = player;
  const { picture, seconds, sounds, marks } = film;
  const texts = useTracks(gameId, filmKey, film, otherTexts);
  useEffect(() => {
    const element = video.current!;
    const shown = texts.findIndex((one) => one.language === language);
    // The list of tracks of a film follows its elements a moment later; the browser may choose one of them by itself then.
    const choose = (): void => {
      for (const [i, { track }] of [...element.querySelectorAll('track')].entries()) {
        const mode = i === shown ? 'showing' : 'disabled';
        if (track.mode !== mode) track.mode = mode;
      }
    };
    choose();
    element.textTracks.addEventListener('change', choose);
    element.textTracks.addEventListener('addtrack', choose);
    return () => {
      element.textTracks.removeEventListener('change', choose);
      element.textTracks.removeEventListener('addtrack', choose);
    };
  }, [video, texts, language, isReady]);
  useFilmKeys(player, isLarge);
  useSeeks(seek, isLarge);
  const number = picture ? Math.min(picture.count, Math.round(at * picture.rate) + 1) : 0;
  const choice = (
    label: string,
    value: string | number,
    options: readonly (readonly [string | number, string])[],
    choose: (value: string) => void,
  ): ReactNode => (
    <TextField
      select
      size="small"
      variant="standard"
      label={label}
      value={value}
      onChange={({ target }) => choose(target.value)}
      sx={{ minWidth: 92 }}
    >
      {options.map(([own, title]) => (
        <MenuItem key={own} value={own}>
          {title}
        </MenuItem>
      ))}
    </TextField>
  );
  return (
    <Box data-playing={isPlaying} data-ready={isReady}>
      <Box
        sx={{
          bgcolor: '#000',
          borderRadius: 1,
          overflow: 'hidden',
          display: 'flex',
          justifyContent: 'center',
          gap: '2px',
          position: 'relative',
        }}
      >
        {beside && <FollowingVideo key={beside.filmKey} {...beside} {...{ gameId, speed }} main={video} />}
        <Box
          component="video"
          ref={video}
          preload="auto"
          playsInline
          onClick={playPause}
          aria-label={`Film ${nameOf(film.title)}`}
          sx={{
            ...(beside ? { flex: 1, minWidth: 0 } : { width: '100%' }),
            maxHeight: isLarge ? (below ? '42vh' : '56vh') : 260,
            minHeight: picture ? 0 : 40,
            aspectRatio: picture ? `${picture.width} / ${picture.height}` : undefined,
            display: 'block',
          }}
        >
          {texts.map(({ language: own, name, src }) => (
            <track
              key={src}
              kind="subtitles"
              srcLang={own === OTHER ? 'en' : own || 'en'}
              label={name}
              src={src}
            />
          ))}
        </Box>
        {failed && (
          <Box
            role="alert"
            sx={{
              position: 'absolute',
              inset: 0,
              display: 'grid',
              placeItems: 'center',
              color: '#fff',
              p: 2,
              textAlign: 'center',
            }}
          >
            {failed}
          </Box>
        )}
      </Box>
      <Slider
        size="small"
        aria-label="Place in the film"
        value={Math.min(at, seconds)}
        min={0}
        max={Math.max(seconds, 0.001)}
        step={0.001}
        marks={marks
          .filter(({ seconds: value }) => value <= seconds)
          .map(({ seconds: value }) => ({ value }))}
        onChange={(_event, value) => seek(value)}
        valueLabelDisplay="auto"
        valueLabelFormat={placeIn}
        sx={{ display: 'block', mx: 0.5, width: 'calc(100% - 8px)', py: 1 }}
      />
      {isLarge && <FilmStrip {...{ gameId, filmKey, film, at, isReady }} onSeek={seek} />}
      {below?.(player, language)}
      <Box sx={{ display: 'flex', alignItems: 'center', flexWrap: 'wrap', columnGap: 1.5, rowGap: 0.5 }}>
        <Box sx={{ display: 'flex', alignItems: 'center' }}>
          <IconButton
            aria-label={isPlaying ? 'Pause' : 'Play'}
            title="Space"
            color="primary"
            onClick={playPause}
          >
            {isPlaying ? <PauseRounded /> : <PlayArrowRounded />}
          </IconButton>
          <IconButton
            size="small"
            aria-label="One picture back"
            title="Left"
            disabled={!picture}
            onClick={() => step(-1)}
          >
            <NavigateBeforeRounded />
          </IconButton>
          <IconButton
            size="small"
            aria-label="One picture on"
            title="Right"
            disabled={!picture}
            onClick={() => step(1)}
          >
            <NavigateNextRounded />
          </IconButton>
        </Box>
        <Box className="mono" sx={{ fontSize: 13, color: 'ink2', minWidth: 178 }}>
          {placeIn(at)} of {placeIn(seconds)}
          {picture && (
            <>
              <br />
              picture {number} of {picture.count}
            </>
          )}
        </Box>
        {sounds.length > 1 &&
          choice(
            'Sound',
            sound,
            sounds.map(({ name }, i) => [i, name] as const),
            (value) => setSound(Number(value)),
          )}
        {texts.length > 0 &&
          choice(
            'Subtitles',
            language,
            [[NO_TEXTS, 'None'], ...texts.map(({ language: own, name }) => [own, name] as const)],
            setLanguage,
          )}
        {isLarge &&
          choice(
            'Speed',
            speed,
            SPEEDS.map((one) => [one, `${one} x`] as const),
            (value) => setSpeed(Number(value)),
          )}
        {children?.(player)}
      </Box>
    </Box>
  );
}

/** Space plays and rests, the arrows go a picture on or back, with Shift five seconds. */
function useFilmKeys({ playPause, step, seek, at }: FilmVideo, isOn: boolean): void {
  useEffect(() => {
    if (!isOn) {
      window.addEventListener('zero-latch-look', playPause);
      return () => window.removeEventListener('zero-latch-look', playPause);
    }
    const press = (event: KeyboardEvent): void => {
      const target = event.target as HTMLElement;
      if (!isForPage(event) || target.closest('[role=combobox], [role=slider], [role=listbox]')) return;
      const way = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
      // Space presses the button that has the focus.
      if (way === 0 && (event.key !== ' ' || target.closest('button, a'))) return;
      event.preventDefault();
      if (way === 0) playPause();
      else if (event.shiftKey) seek(at + 5 * way);
      else step(way);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  });
}
