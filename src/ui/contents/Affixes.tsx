'use client';
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { AffixView } from '@/server/entries/affixes';
import { api } from '../api';
import { nameOf, number } from '../format';
import { Failed, Loading } from '../kit/Blank';
import { useAction } from '../queries';
import { KindIcon } from './KindIcon';

/** What names of this game begin and end with, and what that means; a meaning stands beside every such name then. */
export function Affixes({ gameId }: { gameId: number }) {
  const { data, error } = useQuery({
    queryKey: ['affixes', gameId],
    queryFn: () => api.get<AffixView[]>(`games/${gameId}/affixes`),
  });
  const say = useAction((said: { affix: string; meaning: string }) =>
    api.patch(`games/${gameId}/affixes`, said),
  );
  if (error) return <Failed error={error} />;
  if (!data) return <Loading what="Counting what names begin and end with" />;
  return (
    <Box component="section" aria-label="Beginnings and ends of names">
      <Box sx={{ color: 'ink2', mb: 1 }}>
        {data.length === 0
          ? 'No two names here share a beginning or an end that is set off by _ or -.'
          : 'What names here begin and end with. Say what it means: it is shown beside such names, and can be searched for.'}
      </Box>
      {data.map((one) => (
        <Row
          key={`${one.affix} ${one.meaning}`}
          {...one}
          onSay={(meaning) => say.mutate({ affix: one.affix, meaning })}
        />
      ))}
    </Box>
  );
}

function Row({
  affix,
  count,
  kind,
  example,
  meaning,
  onSay,
}: AffixView & { onSay: (meaning: string) => void }) {
  const [text, setText] = useState(meaning);
  const keep = (): void => {
    if (text.trim() !== meaning) onSay(text.trim());
  };
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: '26px 130px minmax(0, 1fr) 190px',
        gap: 1,
        alignItems: 'center',
        py: 0.5,
        borderBottom: 1,
        borderColor: 'line',
      }}
    >
      <KindIcon kind={kind} />
      <Box className="mono" sx={{ fontWeight: 600, overflow: 'hidden', textOverflow: 'ellipsis' }}>
        {affix}
      </Box>
      <Box
        title={example}
        sx={{
          color: 'ink2',
          fontSize: 12.5,
          overflow: 'hidden',
          textOverflow: 'ellipsis',
          whiteSpace: 'nowrap',
        }}
      >
        {number(count)}, such as {nameOf(example)}
      </Box>
      <TextField
        size="small"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={keep}
        onKeyDown={(event) => event.key === 'Enter' && keep()}
        placeholder="means"
        slotProps={{ htmlInput: { 'aria-label': `What ${affix} means`, maxLength: 200 } }}
      />
    </Box>
  );
}
