'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { RowView, ValueView } from '@/server/reading/reading-view';
import { uiOf } from '@/media/ui';
import { nameOf, number, plural } from '../format';
import { PageLink } from '../kit/PageLink';
import { RowLink } from './RowLink';
import { StepsInWords } from './StepsInWords';

interface Props {
  readonly gameId: number;
  readonly data: RowView;
  readonly onGo: (table: string, row: number) => void;
  readonly onChain: (direction: 'leads here' | 'comes of it') => void;
  readonly onValue: (value: string) => void;
}

/** A row as a card: what it says, with links, and every place that names it. */
export function RowCard({ gameId, data, onGo, onChain, onValue }: Props) {
  const { table, row, title, values, steps, usedBy, file } = data;
  return (
    <Box component="section" aria-label="Row" sx={{ height: '100%', overflow: 'auto', p: 1.5 }}>
      <Typography variant="h2" sx={{ fontSize: 17, overflowWrap: 'anywhere' }}>
        {title}
      </Typography>
      <Box sx={{ color: 'ink2', fontSize: 12.5, mb: 1 }}>
        row {number(row + 1)} of{' '}
        {file ? (
          <PageLink
            style={{ color: 'inherit' }}
            href={`/games/${gameId}/contents?entry=${file.archiveId}:${file.index}`}
          >
            {table}
          </PageLink>
        ) : (
          table
        )}
      </Box>
      {values.map((value, i) => (
        <Value key={i} {...{ gameId, value, onGo, onValue }} />
      ))}
      {steps.map((one) => (
        <Part key={one.field} title={`${one.field} in words`}>
          <StepsInWords steps={one} onGo={onGo} />
        </Part>
      ))}
      <Part title={usedBy.length > 0 ? 'Named by' : 'Named by nothing'}>
        {usedBy.map(({ table: by, field, count, rows }) => (
          <Box key={`${by} ${field}`} sx={{ mb: 1 }}>
            <Box sx={{ fontSize: 12.5, color: 'ink2' }}>
              {field} of {nameOf(by)}, {plural(count, 'time')}
            </Box>
            {rows.map((one) => (
              <Box key={one.row} sx={{ fontSize: 14, py: 0.25 }}>
                <RowLink to={one} onGo={onGo} />
              </Box>
            ))}
            {rows.length < count && rows.length >= 200 && (
              <Box sx={{ fontSize: 12.5, color: 'ink2' }}>and {number(count - rows.length)} more</Box>
            )}
          </Box>
        ))}
        {usedBy.length === 0 && (
          <Box sx={{ fontSize: 13, color: 'ink2' }}>
            No table names it in a field whose meaning is known. A program may still read it.
          </Box>
        )}
      </Part>
      <Part title="Through others">
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75 }}>
          <Button variant="outlined" onClick={() => onChain('leads here')}>
            What leads here
          </Button>
          <Button variant="outlined" onClick={() => onChain('comes of it')}>
            What comes of it
          </Button>
        </Box>
      </Part>
    </Box>
  );
}

/** One value; numbers and texts that mean no row are asked for elsewhere by a press. */
function Value({
  gameId,
  value: { name, text, to, entry, within, more },
  onGo,
  onValue,
}: {
  value: ValueView;
} & Pick<Props, 'gameId' | 'onGo' | 'onValue'>) {
  const glance = entry && uiOf(entry.kind)?.glance;
  return (
    <Box sx={{ borderBottom: 1, borderColor: 'line', py: 0.5, fontSize: 14 }}>
      <Box component="dl" sx={{ m: 0, display: 'flex', gap: 1.5 }}>
        <Box component="dt" sx={{ color: 'ink2', flex: '0 0 34%', fontSize: 13, overflowWrap: 'anywhere' }}>
          {name}
        </Box>
        <Box component="dd" sx={{ m: 0, flex: 1, minWidth: 0, overflowWrap: 'anywhere' }} dir="auto">
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
          {to.length === 0 && text.length > 80 && text}
          {within.length > 0 && within.every((one) => one.within.length === 0) && (
            <Box>
              {within.map((one, i) => (
                <Box key={i} component="span" sx={{ mr: 1 }}>
                  {/^\d+$/.test(one.name) ? '' : `${one.name} `}
                  {one.to[0] ? <RowLink to={one.to[0]} onGo={onGo} /> : one.text}
                  {i < within.length - 1 ? ',' : ''}
                </Box>
              ))}
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
                {entry.path}
              </PageLink>
            </Box>
          )}
          {more > 0 && <Box sx={{ color: 'ink2', fontSize: 12.5 }}>and {number(more)} more</Box>}
        </Box>
      </Box>
      {within.some((one) => one.within.length > 0) && (
        <Box sx={{ pl: 2, borderLeft: 2, borderColor: 'line' }}>
          {within.map((one, i) => (
            <Value key={i} value={one} {...{ gameId, onGo, onValue }} />
          ))}
        </Box>
      )}
    </Box>
  );
}

function Part({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box sx={{ mt: 2 }}>
      <Typography variant="h3" sx={{ fontSize: 13, fontWeight: 700, mb: 0.5 }}>
        {title}
      </Typography>
      {children}
    </Box>
  );
}
