import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import ListItemIcon from '@mui/material/ListItemIcon';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Box from '@mui/material/Box';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useState } from 'react';
import { endingOf, KINDS, type Kind } from '@/core/kinds';
import type { EntryDetail } from '@/server/looking/preview';
import { api } from '../api';
import { nameOf } from '../format';
import { tellWith } from '../kit/tell-with';
import { useAction } from '../queries';
import { KindIcon } from './KindIcon';

type Scope = 'path' | 'ending';
interface Saying {
  readonly scope: Scope;
  readonly path: string;
  readonly kind: Kind | null;
}

/** What an entry is, and what the user says that it is, alone or with all that bear its ending. */
export function KindFact({ gameId, data }: { gameId: number; data: EntryDetail }) {
  const { path, kind, said } = data;
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [scope, setScope] = useState<Scope>('path');
  const ending = endingOf(path);
  const what = (wanted: Scope): string => (wanted === 'path' ? nameOf(path) : `.${ending}`);
  const send = (input: Saying): Promise<{ before: Kind | null }> => api.post(`games/${gameId}/kinds`, input);
  const undo = useAction(send);
  const say = useAction(send, ({ before }, done) => {
    const text = done.kind
      ? `${what(done.scope)} is ${done.kind} now.`
      : `${what(done.scope)} is what its bytes say.`;
    tellWith(text, 'Undo', () => undo.mutate({ ...done, kind: before }));
  });
  const choose = (chosen: Kind | null): void => {
    setAt(null);
    say.mutate({ scope, path, kind: chosen });
  };
  const own = said[scope];
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap' }}>
      <Box component="span">
        {kind}
        {(said.path ?? said.ending) !== null && (
          <Box component="span" sx={{ color: 'ink2' }}>
            , as you said of {said.path !== null ? 'it' : `all .${ending}`}
          </Box>
        )}
      </Box>
      <Button size="small" sx={{ py: 0, minWidth: 0 }} onClick={(event) => setAt(event.currentTarget)}>
        Say otherwise
      </Button>
      <Menu
        open={at !== null}
        anchorEl={at}
        onClose={() => setAt(null)}
        slotProps={{ list: { dense: true } }}
      >
        {ending !== '' && (
          <Box component="li" sx={{ px: 2, pb: 1 }}>
            <ToggleButtonGroup
              exclusive
              size="small"
              value={scope}
              aria-label="What it is said of"
              onChange={(_event, next: Scope | null) => next && setScope(next)}
            >
              <ToggleButton value="path">this file</ToggleButton>
              <ToggleButton value="ending">all .{ending}</ToggleButton>
            </ToggleButtonGroup>
          </Box>
        )}
        {KINDS.map((one) => (
          <MenuItem key={one} selected={one === (own ?? kind)} onClick={() => choose(one)}>
            <ListItemIcon>
              <KindIcon kind={one} />
            </ListItemIcon>
            {one}
          </MenuItem>
        ))}
        {own !== null && <Divider />}
        {own !== null && <MenuItem onClick={() => choose(null)}>What its bytes say</MenuItem>}
      </Menu>
    </Box>
  );
}
