'use client';
import EditOutlined from '@mui/icons-material/EditOutlined';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import { useState } from 'react';
import type { SaidPart, StepsView } from '@/server/reading/step-view';
import { number } from '../format';
import { RowLink } from './RowLink';
import { StepEdit } from './StepEdit';

interface Props {
  readonly gameId: number;
  /** The mod that steps are changed in; undefined where they are only read. */
  readonly modId: number | undefined;
  /** The row that they are in. */
  readonly at: { readonly table: string; readonly row: number };
  readonly steps: StepsView;
  readonly onGo: (table: string, row: number) => void;
}

/** Steps as a play is read: a line each, what they mean as links, and where they go on by a press. */
export function StepsInWords({ gameId, modId, at: own, steps: { field, steps }, onGo }: Props) {
  const [changed, setChanged] = useState<number>();
  const idOf = (at: number): string => `step-${field}-${at}`;
  const go = (at: number): void => {
    const step = document.getElementById(idOf(at));
    step?.scrollIntoView({ block: 'nearest' });
    step?.focus();
  };
  return (
    <Box component="ol" aria-label={`${field} in words`} sx={{ listStyle: 'none', m: 0, p: 0 }}>
      {steps.map((step) => {
        const { at, says, problem } = step;
        return (
          <Box
            component="li"
            key={at}
            id={idOf(at)}
            tabIndex={-1}
            sx={{
              ...{ display: 'flex', gap: 1.25, py: 0.4, fontSize: 14, borderBottom: 1, borderColor: 'line' },
              '&:focus': { bgcolor: 'tint', outline: 'none' },
              '& .pen': { opacity: 0.45, p: 0.25, alignSelf: 'flex-start' },
              '&:hover .pen, & .pen:focus-visible': { opacity: 1 },
            }}
          >
            <Box
              className="mono"
              sx={{ color: 'ink2', fontSize: 12, minWidth: 34, textAlign: 'right', pt: 0.25 }}
            >
              {at}
            </Box>
            <Box sx={{ flex: 1, minWidth: 0, overflowWrap: 'anywhere' }}>
              {says.map((part, i) => (
                <Part key={i} {...{ part, onGo }} onJump={go} />
              ))}
              {problem && (
                <Box component="span" role="alert" sx={{ color: 'bad', ml: 0.75 }}>
                  {problem}
                </Box>
              )}
              {changed === at && modId !== undefined && (
                <StepEdit
                  {...{ gameId, modId, step }}
                  at={{ ...own, field }}
                  onClose={() => setChanged(undefined)}
                />
              )}
            </Box>
            {modId !== undefined && step.numbers.length > 0 && changed !== at && (
              <IconButton
                className="pen"
                size="small"
                aria-label={`Change the step at ${at}`}
                onClick={() => setChanged(at)}
              >
                <EditOutlined sx={{ fontSize: 16 }} />
              </IconButton>
            )}
          </Box>
        );
      })}
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
