'use client';
import RedoRounded from '@mui/icons-material/RedoRounded';
import UndoRounded from '@mui/icons-material/UndoRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Tooltip from '@mui/material/Tooltip';
import { useState, type Ref } from 'react';
import { SHOWN, type Shown } from '@/media/text/core/desk/pick-lines';
import type { DeskOverview } from '@/server/desk/desk-view';
import { number } from '../format';
import { TongueSelect } from './LinePanel';
import type { DeskView } from './desk-state';

const TITLES: Record<Shown, string> = {
  all: 'All lines',
  empty: 'Nothing yet',
  changed: 'Changed',
  failing: 'Failing',
  'to look at': 'To look at',
  same: 'Same as source',
  draft: 'Draft',
  done: 'Done',
  reviewed: 'Reviewed',
};
const ORDERS = [
  ['game', 'As in the game'],
  ['key', 'By key'],
  ['source', 'By source'],
  ['target', 'By text'],
  ['length', 'By length'],
  ['changed', 'Last changed'],
] as const;

export type DeskAsks =
  'replace' | 'out and in' | 'tongue' | 'terms' | 'held' | 'progress' | 'fill' | 'put back' | 'done';

interface Props {
  readonly overview: DeskOverview;
  readonly view: DeskView;
  readonly total: number;
  readonly name: string;
  readonly searchField: Ref<HTMLInputElement>;
  readonly isPutting: boolean;
  readonly onName: (name: string) => void;
  readonly onView: (change: Partial<DeskView>) => void;
  readonly onAsk: (what: DeskAsks) => void;
  readonly onStep: (direction: 'undo' | 'redo') => void;
  readonly onPut: () => void;
}

/** What is worked on, what of it is listed, and what is done with it. */
export function DeskBar({ overview, view, total, name, searchField, isPutting, ...on }: Props) {
  const { tongues, chosen, counts, history } = overview;
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  // What is chosen stands at once; the lines follow.
  const [beside, setBeside] = useState<readonly string[]>(chosen.others);
  const ask = (what: DeskAsks): void => {
    setMenu(null);
    on.onAsk(what);
  };
  const countOf: Partial<Record<Shown, number>> = {
    ...{ all: overview.lines, empty: counts.empty, changed: counts.changed, failing: counts.failing },
    ...{ 'to look at': counts.look, done: counts.done - counts.reviewed, reviewed: counts.reviewed },
  };
  const further = tongues.filter(
    ({ tongue }) => tongue !== chosen.source && tongue !== chosen.target && tongue !== '',
  );
  const shownBeside = beside.filter((one) => further.some(({ tongue }) => tongue === one));
  return (
    <Box sx={{ px: 1.5, pt: 1.25, pb: 0.75, borderBottom: 1, borderColor: 'line', bgcolor: 'panel' }}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center' }}>
        <TongueSelect
          label="From"
          value={chosen.source}
          tongues={tongues}
          onChoose={(source) => on.onView({ source, line: '' })}
        />
        <TongueSelect
          label="Into"
          value={chosen.target}
          tongues={tongues}
          onChoose={(target) => on.onView({ target, line: '' })}
        />
        {further.length > 0 && (
          <TextField
            select
            size="small"
            label="Beside"
            value={shownBeside}
            onChange={({ target }) => {
              const now = [target.value].flat();
              setBeside(now);
              on.onView({ others: now.join() });
            }}
            slotProps={{
              select: {
                multiple: true,
                displayEmpty: true,
                renderValue: () =>
                  shownBeside
                    .map((code) => tongues.find(({ tongue }) => tongue === code)?.name ?? code)
                    .join(', ') || 'No other',
              },
              inputLabel: { shrink: true },
            }}
            sx={{ minWidth: 110, maxWidth: 180 }}
          >
            {further.map(({ tongue, name: title }) => (
              <MenuItem key={tongue} value={tongue}>
                {title}
              </MenuItem>
            ))}
          </TextField>
        )}
        <TextField
          select
          size="small"
          label="Shown"
          value={view.shown || 'all'}
          onChange={(event) =>
            on.onView({ shown: event.target.value === 'all' ? '' : event.target.value, line: '' })
          }
          sx={{ minWidth: 150 }}
        >
          {SHOWN.map((one) => (
            <MenuItem key={one} value={one}>
              {TITLES[one]}
              {countOf[one] !== undefined ? `, ${number(countOf[one])}` : ''}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          size="small"
          label="Find in keys and texts"
          inputRef={searchField}
          value={view.text}
          onChange={(event) => on.onView({ text: event.target.value, line: '' })}
          sx={{ flex: 1, minWidth: 160 }}
        />
        <Tooltip title={history.undo ? `Undo ${history.undo}` : 'Nothing to undo'}>
          <span>
            <IconButton
              size="small"
              aria-label="Undo"
              disabled={!history.undo}
              onClick={() => on.onStep('undo')}
            >
              <UndoRounded fontSize="small" />
            </IconButton>
          </span>
        </Tooltip>
        <Tooltip title={history.redo ? `Do ${history.redo} again` : 'Nothing to do again'}>
          <span>
            <IconButton
              size="small"
              aria-label="Do again"
              disabled={!history.redo}
              onClick={() => on.onStep('redo')}
            >
              <RedoRounded fontSize="small" />
            </IconButton>
          </span>
        </Tooltip>
        <Button variant="outlined" onClick={() => ask('out and in')}>
          Out and in
        </Button>
        <Button variant="outlined" aria-haspopup="menu" onClick={(event) => setMenu(event.currentTarget)}>
          More
        </Button>
        <Button variant="contained" loading={isPutting} onClick={on.onPut}>
          Put into the mod
        </Button>
      </Box>
      <Box
        sx={{
          display: 'flex',
          gap: 2,
          mt: 0.75,
          fontSize: 13,
          color: 'ink2',
          alignItems: 'center',
          flexWrap: 'wrap',
        }}
      >
        <span role="status" aria-label="Lines listed">
          {number(total)} of {number(overview.lines)} lines
        </span>
        <span>{number(counts.changed)} changed</span>
        <span>{number(counts.done)} done</span>
        <Box component="span" sx={{ color: counts.failing > 0 ? 'bad' : undefined }}>
          {number(counts.failing)} failing
        </Box>
        {overview.checked < overview.lines && <span role="status">looking at the rest …</span>}
        <TextField
          select
          variant="standard"
          size="small"
          value={view.order || 'game'}
          slotProps={{ htmlInput: { 'aria-label': 'Order' } }}
          onChange={(event) =>
            on.onView({
              order: event.target.value === 'game' ? '' : event.target.value,
              backwards: event.target.value === 'changed' ? 'yes' : '',
            })
          }
          sx={{ '& .MuiInput-root': { fontSize: 13 } }}
        >
          {ORDERS.map(([order, title]) => (
            <MenuItem key={order} value={order}>
              {title}
            </MenuItem>
          ))}
        </TextField>
        <Box sx={{ flex: 1 }} />
        <TextField
          variant="standard"
          size="small"
          placeholder="Your name"
          defaultValue={name}
          key={name}
          onBlur={(event) => on.onName(event.target.value)}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === 'Enter') (event.target as HTMLElement).blur();
          }}
          slotProps={{ htmlInput: { 'aria-label': 'Your name', maxLength: 60 } }}
          sx={{ width: 120, '& input': { fontSize: 13 } }}
        />
      </Box>
      <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)}>
        <MenuItem onClick={() => ask('replace')}>Find and replace…</MenuItem>
        <MenuItem onClick={() => ask('terms')}>Glossary…</MenuItem>
        <MenuItem onClick={() => ask('held')}>Texts of programs…</MenuItem>
        <MenuItem onClick={() => ask('progress')}>Progress…</MenuItem>
        <MenuItem onClick={() => ask('tongue')}>A language that the game never had…</MenuItem>
        <MenuItem onClick={() => ask('done')}>Say done of all that are listed</MenuItem>
        <MenuItem onClick={() => ask('fill')}>Fill empty ones with the source</MenuItem>
        <MenuItem onClick={() => ask('put back')}>Put all that are listed back</MenuItem>
      </Menu>
    </Box>
  );
}
