'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { PageLink } from '../kit/PageLink';
import { useState, type ReactNode } from 'react';
import type { LeftSheet } from '@/server/mods/related';
import type { ChangeView } from '@/server/mods/mods';
import { api } from '../api';
import { CompareChange } from '../compare/CompareDialog';
import { bytes, nameOf } from '../format';
import { Facts } from '../kit/Facts';
import { StateMark } from '../kit/StateMark';
import { tellWith } from '../kit/tell-with';
import { useAction } from '../queries';
import { BeforeAfter } from './BeforeAfter';
import { ChangeWords } from './ChangeWords';
import { FIT_TONES } from './fit-tones';
import { OneSide } from './OneSide';

/** A change: before and after, how it fits, and what can be done about it. */
export function ChangeSide({ gameId, modId, change }: { gameId: number; modId: number; change: ChangeView }) {
  const base = `games/${gameId}/mods/${modId}/changes`;
  const [comparing, setComparing] = useState(false);
  const mend = useAction((name: string) => api.post(`${base}/${change.id}`, { mend: name }));
  const share = useAction((left: LeftSheet) =>
    api.post(`${base}/${change.id}`, { share: { archiveId: left.archiveId, index: left.index } }),
  );
  const undo = useAction(() => api.post(`games/${gameId}/mods/${modId}/history`, { direction: 'undo' }));
  const remove = useAction(
    () => api.remove(`${base}/${change.id}`),
    () => tellWith(`${nameOf(change.path)} is as it was.`, 'Undo', () => undo.mutate(undefined)),
  );
  return (
    <>
      <Typography className="mono" sx={{ fontWeight: 700, overflowWrap: 'anywhere', mb: 1, fontSize: 14 }}>
        {nameOf(change.path)}
      </Typography>
      {change.action === 'replace' ? (
        <>
          <BeforeAfter gameId={gameId} modId={modId} change={change} />
          <ChangeWords gameId={gameId} modId={modId} change={change} />
        </>
      ) : (
        <OneSide gameId={gameId} modId={modId} change={change} />
      )}
      <Box sx={{ my: 2 }}>
        {change.findings.map((finding) => (
          <Box key={finding.what} sx={{ py: 1, borderBottom: 1, borderColor: 'line' }}>
            <StateMark tone={FIT_TONES[finding.state]}>{finding.state}</StateMark>
            <Box sx={{ mt: 0.5, fontWeight: 600, overflowWrap: 'anywhere' }}>{finding.what}</Box>
            <Box sx={{ color: 'ink2', fontSize: 13 }}>{finding.why}.</Box>
            {finding.mends.map(({ name, label }, i) => (
              <Button
                key={name}
                sx={{ mt: 1, mr: 1 }}
                variant={i === 0 ? 'contained' : 'outlined'}
                loading={mend.isPending}
                onClick={() => mend.mutate(name)}
              >
                {label}
              </Button>
            ))}
          </Box>
        ))}
        {change.left
          .filter(({ isHalf }) => isHalf)
          .map((left) => (
            <Button
              key={left.path}
              sx={{ mt: 1, mr: 1 }}
              variant="outlined"
              loading={share.isPending}
              onClick={() => share.mutate(left)}
            >
              Give {nameOf(left.path)} the same picture
            </Button>
          ))}
      </Box>
      <ChangeNote key={change.id} url={`${base}/${change.id}`} note={change.note} />
      <Facts
        rows={[
          ...(change.action === 'remove' ? [] : givenRows(change)),
          [
            'Archive',
            <span key="archive" className="mono">
              {change.archive}
            </span>,
          ],
        ]}
      />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, mt: 2 }}>
        {change.archiveId !== null && change.index >= 0 && (
          <Button
            component={PageLink}
            variant="outlined"
            href={`/games/${gameId}/contents?entry=${change.archiveId}:${change.index}`}
          >
            Show the slot
          </Button>
        )}
        {change.action === 'replace' && change.preparedSize !== null && (
          <Button variant="outlined" onClick={() => setComparing(true)}>
            Old and new bytes
          </Button>
        )}
        <Button sx={{ color: 'bad' }} onClick={() => remove.mutate(undefined)}>
          {change.action === 'remove' ? 'Leave it in' : 'Take out'}
        </Button>
      </Box>
      {comparing && (
        <CompareChange gameId={gameId} modId={modId} change={change} onClose={() => setComparing(false)} />
      )}
    </>
  );
}

function givenRows(change: ChangeView): [string, ReactNode][] {
  return [
    [
      'Given',
      <span key="given" className="mono">
        {change.givenName}
      </span>,
    ],
    [
      'Size',
      `${bytes(change.givenSize)} given, ${change.preparedSize === null ? 'not made ready' : `${bytes(change.preparedSize)} made ready`}`,
    ],
  ];
}

/** A note for oneself, kept when the field is left. */
function ChangeNote({ url, note }: { url: string; note: string }) {
  // What is not written over shows the note as it is kept, which may come a moment after this is shown.
  const [written, setText] = useState<string>();
  const text = written ?? note;
  const save = useAction(() => api.patch(url, { note: text }));
  return (
    <TextField
      fullWidth
      multiline
      size="small"
      label="Note"
      placeholder="Which scene shows it, what is still to do"
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => text !== note && save.mutate(undefined)}
      sx={{ mb: 2 }}
    />
  );
}
