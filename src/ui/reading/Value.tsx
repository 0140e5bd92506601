'use client';
import EditOutlined from '@mui/icons-material/EditOutlined';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import { useState } from 'react';
import { uiOf } from '@/media/ui';
import type { ValueView } from '@/server/reading/row-view';
import { number } from '../format';
import { PageLink } from '../kit/PageLink';
import { ItemButtons } from './ItemButtons';
import { RowLink } from './RowLink';
import { ValueEdit, type CellAt } from './ValueEdit';

interface Props {
  readonly gameId: number;
  /** The mod that values are changed in; undefined where they are only read. */
  readonly modId: number | undefined;
  readonly value: ValueView;
  /** The cell that it stands in. */
  readonly at: CellAt;
  /** What the row says that this one is compared with, where it is something else. */
  readonly other?: string | undefined;
  readonly onGo: (table: string, row: number) => void;
  readonly onValue: (value: string) => void;
}

const canWrite = (value: ValueView): boolean => value.isWritable || value.within.some(canWrite);

/** One value; numbers and texts that mean no row are asked for elsewhere by a press, and changed by another. */
export function Value({ gameId, modId, value, at, other, onGo, onValue }: Props) {
  const { name, text, to, entry, within, more, isWritable, called, was } = value;
  const [isOpen, setOpen] = useState(false);
  const glance = entry && uiOf(entry.kind)?.glance;
  const isFlat = within.length > 0 && within.every((one) => one.within.length === 0);
  const isShownDeep = isFlat ? isOpen : within.some((one) => one.within.length > 0);
  const mayEdit = modId !== undefined && (isWritable || (isFlat && canWrite(value)));
  return (
    <Box
      sx={{
        ...{ borderBottom: 1, borderColor: 'line', py: 0.5, fontSize: 14 },
        '& .pen': { opacity: 0.45 },
        '&:hover .pen, & .pen:focus-visible': { opacity: 1 },
      }}
    >
      <Box sx={{ display: 'flex', gap: 0.5, alignItems: 'flex-start' }}>
        <Box component="dl" sx={{ m: 0, display: 'flex', gap: 1.5, flex: 1, minWidth: 0 }}>
          <Box component="dt" sx={{ color: 'ink2', flex: '0 0 34%', fontSize: 13, overflowWrap: 'anywhere' }}>
            {name}
          </Box>
          <Box component="dd" sx={{ m: 0, flex: 1, minWidth: 0, overflowWrap: 'anywhere' }} dir="auto">
            {isOpen && isWritable && modId !== undefined ? (
              <ValueEdit {...{ gameId, modId, value, at }} onClose={() => setOpen(false)} />
            ) : (
              <>
                {to.map((one, i) => (
                  <RowLink key={i} to={one} onGo={onGo} />
                ))}
                {to.length > 0 && text !== '' && (
                  <Box component="span" className="mono" sx={{ color: 'ink2', ml: 1, fontSize: 12.5 }}>
                    {text}
                  </Box>
                )}
                {to.length === 0 && text !== '' && text.length <= 80 && (
                  <Box
                    component="button"
                    type="button"
                    title={`Where else is ${text}?`}
                    onClick={() => onValue(text)}
                    sx={{ all: 'unset', cursor: 'pointer', '&:hover': { textDecoration: 'underline' } }}
                  >
                    {text}
                  </Box>
                )}
                {called !== null && (
                  <Box component="span" sx={{ ml: 1, fontWeight: 600 }}>
                    {called}
                  </Box>
                )}
                {to.length === 0 && text.length > 80 && text}
                {was !== null && (
                  <Box sx={{ color: 'ink2', fontSize: 12.5 }}>in the game: {was || 'nothing'}</Box>
                )}
              </>
            )}
            {isFlat && !isOpen && (
              <Box>
                {within.map((one, i) => (
                  <Box
                    key={i}
                    component="span"
                    title={one.was === null ? undefined : `in the game: ${one.was || 'nothing'}`}
                    sx={{ mr: 1, ...(one.was !== null && { bgcolor: 'tint', fontWeight: 650 }) }}
                  >
                    {/^\d+$/.test(one.name) ? '' : `${one.name} `}
                    {one.to[0] ? <RowLink to={one.to[0]} onGo={onGo} /> : one.text}
                    {i < within.length - 1 ? ',' : ''}
                  </Box>
                ))}
              </Box>
            )}
            {other !== undefined && (
              <Box data-other sx={{ fontSize: 13, borderLeft: 3, borderColor: 'brass', pl: 0.75, mt: 0.25 }}>
                {other.length > 200 ? `${other.slice(0, 200)} …` : other}
              </Box>
            )}
            {entry && (
              <Box sx={{ mt: 0.25 }}>
                <PageLink
                  style={{ color: 'inherit', fontSize: 12.5 }}
                  href={`/games/${gameId}/contents?entry=${entry.archiveId}:${entry.index}`}
                >
                  {glance && (
                    <Box
                      component="img"
                      src={`/api/games/${gameId}/entries/${entry.archiveId}/${entry.index}/${glance}`}
                      alt=""
                      loading="lazy"
                      sx={{ display: 'block', maxHeight: 72, maxWidth: '100%' }}
                    />
                  )}
                  {to.length > 0 ? 'in the contents' : entry.path}
                </PageLink>
              </Box>
            )}
            {more > 0 && <Box sx={{ color: 'ink2', fontSize: 12.5 }}>and {number(more)} more</Box>}
          </Box>
        </Box>
        {modId !== undefined && (value.item !== null || value.first) && (
          <ItemButtons {...{ gameId, modId, value, at }} />
        )}
        {mayEdit && (
          <IconButton
            className="pen"
            size="small"
            aria-label={isFlat ? `Change values of ${name}` : `Change ${name}`}
            aria-expanded={isOpen}
            onClick={() => setOpen(!isOpen)}
          >
            <EditOutlined sx={{ fontSize: 16 }} />
          </IconButton>
        )}
      </Box>
      {isShownDeep && (
        <Box sx={{ pl: 2, borderLeft: 2, borderColor: 'line' }}>
          {within.map((one, i) => (
            <Value key={i} value={one} {...{ gameId, modId, at, onGo, onValue }} />
          ))}
        </Box>
      )}
    </Box>
  );
}
