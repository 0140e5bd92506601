'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Switch from '@mui/material/Switch';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { ModView } from '@/server/mods/mods';
import type { ReadingOverview } from '@/server/reading/reading-view';
import { HistoryButtons } from '../changes/HistoryButtons';
import { number, plural } from '../format';
import { PageLink } from '../kit/PageLink';
import type { ReadingView, SetView } from './reading-state';

const FORMS = [
  ['csv', 'CSV'],
  ['json', 'JSON'],
  ['xlsx', 'XLSX'],
] as const;

interface Props {
  readonly gameId: number;
  readonly mod: ModView | undefined;
  /** Whether the mod changes any table. */
  readonly isChanged: boolean;
  readonly view: ReadingView;
  readonly table: string;
  readonly of: ReadingOverview['tables'][number];
  readonly total: number;
  readonly onView: SetView;
}

/** Which table is read, what of it is listed, and taking it out. */
export function RowsBar({ gameId, mod, isChanged, view, table, of, total, onView }: Props) {
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [file] = of.files;
  return (
    <Box sx={{ px: 2.5, pt: 1.25, pb: 1, borderBottom: 1, borderColor: 'line', bgcolor: 'panel' }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap' }}>
        <Box component="h1" sx={{ m: 0, fontSize: 17, fontWeight: 700, overflowWrap: 'anywhere' }}>
          {table}
        </Box>
        <Box sx={{ color: 'ink2', fontSize: 13 }}>{of.form}</Box>
        <Box sx={{ flex: 1 }} />
        {mod && (isChanged || view.as === 'game') && (
          <FormControlLabel
            control={
              <Switch
                size="small"
                checked={view.as !== 'game'}
                onChange={(_, isOn) => onView({ as: isOn ? '' : 'game' })}
              />
            }
            label={`with ${mod.title}`}
            title={mod.title}
            slotProps={{ typography: { noWrap: true, sx: { fontSize: 13.5, maxWidth: 180 } } }}
          />
        )}
        {mod && view.as !== 'game' && (
          <Box sx={{ display: 'flex' }}>
            <HistoryButtons gameId={gameId} modId={mod.id} watched={false} />
          </Box>
        )}
        <TextField
          size="small"
          label="Find in the rows"
          value={view.text}
          onChange={({ target }) => onView({ text: target.value, table })}
          sx={{ minWidth: 180 }}
        />
        {of.isLevel && (
          <Button onClick={() => onView({ over: 'whole', spot: '' }, true)}>
            See how it is put together
          </Button>
        )}
        {of.hasVersions && <Button onClick={() => onView({ over: 'levels' })}>Other versions</Button>}
        {file && (
          <Button
            component={PageLink}
            href={`/games/${gameId}/contents?entry=${file.archiveId}:${file.index}`}
            title={file.path}
          >
            {of.files.length > 1 ? 'A file of it' : 'Its file'}
          </Button>
        )}
        <Button variant="outlined" aria-haspopup="menu" onClick={(event) => setMenu(event.currentTarget)}>
          Take out
        </Button>
        <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)}>
          {FORMS.map(([form, title]) => (
            <MenuItem
              key={form}
              component="a"
              href={`/api/games/${gameId}/reading/file?${new URLSearchParams({ table, form, ...(mod && view.as !== 'game' && { mod: String(mod.id) }) }).toString()}`}
              onClick={() => setMenu(null)}
            >
              as {title}
            </MenuItem>
          ))}
        </Menu>
      </Box>
      <Box role="status" aria-label="Rows listed" sx={{ fontSize: 13, color: 'ink2', mt: 0.5 }}>
        {view.text === '' ? plural(total, 'row') : `${number(total)} of ${number(of.rows)} rows`}
      </Box>
    </Box>
  );
}
