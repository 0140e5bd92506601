'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Tooltip from '@mui/material/Tooltip';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { LinkView, ReadingOverview } from '@/server/reading/reading-view';
import type { MeaningWritten } from '@/server/reading/write-meaning';
import { api } from '../api';
import { nameOf, number } from '../format';
import { StateMark } from '../kit/StateMark';
import { tellWith } from '../kit/tell-with';
import { useAction } from '../queries';

const ORDER = ['likely', 'said', 'words', 'found', 'refused'] as const;
const TITLES: Readonly<Record<(typeof ORDER)[number], string>> = {
  likely: 'likely, not followed',
  said: 'said here',
  words: 'by words or a script',
  found: 'found',
  refused: 'said to be none',
};

/** Which fields mean rows of which table: as it was found, with how sure that is, and as somebody says. */
export function LinksDialog({
  gameId,
  overview,
  onClose,
}: {
  gameId: number;
  overview: ReadingOverview;
  onClose: () => void;
}) {
  const say = useAction((link: object) => api.post(`games/${gameId}/reading/links`, link));
  const router = useRouter();
  const write = useAction(
    (link: { table: string; field: string }) =>
      api.post<MeaningWritten>(`games/${gameId}/reading/links`, { ...link, isWritten: true }),
    ({ title, version, isCopy, script }, { field }) =>
      tellWith(
        `What ${field} means stands in ${isCopy ? `a script of your own, made of ${title}` : `${title}, version ${version}`}.`,
        'Look at it',
        () => router.push(`/scripts?script=${encodeURIComponent(script)}`),
      ),
  );
  const links = [...overview.links].sort((a, b) => ORDER.indexOf(a.source) - ORDER.indexOf(b.source));
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>What points where</DialogTitle>
      <DialogContent>
        <Box sx={{ color: 'ink2', fontSize: 13, mb: 1.5 }}>
          A field means rows of a table where its values are what these are called by, more often than other
          numbers of the game are by chance.
        </Box>
        <Box sx={{ maxHeight: '46vh', overflow: 'auto' }}>
          {links.map((link) => (
            <LinkRow
              key={`${link.table} ${link.field}`}
              link={link}
              isBusy={say.isPending || write.isPending}
              onWrite={() => write.mutate({ table: link.table, field: link.field })}
              onSay={(what) => say.mutate({ table: link.table, field: link.field, ...what })}
            />
          ))}
          {links.length === 0 && (
            <Box sx={{ py: 2, color: 'ink2' }}>
              No field was found to mean rows of a table. Say one below.
            </Box>
          )}
        </Box>
        <SayLink {...{ overview }} isBusy={say.isPending} onSay={(link) => say.mutate(link)} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

function LinkRow({
  link,
  isBusy,
  onWrite,
  onSay,
}: {
  link: LinkView;
  isBusy: boolean;
  onWrite: () => void;
  onSay: (what: object) => void;
}) {
  const { table, field, to, by, values, hits, chance, source, nowhere, script } = link;
  return (
    <Box
      sx={{
        ...{ display: 'grid', gridTemplateColumns: 'minmax(0,1fr) auto', gap: 1, alignItems: 'center' },
        ...{ py: 0.6, borderBottom: 1, borderColor: 'line', fontSize: 14 },
      }}
    >
      <Box sx={{ overflowWrap: 'anywhere' }}>
        <b>{field}</b> of {nameOf(table)} → {nameOf(to)}, by {by}
        <Box sx={{ fontSize: 12.5, color: 'ink2' }}>
          {values > 0 &&
            `${number(hits)} of ${number(values)} values, ${number(Math.round(chance * 100))} % of other numbers by chance`}
          {nowhere > 0 && (
            <Box component="span" sx={{ color: 'look' }}>
              {values > 0 ? '; ' : ''}
              {number(nowhere)} go nowhere
            </Box>
          )}
        </Box>
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <StateMark tone={source === 'likely' ? 'look' : source === 'refused' ? 'lock' : 'good'}>
          {TITLES[source]}
        </StateMark>
        {source === 'likely' && (
          <Button size="small" disabled={isBusy} onClick={() => onSay({ to, by })}>
            Follow it
          </Button>
        )}
        {script !== null && (
          <Tooltip
            describeChild
            title={`${script} reads this table. What the field means is then known in every table that it reads, in this game and others.`}
          >
            <Button size="small" disabled={isBusy} onClick={onWrite}>
              Write into the script
            </Button>
          </Tooltip>
        )}
        {(source === 'found' || source === 'likely') && (
          <Button size="small" disabled={isBusy} onClick={() => onSay({ to: null })}>
            It is none
          </Button>
        )}
        {(source === 'said' || source === 'refused') && (
          <Button size="small" disabled={isBusy} onClick={() => onSay({ isForgotten: true })}>
            Take back
          </Button>
        )}
      </Box>
    </Box>
  );
}

function SayLink({
  overview: { tables },
  isBusy,
  onSay,
}: {
  overview: ReadingOverview;
  isBusy: boolean;
  onSay: (link: { table: string; field: string; to: string; by: string }) => void;
}) {
  const [said, setSaid] = useState({ table: '', field: '', to: '', by: '' });
  const of = tables.find(({ id }) => id === said.table);
  const target = tables.find(({ id }) => id === said.to);
  const withKeys = tables.filter(({ keys }) => keys.length > 0);
  const isWhole = Object.values(said).every((one) => one !== '');
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, mt: 2, alignItems: 'center' }}>
      <Choice
        label="Table"
        value={said.table}
        choices={tables.map(({ id }) => id)}
        onChoose={(table) => setSaid({ ...said, table, field: '' })}
      />
      <Choice
        label="Field"
        value={said.field}
        choices={of?.fields ?? []}
        onChoose={(field) => setSaid({ ...said, field })}
      />
      <Choice
        label="Means rows of"
        value={said.to}
        choices={withKeys.map(({ id }) => id)}
        onChoose={(to) => setSaid({ ...said, to, by: tables.find(({ id }) => id === to)?.keys[0] ?? '' })}
      />
      <Choice
        label="By"
        value={said.by}
        choices={target?.keys ?? []}
        onChoose={(by) => setSaid({ ...said, by })}
      />
      <Button
        variant="outlined"
        disabled={!isWhole || isBusy}
        onClick={() => {
          onSay(said);
          setSaid({ table: '', field: '', to: '', by: '' });
        }}
      >
        Say so
      </Button>
    </Box>
  );
}

function Choice({
  label,
  value,
  choices,
  onChoose,
}: {
  label: string;
  value: string;
  choices: readonly string[];
  onChoose: (value: string) => void;
}) {
  return (
    <TextField
      select
      size="small"
      label={label}
      value={value}
      onChange={({ target }) => onChoose(target.value)}
      sx={{ minWidth: 130, flex: 1 }}
    >
      {choices.map((one) => (
        <MenuItem key={one} value={one}>
          {one}
        </MenuItem>
      ))}
    </TextField>
  );
}
