import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { ReactNode } from 'react';
import type { FilmWish, SoundWish } from '@/media/film/core/film-wish';
import type { FilmView } from '@/server/films/film-view';
import type { FilmSlot } from '@/server/films/slot';
import { NumberField } from '@/ui/kit/NumberField';
import type { GivenFilm } from './MakeFilmDialog';

interface Props {
  readonly film: FilmView;
  readonly slot: FilmSlot;
  readonly given: GivenFilm;
  readonly wish: FilmWish;
  readonly onChange: (wish: FilmWish) => void;
  readonly onOriginal: () => void;
}

const FIT_TITLES = { pad: 'with bars beside it', crop: 'cut to the frame', stretch: 'stretched' } as const;
const EFFORT_TITLES = { quick: 'quick', usual: 'usual', best: 'slow, and finer' } as const;

const NO_TEXTS = 'none';

const toChoice = (wish: SoundWish): string => (typeof wish === 'string' ? wish : `from ${wish.from}`);
const ofChoice = (choice: string): SoundWish =>
  choice === 'keep' || choice === 'silence' ? choice : { from: Number(choice.slice(5)) };

/** What a new film is to be: as the old one has it, unless one says otherwise. */
export function FilmWishForm({ film, slot, given, wish, onChange, onOriginal }: Props) {
  const put = (part: Partial<FilmWish>): void => onChange({ ...wish, ...part });
  const seconds = given.seconds ?? 0;
  const size = (wish.bitRate * seconds) / 8;
  const choice = <T extends string>(
    label: string,
    value: T,
    options: Readonly<Record<T, string>>,
    choose: (value: T) => void,
  ): ReactNode => (
    <TextField
      select
      size="small"
      label={label}
      value={value}
      onChange={({ target }) => choose(target.value as T)}
      sx={{ minWidth: 170 }}
    >
      {(Object.entries(options) as [T, string][]).map(([own, title]) => (
        <MenuItem key={own} value={own}>
          {title}
        </MenuItem>
      ))}
    </TextField>
  );
  const number = (
    label: string,
    unit: string,
    value: number,
    least: number,
    most: number,
    keep: (value: number) => void,
    width?: number,
  ): ReactNode => (
    <Box>
      <Box sx={{ color: 'ink2', fontSize: 12.5 }}>{label}</Box>
      <NumberField
        {...{ label, unit, value, least, most, ...(width !== undefined && { width }) }}
        onKeep={(next) => next !== undefined && keep(next)}
      />
    </Box>
  );
  const even = (n: number): number => 2 * Math.round(n / 2);
  return (
    <>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 2, alignItems: 'flex-end' }}>
        {number('Width', 'px', wish.width, 16, 4096, (width) => put({ width: even(width) }))}
        {number('Height', 'px', wish.height, 16, 4096, (height) => put({ height: even(height) }))}
        {number('Pictures a second', '', wish.rate, 1, 120, (rate) => put({ rate }))}
        {number(
          'Bits',
          'kbit/s',
          Math.round(wish.bitRate / 1000),
          10,
          200_000,
          (rate) => put({ bitRate: Math.round(1000 * rate) }),
          104,
        )}
        {seconds > 0 &&
          number(
            'Size',
            'MB',
            size / 2 ** 20,
            0.01,
            60_000,
            (mb) => put({ bitRate: Math.max(10_000, Math.round((8 * mb * 2 ** 20) / seconds)), passes: 2 }),
            84,
          )}
        <Button size="small" onClick={onOriginal}>
          As the original
        </Button>
      </Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 2, mt: 2 }}>
        {choice('Another shape comes', wish.fit, FIT_TITLES, (fit) => put({ fit }))}
        {choice('Work', wish.effort, EFFORT_TITLES, (effort) => put({ effort }))}
        {choice(
          'Passes',
          String(wish.passes) as '1' | '2',
          { 1: 'one', 2: 'two, to hit the size' },
          (passes) => put({ passes: Number(passes) as 1 | 2 }),
        )}
      </Box>
      {film.texts.length > 0 && (
        <Box sx={{ mt: 2 }}>
          {choice(
            'Texts in the picture',
            wish.burn ?? NO_TEXTS,
            {
              [NO_TEXTS]: 'none, the game shows them',
              ...Object.fromEntries(film.texts.map(({ language, name }) => [language, `burnt in, ${name}`])),
            },
            (burn) => put({ burn: burn === NO_TEXTS ? undefined : burn }),
          )}
        </Box>
      )}
      {film.sounds.length > 0 && (
        <Box
          role="group"
          aria-label="Sounds of the new film"
          sx={{ display: 'flex', flexWrap: 'wrap', gap: 2, mt: 2 }}
        >
          {film.sounds.map(({ name }, i) => (
            <Box key={i}>
              {choice(
                name,
                toChoice(wish.sounds[i] ?? 'keep'),
                {
                  ...Object.fromEntries(
                    given.sounds.map(({ language }, at) => [
                      `from ${at}`,
                      `sound ${at + 1} of the new film${language ? ` (${language})` : ''}`,
                    ]),
                  ),
                  keep: 'the old one, kept',
                  silence: 'silence',
                },
                (own) =>
                  put({
                    sounds: film.sounds.map((_sound, at) =>
                      at === i ? ofChoice(own) : (wish.sounds[at] ?? 'keep'),
                    ),
                  }),
              )}
            </Box>
          ))}
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={wish.even}
                disabled={!wish.sounds.some((own) => typeof own === 'object')}
                onChange={({ target }) => put({ even: target.checked })}
              />
            }
            label="New sounds as loud as the old ones"
          />
        </Box>
      )}
      <Box sx={{ color: 'ink2', fontSize: 13, mt: 2 }}>
        The game has {slot.picture!.codec.toUpperCase()}, {slot.picture!.width} x {slot.picture!.height},{' '}
        {Math.round(slot.picture!.rate * 1000) / 1000} a second at {Math.round(slot.picture!.bitRate / 1000)}{' '}
        kbit/s. Marks and subtitles stay as they are.
      </Box>
    </>
  );
}
