import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import InputBase from '@mui/material/InputBase';
import Slider from '@mui/material/Slider';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { subtitleFaults } from '@/media/film/core/subtitles';
import type { MarkChange } from '@/server/films/put-marks';
import type { FilmView } from '@/server/films/film-view';
import { api } from '@/ui/api';
import { useAction } from '@/ui/queries';
import { placeIn } from './film-address';

interface Props {
  readonly gameId: number;
  readonly filmKey: string;
  readonly film: FilmView;
  readonly modId: number;
  /** The language whose texts are moved. */
  readonly language: string;
  readonly at: number;
  readonly onSeek: (seconds: number) => void;
}

/** More than so many on a line cannot be told apart: then only those around the place in the film are shown. */
const MOST_AT_ONCE = 24;
const AROUND_SECONDS = 20;
const STEP = 0.01;
/** A text that is added is shown for so long, and says this until it is written. */
const NEW_SECONDS = 2;
const NEW_TEXT = '…';
/** Closer places are one. */
const SAME = 0.0005;

/** The stretch of a film that is shown at once. */
function stretchOf(count: number, at: number, seconds: number): readonly [number, number] {
  if (count <= MOST_AT_ONCE) return [0, seconds];
  const from = Math.max(0, Math.min(at - AROUND_SECONDS, seconds - 2 * AROUND_SECONDS));
  return [from, Math.min(seconds, from + 2 * AROUND_SECONDS)];
}

/** Marks of a film, and when its texts are shown: moved with the pointer or the arrow keys, named, added, taken out. */
export function FilmTimeLine({ gameId, filmKey, film, modId, language, at, onSeek }: Props) {
  const put = useAction((change: MarkChange) =>
    api.patch(`games/${gameId}/films/${filmKey}/marks`, { mod: modId, ...change }),
  );
  const add = useAction((text: string) =>
    api.putJson<{ key: string }>(`games/${gameId}/films/${filmKey}/texts`, {
      ...{ mod: modId, from: at, to: Math.min(at + NEW_SECONDS, Math.max(seconds, at + STEP)), text },
    }),
  );
  const { marks, texts, seconds } = film;
  const own = texts.find((one) => one.language === language) ?? texts[0];
  const lines = own?.lines ?? [];
  const [from, to] = stretchOf(Math.max(marks.length, 2 * lines.length), at, seconds);
  const isIn = (place: number): boolean => place >= from && place <= to;
  const marksHere = marks.filter((mark) => isIn(mark.seconds));
  const linesHere = lines.filter((line) => isIn(line.from) && isIn(line.to));
  const faulty = new Set(subtitleFaults(lines, seconds).map(({ at: number }) => lines[number]));
  const [chosen, setChosen] = useState<number>();
  const mark = chosen === undefined ? undefined : marks.find((one) => Math.abs(one.seconds - chosen) < SAME);
  const limits = { min: from, max: Math.max(to, from + STEP), step: STEP };
  return (
    <Box component="section" aria-label="Time line" sx={{ mb: 1 }}>
      <Lane>
        <Places
          {...limits}
          label={(i) => `Mark ${marksHere[i]?.text}`}
          values={marksHere.map((one) => one.seconds)}
          onChoose={(i) => setChosen(marksHere[i]?.seconds)}
          onKeep={(values, i) => {
            const was = marksHere[i]!;
            setChosen(values[i]);
            put.mutate({ was, now: { seconds: values[i]!, text: was.text } });
          }}
        />
      </Lane>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, minHeight: 34 }}>
        <Button size="small" onClick={() => put.mutate({ was: null, now: { seconds: at, text: 'mark' } })}>
          Mark this place
        </Button>
        {texts.length > 0 && (
          <Button size="small" loading={add.isPending} onClick={() => add.mutate(NEW_TEXT)}>
            Text from here
          </Button>
        )}
        {mark && (
          <>
            <Box className="mono" sx={{ fontSize: 12.5, color: 'ink2' }}>
              {placeIn(mark.seconds)}
            </Box>
            <MarkName
              key={`${mark.seconds} ${mark.text}`}
              text={mark.text}
              onKeep={(text) => put.mutate({ was: mark, now: { ...mark, text } })}
            />
            <Button size="small" onClick={() => onSeek(mark.seconds)}>
              Show
            </Button>
            <Button size="small" onClick={() => put.mutate({ was: mark, now: null })}>
              Take it out
            </Button>
          </>
        )}
      </Box>
      {linesHere.length > 0 && (
        <Lane>
          {linesHere.map((line) => (
            <Box
              key={`${line.key} ${line.from}`}
              title={line.text}
              sx={{
                position: 'absolute',
                left: `${(100 * (line.from - from)) / (limits.max - from)}%`,
                width: `${(100 * (line.to - line.from)) / (limits.max - from)}%`,
                top: 3,
                height: 20,
                borderRadius: 0.5,
                bgcolor: faulty.has(line) ? 'lookBack' : 'tint',
                color: faulty.has(line) ? 'look' : 'text.primary',
                fontSize: 11.5,
                lineHeight: '20px',
                px: 1,
                overflow: 'hidden',
                whiteSpace: 'nowrap',
                textOverflow: 'ellipsis',
              }}
            >
              {line.text}
            </Box>
          ))}
          <Places
            {...limits}
            hasRail={false}
            label={(i) => `${i % 2 === 0 ? 'Begin' : 'End'} of ${linesHere[i >> 1]?.text}`}
            values={linesHere.flatMap((line) => [line.from, line.to])}
            onChoose={(i) => onSeek(linesHere[i >> 1]!.from)}
            onKeep={(values, i) => {
              const line = linesHere[i >> 1]!;
              const [begins, ends] = [values[i & ~1]!, values[i | 1]!];
              if (ends > begins) put.mutate({ key: line.key, was: line.from, from: begins, to: ends });
            }}
          />
        </Lane>
      )}
      {put.error && <Box sx={{ color: 'bad', fontSize: 13 }}>{put.error.message}</Box>}
    </Box>
  );
}

const Lane = ({ children }: { children: ReactNode }) => (
  <Box sx={{ position: 'relative', height: 26, mx: 0.5 }}>{children}</Box>
);

/** Keys move a place step by step; it is kept once they rest. */
const REST_MS = 600;

/** Several places on one line; each is moved by itself, and kept once it is let go. */
function Places({
  values,
  label,
  onChoose,
  onKeep,
  hasRail = true,
  ...limits
}: {
  hasRail?: boolean;
  values: readonly number[];
  label: (index: number) => string;
  onChoose: (index: number) => void;
  onKeep: (values: readonly number[], index: number) => void;
  min: number;
  max: number;
  step: number;
}) {
  const [moved, setMoved] = useState<readonly number[]>();
  // What the server says counts, once it does.
  const said = values.join();
  const [before, setBefore] = useState(said);
  if (said !== before) {
    setBefore(said);
    setMoved(undefined);
  }
  const waits = useRef<{ timer: number; places: readonly number[]; index: number }>(undefined);
  /** The one that is moved; others may be on their way to the server, and differ as well. */
  const active = useRef(0);
  const latest = useRef(onKeep);
  useEffect(() => {
    latest.current = onKeep;
  });
  const keepNow = (): void => {
    const last = waits.current;
    waits.current = undefined;
    if (!last) return;
    window.clearTimeout(last.timer);
    latest.current(last.places, last.index);
  };
  if (values.length === 0) return null;
  return (
    <Slider
      size="small"
      track={false}
      disableSwap
      {...limits}
      value={[...(moved ?? values)]}
      getAriaLabel={label}
      valueLabelDisplay="auto"
      valueLabelFormat={placeIn}
      onFocus={({ target }) => onChoose(Number(target.dataset.index))}
      onChange={(_event, next, index) => {
        active.current = index;
        setMoved(next);
      }}
      onChangeCommitted={(event, next) => {
        const index = active.current;
        window.clearTimeout(waits.current?.timer);
        waits.current = undefined;
        if ((next as number[])[index] === values[index]) return;
        // Steps of a hundredth add up to a little more or less.
        const places = (next as number[]).map((place) => Math.round(place * 1000) / 1000);
        const isByPointer = /^(?:mouse|touch|pointer)/.test(event.type);
        waits.current = { places, index, timer: window.setTimeout(keepNow, isByPointer ? 0 : REST_MS) };
      }}
      onBlur={keepNow}
      sx={{
        ...{ position: 'absolute', inset: 0, py: '12px', display: 'block' },
        '& .MuiSlider-rail': { opacity: hasRail ? undefined : 0 },
      }}
    />
  );
}

/** What a mark is called; kept once it is left, Escape takes it back. */
function MarkName({ text, onKeep }: { text: string; onKeep: (text: string) => void }) {
  const [written, setWritten] = useState(text);
  return (
    <InputBase
      value={written}
      onChange={({ target }) => setWritten(target.value)}
      onBlur={() => written !== text && onKeep(written)}
      onKeyDown={(event) => {
        if (event.key === 'Escape') setWritten(text);
        if (event.key === 'Enter') (event.target as HTMLElement).blur();
      }}
      inputProps={{ 'aria-label': 'Name of the mark', maxLength: 400 }}
      sx={{ fontSize: 13, border: 1, borderColor: 'line', borderRadius: 0.5, px: 1, width: 180 }}
    />
  );
}
