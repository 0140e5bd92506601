'use client';
import Autocomplete from '@mui/material/Autocomplete';
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import type { EntryDetail } from '@/server/looking/preview';
import { api } from '../api';
import { useAction } from '../queries';

/** What the user says of an entry: a readable name, tags, a note. They go by path and outlive updates. */
export function EntryMarks({ gameId, data }: { gameId: number; data: EntryDetail }) {
  const [alias, setAlias] = useState(data.alias);
  const [note, setNote] = useState(data.note);
  const { data: known = [] } = useQuery({
    queryKey: ['tags', gameId],
    queryFn: () => api.get<{ tag: string; count: number }[]>(`games/${gameId}/marks`),
  });
  const mark = useAction((change: object) =>
    api.post(`games/${gameId}/marks`, { paths: [data.path], ...change }),
  );
  const onTags = (tags: readonly string[]): void => {
    const words = tags.flatMap((tag) => tag.split(/[\s,":]+/)).filter(Boolean);
    mark.mutate({
      add: words.filter((tag) => !data.tags.includes(tag)),
      remove: data.tags.filter((tag) => !words.includes(tag)),
    });
  };
  const nameField = useRef<HTMLInputElement>(null);
  const tagField = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const [name, tag] = [(): void => nameField.current?.focus(), (): void => tagField.current?.focus()];
    window.addEventListener('zero-latch-name', name);
    window.addEventListener('zero-latch-tag', tag);
    return () => {
      window.removeEventListener('zero-latch-name', name);
      window.removeEventListener('zero-latch-tag', tag);
    };
  }, []);
  const leave = (event: React.KeyboardEvent): void => {
    // Keys are the list's again.
    if (event.key === 'Escape') (event.target as HTMLElement).blur();
  };
  return (
    <Box
      component="section"
      aria-label="Your notes"
      onKeyDown={leave}
      sx={{ mt: 2, display: 'grid', gap: 1.25 }}
    >
      <TextField
        label="Name for people"
        inputRef={nameField}
        value={alias}
        onChange={({ target }) => setAlias(target.value)}
        onBlur={() => alias !== data.alias && mark.mutate({ alias })}
        onKeyDown={(event) => event.key === 'Enter' && (event.target as HTMLElement).blur()}
      />
      <Autocomplete
        multiple
        freeSolo
        size="small"
        options={known.map(({ tag }) => tag)}
        value={[...data.tags]}
        onChange={(_event, value) => onTags(value)}
        renderInput={(params) => <TextField {...params} inputRef={tagField} label="Tags" />}
      />
      <TextField
        label="Note"
        multiline
        maxRows={6}
        value={note}
        onChange={({ target }) => setNote(target.value)}
        onBlur={() => note !== data.note && mark.mutate({ note })}
      />
    </Box>
  );
}
