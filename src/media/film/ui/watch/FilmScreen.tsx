'use client';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { PageLink } from '@/ui/kit/PageLink';
import { useRouter, useSearchParams } from 'next/navigation';
import { useState } from 'react';
import type { FilmSound, FilmView } from '@/server/films/film-view';
import type { Subtitle } from '@/media/film/core/subtitles';
import { MOST_SAVED_FRAMES } from '@/media/film/core/saved-frames';
import { bytes, nameOf } from '@/ui/format';
import { Blank, Failed, Loading } from '@/ui/kit/Blank';
import { Facts } from '@/ui/kit/Facts';
import { Screen } from '@/ui/kit/Screen';
import { NewModDialog } from '@/ui/frame/NewModDialog';
import { useMod } from '@/ui/use-mod';
import { filmUrl, keyInFolder, keyOfOriginal, placeIn } from './film-address';
import { FilmLoudness } from './FilmLoudness';
import { FilmPlayer } from './FilmPlayer';
import { FilmTimeLine } from './FilmTimeLine';
import { FilmTextList } from './FilmTextList';
import { MakeFilmDialog } from './MakeFilmDialog';
import { ProgramTexts } from './ProgramTexts';
import { TakeFilmDialog } from './TakeFilmDialog';
import { seekTo, useFilm } from './use-film';

/** One film, large: watched, sought, its texts read, its pictures and texts taken out. */
export function FilmScreen({ gameId }: { gameId: number }) {
  const key = useSearchParams().get('film') ?? '';
  if (key === '')
    return (
      <Blank
        title="No film chosen"
        action={
          <Button component={PageLink} href={`/games/${gameId}/contents?kind=film`} variant="contained">
            To the films
          </Button>
        }
      >
        Choose a film in the contents and press <em>Watch it large</em> below it.
      </Blank>
    );
  return <OneFilm key={key} gameId={gameId} filmKey={key} />;
}

function OneFilm({ gameId, filmKey }: { gameId: number; filmKey: string }) {
  const { data: film, error } = useFilm(gameId, filmKey);
  const { mod } = useMod(gameId);
  const router = useRouter();
  const [making, setMaking] = useState(false);
  const [taking, setTaking] = useState(false);
  const ofKey = /m(\d+)$/.exec(filmKey)?.[1];
  const asMod = ofKey !== undefined;
  // What is changed is changed in the mod that is shown, whichever is chosen above.
  const modId = asMod ? Number(ofKey) : mod?.id;
  const [isBeside, setBeside] = useState(false);
  const [held, setHeld] = useState<readonly Subtitle[]>([]);
  const own = keyInFolder(filmKey);
  const { data: original } = useFilm(gameId, keyOfOriginal(filmKey));
  if (error && !film) return <Failed error={error} />;
  if (!film) return <Loading what="Opening the film" />;
  const base = filmUrl(gameId, filmKey);
  return (
    <Screen
      title={film.title}
      fact={factOf(film)}
      actions={
        <>
          {mod && (
            <ToggleButtonGroup
              exclusive
              size="small"
              aria-label="Which film"
              value={asMod ? 'mod' : 'game'}
              onChange={(_event, next: string | null) =>
                next &&
                router.replace(
                  `/games/${gameId}/film?film=${own}${next === 'mod' ? `m${modId ?? mod.id}` : ''}`,
                )
              }
            >
              <ToggleButton value="game" sx={{ py: 0.1 }}>
                As it is
              </ToggleButton>
              <ToggleButton value="mod" sx={{ py: 0.1 }} title={`As ${mod.title} will have it`}>
                As changed
              </ToggleButton>
            </ToggleButtonGroup>
          )}
          {asMod && (
            <ToggleButton
              value="beside"
              size="small"
              selected={isBeside}
              onChange={() => setBeside(!isBeside)}
              sx={{ py: 0.1 }}
              title="The old one beside it, in step"
            >
              Beside the old one
            </ToggleButton>
          )}
          <Button
            component={PageLink}
            href={`/games/${gameId}/contents?entry=${film.archiveId}:${film.index ?? film.entries[0]?.index ?? 0}`}
          >
            Show in the contents
          </Button>
          <Button onClick={() => setTaking(true)}>Take out…</Button>
          <Button variant="contained" onClick={() => setMaking(true)}>
            Make a new one…
          </Button>
        </>
      }
      side={
        <>
          <Facts rows={factsOf(film)} />
          {film.sounds.length > 0 && <FilmLoudness {...{ gameId, filmKey, film }} />}
          <FilmTextList {...{ film, filmKey }} modId={modId} onSeek={seekTo} />
          <ProgramTexts {...{ gameId, filmKey }} modId={modId} onSeek={seekTo} onFound={setHeld} />
        </>
      }
    >
      <NewModDialog
        gameId={gameId}
        open={making && modId === undefined}
        onClose={() => setMaking(false)}
        onMade={() => setMaking(true)}
      />
      {making && modId !== undefined && (
        <MakeFilmDialog
          gameId={gameId}
          film={original ?? film}
          filmKey={keyOfOriginal(filmKey)}
          modId={modId}
          onClose={() => setMaking(false)}
        />
      )}
      {taking && <TakeFilmDialog {...{ gameId, filmKey, film }} onClose={() => setTaking(false)} />}
      <FilmPlayer
        key={film.stamp}
        {...{ gameId, filmKey, film }}
        isLarge
        otherTexts={held}
        below={
          asMod && modId !== undefined && film.allMarks
            ? ({ at, seek }, language) => (
                <FilmTimeLine {...{ gameId, filmKey, film, language, modId, at }} onSeek={seek} />
              )
            : undefined
        }
        beside={
          asMod && isBeside && original
            ? { filmKey: keyOfOriginal(filmKey), film: original, label: `The old ${nameOf(film.title)}` }
            : undefined
        }
      >
        {(player) => (
          <>
            {film.picture && (
              <Button
                size="small"
                component="a"
                href={`${base}/frame?at=${player.at.toFixed(4)}&save`}
                download
              >
                Save this picture
              </Button>
            )}
            {film.picture && film.picture.count <= MOST_SAVED_FRAMES && (
              <Button size="small" component="a" href={`${base}/frames`} download>
                Save all pictures
              </Button>
            )}
          </>
        )}
      </FilmPlayer>
    </Screen>
  );
}

const factOf = ({ picture, seconds, sounds }: FilmView): string =>
  [
    picture && `${picture.width} x ${picture.height}`,
    placeIn(seconds),
    sounds.length === 0 ? 'silent' : sounds.length === 1 ? 'one sound' : `${sounds.length} sounds`,
  ]
    .filter(Boolean)
    .join(', ');

const HOW = {
  'as it is': 'as it is',
  whole: 'put into a container for browsers, nothing coded anew',
  'in pieces': 'coded anew while it is watched, since browsers do not show it',
} as const;

function factsOf({ picture, sounds, bytes: size, playing, seconds }: FilmView): [string, React.ReactNode][] {
  return [
    ...(picture
      ? ([
          ['Picture', `${picture.codec.toUpperCase()}, ${picture.pixels}`],
          ['A second', `${Math.round(picture.rate * 1000) / 1000} pictures, ${picture.count} in all`],
        ] as [string, string][])
      : []),
    ...sounds.map((sound, i): [string, string] => [
      sound.name === 'Sound' ? `Sound ${i + 1}` : sound.name,
      soundWords(sound),
    ]),
    ['Size', `${bytes(size)}, ${Math.round((8 * size) / Math.max(seconds, 0.001) / 1000)} kbit/s`],
    ['Played', HOW[playing[0]!.how]],
  ];
}

const soundWords = ({ codec, rate, channels, seconds }: FilmSound): string =>
  [
    codec.toUpperCase(),
    `${rate} Hz`,
    channels === 1 ? 'mono' : channels === 2 ? 'stereo' : `${channels} channels`,
    seconds && placeIn(seconds),
  ]
    .filter(Boolean)
    .join(', ');
