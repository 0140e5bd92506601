'use client';
import Box from '@mui/material/Box';
import type { SaidPart, StepsView } from '@/server/reading/step-view';
import { number } from '../format';
import { RowLink } from './RowLink';

interface Props {
  readonly steps: StepsView;
  readonly onGo: (table: string, row: number) => void;
}

/** Steps as a play is read: a line each, what they mean as links, and where they go on by a press. */
export function StepsInWords({ steps: { field, steps }, onGo }: Props) {
  const idOf = (at: number): string => `step-${field}-${at}`;
  const go = (at: number): void => {
    const step = document.getElementById(idOf(at));
    step?.scrollIntoView({ block: 'nearest' });
    step?.focus();
  };
  return (
    <Box component="ol" aria-label={`${field} in words`} sx={{ listStyle: 'none', m: 0, p: 0 }}>
      {steps.map(({ at, says, problem }) => (
        <Box
          component="li"
          key={at}
          id={idOf(at)}
          tabIndex={-1}
          sx={{
            ...{ display: 'flex', gap: 1.25, py: 0.4, fontSize: 14, borderBottom: 1, borderColor: 'line' },
            '&:focus': { bgcolor: 'tint', outline: 'none' },
          }}
        >
          <Box
            className="mono"
            sx={{ color: 'ink2', fontSize: 12, minWidth: 34, textAlign: 'right', pt: 0.25 }}
          >
            {at}
          </Box>
          <Box sx={{ minWidth: 0, overflowWrap: 'anywhere' }}>
            {says.map((part, i) => (
              <Part key={i} {...{ part, onGo }} onJump={go} />
            ))}
            {problem && (
              <Box component="span" role="alert" sx={{ color: 'bad', ml: 0.75 }}>
                {problem}
              </Box>
            )}
          </Box>
        </Box>
      ))}
    </Box>
  );
}

function Part({ part, onGo, onJump }: { part: SaidPart; onGo: Props['onGo']; onJump: (at: number) => void }) {
  if ('to' in part) return <RowLink to={part.to} onGo={onGo} />;
  if ('jump' in part)
    return (
      <Box
        component="button"
        type="button"
        title={`Go on at ${number(part.jump)}`}
        onClick={() => onJump(part.jump)}
        sx={{
          ...{ all: 'unset', cursor: 'pointer', textDecoration: 'underline dotted' },
          '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
        }}
      >
        {part.jump}
      </Box>
    );
  if ('lost' in part)
    return (
      <Box component="span" sx={{ color: 'look' }} title="No row is called so">
        {part.lost}
      </Box>
    );
  return <span>{part.text}</span>;
}
