'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import type { SoundHead } from '@/media/head';
import { api } from '@/ui/api';
import { nameOf } from '@/ui/format';
import { tellWith } from '@/ui/kit/tell-with';
import { useAction } from '@/ui/queries';

type Ways = NonNullable<SoundHead['ways']>;
interface Saying {
  readonly scope: 'path' | 'script';
  readonly name: string;
  readonly way: number | null;
}

/** In which of several ways a sound is read, how that was told, and what else it could be. */
export function WayFact({ gameId, path, ways }: { gameId: number; path: string; ways: Ways }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const send = (saying: Saying): Promise<{ before: number | null }> =>
    api.post(`games/${gameId}/ways`, saying);
  const undo = useAction(send);
  const say = useAction(send, ({ before }, done) => {
    const what = done.scope === 'path' ? nameOf(path) : `All of ${ways.script}`;
    const how = done.way === null ? 'as it sounds' : `as ${ways.ways[done.way]!.title}`;
    tellWith(`${what}: read ${how}.`, 'Undo', () => undo.mutate({ ...done, way: before }));
  });
  const choose = (saying: Saying): void => {
    setAnchor(null);
    say.mutate(saying);
  };
  const possible = ways.ways.flatMap(({ title, unlikeliness }, way) =>
    unlikeliness === null ? [] : [{ title, unlikeliness, way }],
  );
  const items = (scope: Saying['scope'], name: string) => [
    <ListSubheader key={scope}>{scope === 'path' ? 'This one' : `All of ${ways.script}`}</ListSubheader>,
    ...possible.map(({ title, unlikeliness, way }) => (
      <MenuItem key={`${scope} ${way}`} dense onClick={() => choose({ scope, name, way })}>
        {title}
        <Box component="span" className="mono" sx={{ color: 'ink2', ml: 1 }}>
          {unlikeliness.toFixed(1)}
        </Box>
      </MenuItem>
    )),
    <MenuItem key={`${scope} told`} dense onClick={() => choose({ scope, name, way: null })}>
      As it sounds
    </MenuItem>,
  ];
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', flexWrap: 'wrap', columnGap: 1, fontSize: 13 }}>
      <Box component="span" sx={{ color: 'ink2' }}>
        {ways.ways[ways.taken]!.title},{' '}
        {ways.isSaid ? 'as you said' : `the most like a sound of ${possible.length} ways`}
      </Box>
      <Button
        size="small"
        sx={{ py: 0, minWidth: 0 }}
        onClick={({ currentTarget }) => setAnchor(currentTarget)}
      >
        Read it otherwise
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <ListSubheader sx={{ lineHeight: 1.4, py: 1, maxWidth: 360 }}>
          The number says how unlike a sound it is; the lowest is taken where nothing is said.
        </ListSubheader>
        {items('path', path)}
        {items('script', ways.script)}
      </Menu>
    </Box>
  );
}
