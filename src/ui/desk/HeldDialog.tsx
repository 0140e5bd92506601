'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import type { FoundHeld, FoundHelds } from '@/server/desk/held-texts';
import { api } from '../api';
import { number, plural } from '../format';
import { Failed, Loading } from '../kit/Blank';
import { useAction } from '../queries';

const idOf = ({ archive, path, offset }: FoundHeld): string => `${archive}\0${path}\0${offset}`;

/** Texts that the programs of the game keep, to be put on the desk among the others. */
export function HeldDialog({ path, onClose }: { path: string; onClose: () => void }) {
  const [search, setSearch] = useState('');
  const [picked, setPicked] = useState<ReadonlyMap<string, FoundHeld>>(new Map());
  const asked = useDeferredValue(search);
  const { data, error, refetch } = useQuery({
    queryKey: ['desk-held', path, asked],
    queryFn: () => api.get<FoundHelds>(`${path}/held?${new URLSearchParams({ search: asked }).toString()}`),
    placeholderData: keepPreviousData,
    gcTime: 0,
  });
  const put = useAction(
    ({ texts, isOn }: { texts: readonly FoundHeld[]; isOn: boolean }) =>
      api.post(`${path}/held`, {
        places: texts.map(({ archive, path: of, offset }) => ({ archive, path: of, offset })),
        isOn,
      }),
    () => {
      setPicked(new Map());
      void refetch();
    },
  );
  const pick = (texts: readonly FoundHeld[], isPicked: boolean): void =>
    setPicked((now) => {
      const next = new Map(now);
      for (const one of texts)
        if (isPicked) next.set(idOf(one), one);
        else next.delete(idOf(one));
      return next;
    });
  const texts = data?.texts ?? [];
  const chosen = [...picked.values()];
  const off = chosen.filter(({ isOn }) => !isOn);
  const on = chosen.filter(({ isOn }) => isOn);
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>Texts of programs</DialogTitle>
      <DialogContent>
        <Box sx={{ color: 'ink2', fontSize: 13, mb: 1.5 }}>
          Some games keep texts in their program. Search for one that you saw in the game; what is put on the
          desk becomes a line with the room that it has there.
        </Box>
        <TextField
          autoFocus
          fullWidth
          size="small"
          label="A text of the game"
          value={search}
          onChange={({ target }) => setSearch(target.value)}
          sx={{ mt: 0.5 }}
        />
        {error && <Failed error={error} />}
        {!data && !error && <Loading what="Looking through the programs" />}
        {data && (
          <Box role="status" sx={{ my: 1, fontSize: 13, color: 'ink2' }}>
            {data.programs.length === 0
              ? 'No program is known in this game. Say of its file that it is one: Contents, the file, Say otherwise.'
              : `${number(data.total)} ${data.total === 1 ? 'text' : 'texts'} in ${plural(data.programs.length, 'program')}${
                  texts.length < data.total
                    ? `, the first ${number(texts.length)} are listed; search to narrow them`
                    : ''
                }`}
          </Box>
        )}
        {texts.length > 0 && (
          <Box sx={{ display: 'flex', alignItems: 'center', borderBottom: 1, borderColor: 'line' }}>
            <Checkbox
              size="small"
              slotProps={{ input: { 'aria-label': 'All that are listed' } }}
              checked={texts.every((one) => picked.has(idOf(one)))}
              indeterminate={chosen.length > 0 && !texts.every((one) => picked.has(idOf(one)))}
              onChange={(_, isPicked) => pick(texts, isPicked)}
            />
            <Box sx={{ fontSize: 13 }}>All that are listed</Box>
          </Box>
        )}
        <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0, maxHeight: '42vh', overflow: 'auto' }}>
          {texts.map((one) => (
            <Box
              component="li"
              key={idOf(one)}
              sx={{ display: 'flex', alignItems: 'flex-start', borderBottom: 1, borderColor: 'line' }}
            >
              <Checkbox
                size="small"
                checked={picked.has(idOf(one))}
                onChange={(_, isPicked) => pick([one], isPicked)}
                slotProps={{ input: { 'aria-label': one.text.slice(0, 80) } }}
              />
              <Box sx={{ py: 0.75, minWidth: 0, flex: 1 }}>
                <Box dir="auto" sx={{ overflowWrap: 'anywhere', fontSize: 14 }}>
                  {one.text}
                </Box>
                <Box sx={{ color: 'ink2', fontSize: 12.5, overflowWrap: 'anywhere' }}>
                  {one.path} at byte {number(one.offset)}, room for {number(one.room)} bytes
                  {one.encoding === 'utf-16le' && ', wide letters'}
                  {one.isOn && (
                    <Box component="b" sx={{ ml: 1 }}>
                      on the desk
                    </Box>
                  )}
                </Box>
              </Box>
            </Box>
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        {on.length > 0 && (
          <Button loading={put.isPending} onClick={() => put.mutate({ texts: on, isOn: false })}>
            Take {number(on.length)} off the desk
          </Button>
        )}
        <Button onClick={onClose}>Close</Button>
        <Button
          variant="contained"
          disabled={off.length === 0}
          loading={put.isPending}
          onClick={() => put.mutate({ texts: off, isOn: true })}
        >
          {off.length === 0 ? 'Put on the desk' : `Put ${number(off.length)} on the desk`}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
