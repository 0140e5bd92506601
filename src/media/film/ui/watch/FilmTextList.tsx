'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import InputBase from '@mui/material/InputBase';
import Typography from '@mui/material/Typography';
import { PageLink } from '@/ui/kit/PageLink';
import { useParams } from 'next/navigation';
import { useRef, useState } from 'react';
import { subtitleFaults } from '@/media/film/core/subtitles';
import type { TakenTexts } from '@/server/films/film-texts';
import type { FilmView } from '@/server/films/film-view';
import { api } from '@/ui/api';
import { useAction } from '@/ui/queries';
import { filmUrl, placeIn } from './film-address';
import { TakeTextsDialog } from './TakeTextsDialog';

const FAULTS = {
  overlap: 'overlaps the next one',
  'too fast': 'is shown too shortly to be read',
  'behind the end': 'is shown after the film has ended',
} as const;

interface Props {
  readonly film: FilmView;
  readonly filmKey: string;
  /** The mod that takes what is changed; undefined where there is none yet. */
  readonly modId: number | undefined;
  readonly onSeek: (seconds: number) => void;
}

/** What is written below a film in each language, with what is wrong with it: changed where it stands, taken in from files, saved as such. */
export const FilmTextList = (props: Props) =>
  props.film.texts.map((own) => <OneLanguage key={own.language} {...props} own={own} />);

function OneLanguage({ film, filmKey, modId, onSeek, own }: Props & { own: FilmView['texts'][number] }) {
  const { game } = useParams<{ game: string }>();
  const file = useRef<HTMLInputElement>(null);
  const [taken, setTaken] = useState<TakenTexts>();
  const { language, name, lines, from } = own;
  const base = filmUrl(Number(game), filmKey);
  const put = useAction((texts: readonly { key: string; text: string }[]) =>
    api.patch(`games/${game}/films/${filmKey}/texts`, { mod: modId, language, texts }),
  );
  const drop = useAction((gone: { key: string; was: number }) =>
    api.patch(`games/${game}/films/${filmKey}/marks`, { mod: modId, ...gone, isGone: true }),
  );
  const match = useAction(
    async (given: File) =>
      api.post<TakenTexts>(`games/${game}/films/${filmKey}/texts`, { language, file: await given.text() }),
    setTaken,
  );
  const faults = subtitleFaults(lines, film.seconds);
  return (
    <Box component="section" aria-label={`Subtitles, ${name}`} sx={{ mt: 2 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', flexWrap: 'wrap' }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          Subtitles, {name}
        </Typography>
        {(['srt', 'vtt'] as const).map((form) => (
          <Button
            key={form}
            size="small"
            component="a"
            download
            href={`${base}/texts?language=${language}&form=${form}&save`}
          >
            {form.toUpperCase()}
          </Button>
        ))}
        {modId !== undefined && (
          <Button size="small" loading={match.isPending} onClick={() => file.current?.click()}>
            Take in…
          </Button>
        )}
        <input
          ref={file}
          hidden
          type="file"
          accept=".srt,.vtt"
          aria-label={`File of subtitles, ${name}`}
          onChange={({ target }) => {
            const [given] = target.files ?? [];
            if (given) match.mutate(given);
            target.value = '';
          }}
        />
      </Box>
      {lines.map(({ from: begins, to, text, key }, i) => (
        <Box key={key} sx={{ py: 0.5, borderBottom: 1, borderColor: 'line', fontSize: 13 }}>
          <Box
            component="button"
            className="mono"
            aria-label={`To ${placeIn(begins)}`}
            onClick={() => onSeek(begins)}
            sx={{
              all: 'unset',
              cursor: 'pointer',
              color: 'ink2',
              fontSize: 11.5,
              '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
            }}
          >
            {placeIn(begins)} to {placeIn(to)}
          </Box>
          {modId !== undefined && (
            <Button
              size="small"
              aria-label={`Show no text at ${placeIn(begins)}`}
              sx={{ float: 'right', py: 0, minWidth: 0, fontSize: 12 }}
              onClick={() => drop.mutate({ key, was: begins })}
            >
              Take out
            </Button>
          )}
          <TextLine
            key={text}
            label={`Text at ${placeIn(begins)}, ${name}`}
            text={text}
            isFixed={modId === undefined}
            onKeep={(next) => put.mutate([{ key, text: next }])}
          />
          {faults
            .filter(({ at }) => at === i)
            .map(({ what }) => (
              <Box key={what} sx={{ color: 'look', fontSize: 12.5 }}>
                It {FAULTS[what]}.
              </Box>
            ))}
        </Box>
      ))}
      <Button
        size="small"
        component={PageLink}
        href={`/games/${game}/contents?entry=${from.archiveId}:${from.index}`}
      >
        Kept in {from.path}
      </Button>
      {taken && (
        <TakeTextsDialog
          taken={taken}
          name={name}
          onClose={() => setTaken(undefined)}
          onTake={(texts) => {
            put.mutate(texts);
            setTaken(undefined);
          }}
        />
      )}
    </Box>
  );
}

/** A text that is changed where it stands, and kept once it is left; Escape takes it back. */
function TextLine({
  label,
  text,
  isFixed,
  onKeep,
}: {
  label: string;
  text: string;
  isFixed: boolean;
  onKeep: (text: string) => void;
}) {
  const [written, setWritten] = useState(text);
  return (
    <InputBase
      fullWidth
      multiline
      readOnly={isFixed}
      value={written}
      onChange={({ target }) => setWritten(target.value)}
      onBlur={() => {
        const next = written.trim();
        if (next !== '' && next !== text) onKeep(next);
        else setWritten(text);
      }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') setWritten(text);
        if (event.key === 'Enter' && !event.shiftKey) {
          event.preventDefault();
          (event.target as HTMLElement).blur();
        }
      }}
      inputProps={{ 'aria-label': label }}
      sx={{ fontSize: 13, py: 0.25 }}
    />
  );
}
