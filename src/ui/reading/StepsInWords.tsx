'use client';
import AddOutlined from '@mui/icons-material/AddOutlined';
import EditOutlined from '@mui/icons-material/EditOutlined';
import RemoveOutlined from '@mui/icons-material/RemoveOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';
import type { SaidPart, StepsView } from '@/server/reading/step-view';
import { number } from '../format';
import { RowLink } from './RowLink';
import { StepAdd } from './StepAdd';
import { StepEdit } from './StepEdit';
import { StepRemove } from './StepRemove';

interface Props {
  readonly gameId: number;
  /** The mod that steps are changed in; undefined where they are only read. */
  readonly modId: number | undefined;
  /** The row that they are in. */
  readonly at: { readonly table: string; readonly row: number };
  readonly steps: StepsView;
  readonly onGo: (table: string, row: number) => void;
}

/** What is being done with steps, at which of them. */
interface Work {
  readonly does: 'add' | 'remove' | 'change';
  readonly at: number;
}

/** Before all steps. */
const FIRST = -1;

const BUTTONS = [
  ['add', (at: number) => `Add a step behind the one at ${at}`, AddOutlined],
  ['remove', (at: number) => `Take the step at ${at} out`, RemoveOutlined],
  ['change', (at: number) => `Change the step at ${at}`, EditOutlined],
] as const;

/** Steps as a play is read: a line each, what they mean as links, and where they go on by a press. */
export function StepsInWords({ gameId, modId: own, at: row, steps: all, onGo }: Props) {
  const { field, steps, words, isWritable } = all;
  const modId = isWritable ? own : undefined;
  const at = { ...row, field };
  const [work, setWork] = useState<Work>();
  const idOf = (at: number): string => `step-${field}-${at}`;
  const go = (at: number): void => {
    const step = document.getElementById(idOf(at));
    step?.scrollIntoView({ block: 'nearest' });
    step?.focus();
  };
  const close = (): void => {
    setWork(undefined);
    // By keyboard one goes on from the step that one was at.
    if (work && work.at !== FIRST) go(work.at);
  };
  return (
    <>
      <Box component="ol" aria-label={`${field} in words`} sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {steps.map((step) => {
          const { at: from, says, problem } = step;
          const isOpen = (does: Work['does']): boolean => work?.does === does && work.at === from;
          return (
            <Box
              component="li"
              key={from}
              id={idOf(from)}
              tabIndex={-1}
              sx={{
                ...{
                  display: 'flex',
                  gap: 1.25,
                  py: 0.4,
                  fontSize: 14,
                  borderBottom: 1,
                  borderColor: 'line',
                },
                '&:focus': { bgcolor: 'tint', outline: 'none' },
                '& .pen': { opacity: 0.45, p: 0.25, alignSelf: 'flex-start' },
                '&:hover .pen, & .pen:focus-visible': { opacity: 1 },
              }}
            >
              <Box
                className="mono"
                sx={{ color: 'ink2', fontSize: 12, minWidth: 34, textAlign: 'right', pt: 0.25 }}
              >
                {from}
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
                {isOpen('change') && modId !== undefined && (
                  <StepEdit {...{ gameId, modId, at, step }} onClose={close} />
                )}
                {isOpen('remove') && modId !== undefined && (
                  <StepRemove {...{ gameId, modId, at, step }} steps={all} onClose={close} />
                )}
                {isOpen('add') && modId !== undefined && (
                  <StepAdd {...{ gameId, modId, at }} steps={all} behind={step} onClose={close} />
                )}
              </Box>
              {modId !== undefined && work?.at !== from && (
                <Box sx={{ display: 'flex', alignSelf: 'flex-start' }}>
                  {BUTTONS.map(([does, label, Icon]) =>
                    does === 'change' && step.numbers.length === 0 ? null : (
                      <Tooltip key={does} title={label(from)}>
                        <IconButton
                          className="pen"
                          size="small"
                          aria-label={label(from)}
                          onClick={() => setWork({ does, at: from })}
                        >
                          <Icon sx={{ fontSize: 16 }} />
                        </IconButton>
                      </Tooltip>
                    ),
                  )}
                </Box>
              )}
            </Box>
          );
        })}
      </Box>
      {modId !== undefined && words.length > 0 && (
        <Box>
          {work?.at === FIRST ? (
            <StepAdd {...{ gameId, modId, at }} steps={all} behind={undefined} onClose={close} />
          ) : (
            <Button
              size="small"
              startIcon={<AddOutlined />}
              onClick={() => setWork({ does: 'add', at: FIRST })}
            >
              {steps.length === 0 ? 'Add a step' : 'Add a step before all others'}
            </Button>
          )}
        </Box>
      )}
    </>
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
