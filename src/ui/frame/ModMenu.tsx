'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { useMods } from '../queries';
import { useMod } from '../use-mod';
import { NewModDialog } from './NewModDialog';

/** The mod that is being worked on, with the others of the game behind it. */
export function ModMenu({ gameId }: { gameId: number }) {
  const { data: mods = [] } = useMods(gameId);
  const { mod, choose } = useMod(gameId);
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [making, setMaking] = useState(false);
  return (
    <>
      <Button
        sx={{ color: 'barInk', maxWidth: 260 }}
        title={mod?.title}
        onClick={(event) => (mods.length > 0 ? setAt(event.currentTarget) : setMaking(true))}
      >
        <Box component="span" sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
          {mod ? `Mod ${mod.title}` : 'New mod'}
        </Box>
      </Button>
      <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
        {mods.map(({ id, title, changes }) => (
          <MenuItem
            key={id}
            selected={id === mod?.id}
            onClick={() => {
              choose(id);
              setAt(null);
            }}
          >
            {title}, {changes} changed
          </MenuItem>
        ))}
        <Divider />
        <MenuItem
          onClick={() => {
            setAt(null);
            setMaking(true);
          }}
        >
          New mod…
        </MenuItem>
      </Menu>
      <NewModDialog gameId={gameId} open={making} onClose={() => setMaking(false)} />
    </>
  );
}
