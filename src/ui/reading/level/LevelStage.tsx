'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { LevelView } from '@/server/reading/level-view';
import { plural } from '../../format';
import { PartSide } from './PartSide';
import { PartsAbove } from './PartsAbove';
import { PartsTree } from './PartsTree';

interface Props {
  readonly gameId: number;
  readonly level: LevelView;
  /** The part that is looked at, by its place in the list. */
  readonly chosen: number | undefined;
  readonly onChoose: (part: number) => void;
  readonly onGo: (table: string, row: number) => void;
  readonly onWords: () => void;
  readonly onClose: () => void;
}

/** The tree of a level's parts, where they stand from above, and the one that is looked at. */
export function LevelStage({ gameId, level, chosen, onChoose, onGo, onWords, onClose }: Props) {
  const [text, setText] = useState('');
  const part = chosen === undefined ? undefined : level.parts[chosen];
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', height: '100%', minHeight: 0 }}>
      <Box
        sx={{
          ...{ display: 'flex', alignItems: 'center', flexWrap: 'wrap', gap: 1, px: 2, py: 1 },
          ...{ borderBottom: 1, borderColor: 'line', bgcolor: 'panel' },
        }}
      >
        <Box
          component="h1"
          id="level-title"
          sx={{ m: 0, fontSize: 17, fontWeight: 700, overflowWrap: 'anywhere' }}
        >
          {level.title}
        </Box>
        <Box sx={{ color: 'ink2', fontSize: 13 }}>
          {plural(level.parts.length, 'part')}
          {level.isCut && ', and more than are held'}
        </Box>
        <Box sx={{ flex: 1 }} />
        <TextField
          size="small"
          label="Find a part"
          value={text}
          onChange={({ target }) => setText(target.value)}
        />
        <Button onClick={onWords}>{level.isSaid ? 'Its words' : 'Say it otherwise'}</Button>
        <Button variant="outlined" onClick={onClose}>
          Close
        </Button>
      </Box>
      <Box
        sx={{
          ...{ flex: 1, minHeight: 0, display: 'grid' },
          gridTemplateColumns: 'minmax(200px, 290px) minmax(0, 1fr) 280px',
        }}
      >
        <PartsTree parts={level.parts} {...{ text, chosen, onChoose }} />
        <PartsAbove {...{ level, text, chosen, onChoose }} />
        <Box
          component="section"
          aria-label="The part"
          sx={{ borderLeft: 1, borderColor: 'line', bgcolor: 'panel', overflow: 'auto', p: 1.5 }}
        >
          {part ? (
            <PartSide {...{ gameId, part, level, onGo, onChoose }} />
          ) : (
            <Box sx={{ color: 'ink2' }}>
              Choose a part in the tree or from above to see what it is and where it stands.
            </Box>
          )}
        </Box>
      </Box>
    </Box>
  );
}
