'use client';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import InputBase from '@mui/material/InputBase';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { HeldText } from '@/media/film/core/program-texts';
import type { Subtitle } from '@/media/film/core/subtitles';
import type { FoundTexts, TextPlace } from '@/server/films/program-texts';
import { api } from '@/ui/api';
import { useAction } from '@/ui/queries';
import { placeIn } from './film-address';

interface Props {
  readonly gameId: number;
  readonly filmKey: string;
  readonly modId: number | undefined;
  readonly onSeek: (seconds: number) => void;
  /** Those that say when they are shown, once they are found. */
  readonly onFound: (lines: readonly Subtitle[]) => void;
}

const LEAST = 3;
/** By a part of a text, or where one was found. */
type Asked = { readonly text: string } | TextPlace;

/** Texts of a film that a program keeps: found by a part of one, and changed where they lie. */
export function ProgramTexts({ gameId, filmKey, modId, onSeek, onFound }: Props) {
  const [written, setWritten] = useState('');
  const [asked, setAsked] = useState<Asked>({ text: '' });
  const base = `games/${gameId}/films/${filmKey}/program-texts`;
  const query = new URLSearchParams({
    ...Object.fromEntries(Object.entries(asked).map(([name, value]) => [name, String(value)])),
    ...(modId !== undefined && { mod: String(modId) }),
  });
  const { data, error, isFetching } = useQuery({
    queryKey: ['film-program-texts', gameId, filmKey, query.toString()],
    enabled: !('text' in asked) || asked.text.length >= LEAST,
    queryFn: () => api.get<FoundTexts[]>(`${base}?${query}`),
    placeholderData: (before) => ('text' in asked ? undefined : before),
    retry: false,
  });
  useEffect(() => onFound((data ?? []).flatMap(({ texts }) => texts.flatMap(timed))), [data, onFound]);
  const put = useAction(({ place, text }: { place: TextPlace; text: string }) =>
    api.patch(base, { mod: modId, ...place, text }),
  );
  return (
    <Box component="section" aria-label="Texts in a program" sx={{ mt: 2 }}>
      <Typography variant="h2">Texts in a program</Typography>
      <Box
        component="form"
        sx={{ display: 'flex', gap: 1, my: 1 }}
        onSubmit={(event) => {
          event.preventDefault();
          setAsked({ text: written.trim() });
        }}
      >
        <TextField
          size="small"
          fullWidth
          label="Part of a text that is shown"
          value={written}
          onChange={({ target }) => setWritten(target.value)}
        />
        <Button type="submit" loading={isFetching} disabled={written.trim().length < LEAST}>
          Look
        </Button>
      </Box>
      {error && <Alert severity="error">{error.message}</Alert>}
      {data?.length === 0 && <Box sx={{ color: 'ink2', fontSize: 13 }}>No program of the game has it.</Box>}
      {data?.map((found) => (
        <Box key={`${found.archiveId} ${found.index}`}>
          <Box className="mono" sx={{ fontWeight: 600, fontSize: 13, mt: 1 }}>
            {found.path}
          </Box>
          {found.texts.map((held) => (
            <OneText
              key={`${held.offset} ${held.text}`}
              held={held}
              isFixed={modId === undefined}
              onSeek={onSeek}
              onKeep={(text) => {
                const { archiveId, index } = found;
                const place: TextPlace = { archiveId, index, offset: held.offset, encoding: held.encoding };
                // What was looked for may be what is changed; its place stays.
                setAsked(place);
                put.mutate({ place, text });
              }}
            />
          ))}
        </Box>
      ))}
    </Box>
  );
}

const timed = ({ from, to, text }: HeldText): Subtitle[] =>
  from === undefined || to === undefined || text === '' ? [] : [{ from, to, text }];

const bytesOf = (text: string, { encoding }: HeldText): number =>
  encoding === 'utf-8' ? new TextEncoder().encode(text).length : 2 * text.length;

function OneText({
  held,
  isFixed,
  onSeek,
  onKeep,
}: {
  held: HeldText;
  isFixed: boolean;
  onSeek: Props['onSeek'];
  onKeep: (text: string) => void;
}) {
  const [text, setText] = useState(held.text);
  const missing = bytesOf(text, held) - held.room;
  const { from, to } = held;
  const label =
    from === undefined ? `Text at byte ${held.offset}` : `Text of the program at ${placeIn(from)}`;
  return (
    <Box sx={{ py: 0.5, borderBottom: 1, borderColor: 'line', fontSize: 13 }}>
      <Box sx={{ display: 'flex', color: 'ink2', fontSize: 11.5 }}>
        <Box
          component="button"
          className="mono"
          disabled={from === undefined}
          onClick={() => onSeek(from!)}
          sx={{
            all: 'unset',
            flex: 1,
            cursor: 'pointer',
            '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
          }}
        >
          {from === undefined ? `byte ${held.offset}` : `${placeIn(from)} to ${placeIn(to!)}`}
        </Box>
        <Box sx={{ color: missing > 0 ? 'bad' : 'ink2' }}>
          {missing > 0 ? `${missing} bytes too long` : `${bytesOf(text, held)} of ${held.room} bytes`}
        </Box>
      </Box>
      <InputBase
        fullWidth
        multiline
        readOnly={isFixed}
        value={text}
        placeholder="silent"
        onChange={({ target }) => setText(target.value)}
        onBlur={() => (missing > 0 ? undefined : text !== held.text && onKeep(text))}
        onKeyDown={(event) => {
          if (event.key === 'Escape') setText(held.text);
          if (event.key === 'Enter') {
            event.preventDefault();
            (event.target as HTMLElement).blur();
          }
        }}
        inputProps={{ 'aria-label': label }}
        sx={{ fontSize: 13, py: 0.25 }}
      />
    </Box>
  );
}
