'use client';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import CircularProgress from '@mui/material/CircularProgress';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQuery } from '@tanstack/react-query';
import { enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import type { FilmWish } from '@/media/film/core/film-wish';
import type { Probed } from '@/media/film/core/probed';
import type { FilmEstimate } from '@/server/films/estimate';
import type { FilmView } from '@/server/films/film-view';
import type { FilmSlot } from '@/server/films/slot';
import { api } from '@/ui/api';
import { bytes, duration, plural } from '@/ui/format';
import { useAction } from '@/ui/queries';
import { NumberField } from '@/ui/kit/NumberField';
import { give, givingOf, type Giving } from './give-film';
import { FilmWishForm } from './FilmWishForm';
import { placeIn } from './film-address';

interface Props {
  readonly gameId: number;
  readonly modId: number;
  readonly filmKey: string;
  readonly film: FilmView;
  readonly onClose: () => void;
}

export type GivenFilm = Probed & Pick<FilmWish, 'name' | 'blob'> & { readonly size: number };

/** As the original has it: its size, rate, bits and sounds; where the new film has no sound for one, the old one is kept. */
function asOriginal(slot: FilmSlot, given: GivenFilm, film: FilmView): FilmWish {
  const picture = slot.picture!;
  const even = (n: number): number => Math.max(16, 2 * Math.round(n / 2));
  const byLanguage = film.sounds.map(({ language }) =>
    given.sounds.findIndex((one) => language !== '' && one.language.startsWith(language)),
  );
  const isKnown = byLanguage.some((at) => at >= 0);
  return {
    ...{ blob: given.blob, name: given.name, width: even(picture.width), height: even(picture.height) },
    ...{ rate: Math.round(picture.rate * 1000) / 1000, bitRate: Math.round(picture.bitRate) },
    ...{ fit: 'pad', passes: 1, effort: 'usual', even: false },
    sounds: slot.sounds.map((_sound, i) => {
      const own = byLanguage[i]!;
      if (own >= 0) return { from: own };
      // Without languages the first sound goes to the first.
      return !isKnown && i === 0 && given.sounds.length > 0 ? { from: 0 } : 'keep';
    }),
  };
}

/** A film of one's own in the place of one of the game's: what it becomes, and how large and late it will be, before it is made. */
export function MakeFilmDialog({ gameId, modId, filmKey, film, onClose }: Props) {
  const base = `games/${gameId}/films/${filmKey}`;
  const slot = useQuery({
    queryKey: ['film-slot', gameId, filmKey],
    queryFn: () => api.get<FilmSlot>(`${base}/slot`),
    retry: false,
  });
  const [given, setGiven] = useState<GivenFilm>();
  const [wished, setWish] = useState<FilmWish>();
  // What was given may be here before it is known what the old film is.
  const wish = wished ?? (given && slot.data && asOriginal(slot.data, given, film));
  const [giving, setGiving] = useState<Giving>();
  const take = useMutation({
    mutationFn: (next: Giving) => give(base, next),
    onMutate: setGiving,
    onSuccess(taken) {
      // The same pictures at another rate: what was chosen for them stays.
      const isSame = given?.name === taken.name && given.sounds.length === taken.sounds.length;
      setGiven(taken);
      setWish((old) => (isSame && old ? { ...old, blob: taken.blob } : undefined));
      estimate.reset();
    },
  });
  const estimate = useMutation({
    mutationFn: (now: FilmWish) => api.post<FilmEstimate>(`${base}/estimate`, now),
  });
  const make = useAction(
    (now: FilmWish) =>
      api.post(`games/${gameId}/jobs`, {
        ...{ kind: 'make-film', modId, archiveId: film.archiveId, wish: now },
        ...(film.index !== undefined && { index: film.index }),
      }),
    () => {
      enqueueSnackbar('The film is being made; its streams become changes once it is done.');
      onClose();
    },
  );
  const drop = useDropzone({
    ...{ multiple: true, noClick: true, noKeyboard: true },
    onDrop(files) {
      const next = givingOf(files, film.picture?.rate ?? 25);
      if (next) take.mutate(next);
    },
  });
  const change = (next: FilmWish): void => {
    setWish(next);
    estimate.reset();
  };
  const problem = slot.error ?? take.error ?? estimate.error ?? make.error;
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>A new film for {film.title}</DialogTitle>
      <DialogContent {...drop.getRootProps()}>
        <input {...drop.getInputProps({ 'aria-label': 'File of the new film' })} />
        {problem && (
          <Alert severity="error" sx={{ mb: 2 }}>
            {problem.message}
          </Alert>
        )}
        {!given || !wish ? (
          <Box
            sx={{
              border: '1.5px dashed',
              borderColor: drop.isDragActive ? 'brass' : 'line',
              borderRadius: 1,
              p: 4,
              textAlign: 'center',
            }}
          >
            <Button variant="contained" onClick={drop.open} loading={take.isPending}>
              Choose a film
            </Button>
            <Box sx={{ color: 'ink2', mt: 1.5 }}>
              or drop it here: MP4, WebM, MKV, MOV, AVI or MPEG; or all its pictures (PNG or JPEG, in the
              order of their names) and a sound. It is brought to the size, rate and codecs of the old one.
            </Box>
          </Box>
        ) : (
          <>
            <Box sx={{ color: 'ink2', mb: 2 }}>
              {given.name}:{' '}
              {given.picture
                ? `${given.picture.width} x ${given.picture.height}, ${given.picture.codec.toUpperCase()}`
                : 'no pictures'}
              , {given.seconds === undefined ? 'of unknown length' : placeIn(given.seconds)},{' '}
              {given.sounds.length === 0 ? 'silent' : plural(given.sounds.length, 'sound')},{' '}
              {bytes(given.size)}
            </Box>
            {giving && 'pictures' in giving && (
              <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', mb: 2 }}>
                {giving.pictures.length} pictures, shown
                <NumberField
                  label="Pictures a second of what was given"
                  unit="a second"
                  value={Math.round(giving.rate * 1000) / 1000}
                  {...{ least: 1, most: 120, width: 120 }}
                  onKeep={(rate) => rate !== undefined && take.mutate({ ...giving, rate })}
                />
                {take.isPending && <CircularProgress size={18} />}
              </Box>
            )}
            <FilmWishForm
              {...{ film, given, wish }}
              slot={slot.data!}
              onChange={change}
              onOriginal={() => change(asOriginal(slot.data!, given, film))}
            />
            {estimate.data && <Estimate estimate={estimate.data} old={film} />}
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        {wish && (
          <>
            <Button variant="outlined" loading={estimate.isPending} onClick={() => estimate.mutate(wish)}>
              Try a few seconds
            </Button>
            <Button variant="contained" loading={make.isPending} onClick={() => make.mutate(wish)}>
              Make the film
            </Button>
          </>
        )}
      </DialogActions>
    </Dialog>
  );
}

function Estimate({
  estimate: { bytes: size, error, takes, picture, seconds },
  old,
}: {
  estimate: FilmEstimate;
  old: FilmView;
}) {
  return (
    <Box role="status" sx={{ display: 'flex', gap: 2, mt: 2, alignItems: 'center' }}>
      <Box
        component="img"
        src={picture}
        alt="A picture as it will be"
        sx={{ width: 240, borderRadius: 0.5 }}
      />
      <Box>
        <Box sx={{ fontWeight: 600 }}>
          About {bytes(size)} of pictures, give or take {Math.max(1, Math.round(100 * error))} %
        </Box>
        <Box sx={{ color: 'ink2' }}>
          {placeIn(seconds)} long, made in about {duration(takes)}; the old film has {bytes(old.bytes)} with
          its sounds.
        </Box>
      </Box>
    </Box>
  );
}
