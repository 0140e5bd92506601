'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { RowView, ValueView } from '@/server/reading/row-view';
import { nameOf, number, plural } from '../format';
import { PageLink } from '../kit/PageLink';
import { RowEdit } from './RowEdit';
import { RowLink } from './RowLink';
import { StepsInWords } from './StepsInWords';
import { Value } from './Value';

interface Props {
  readonly gameId: number;
  /** The mod that values are changed in; undefined where they are only read. */
  readonly modId: number | undefined;
  readonly data: RowView;
  /** The row that it is compared with. */
  readonly beside: RowView | undefined;
  readonly onCompare: (isOn: boolean) => void;
  readonly onGo: (table: string, row: number) => void;
  readonly onChain: (direction: 'leads here' | 'comes of it') => void;
  readonly onValue: (value: string) => void;
  readonly onMap: () => void;
  readonly onLevel: () => void;
}

/** A row as a card: what it says, with links, and every place that names it. */
export function RowCard({
  gameId,
  modId,
  data,
  beside,
  onCompare,
  onGo,
  onChain,
  onValue,
  onMap,
  onLevel,
}: Props) {
  const { table, row, title, isMap, isLevel, values, steps, usedBy, file } = data;
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
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75, mb: 1 }}>
        {isMap && (
          <Button variant="outlined" onClick={onMap}>
            See it as a map
          </Button>
        )}
        {isLevel && (
          <Button variant="outlined" onClick={onLevel}>
            See how it is put together
          </Button>
        )}
        {beside ? (
          <Button size="small" onClick={() => onCompare(false)} title="Take it away">
            compared with {beside.title} ×
          </Button>
        ) : (
          <Button size="small" onClick={() => onCompare(true)}>
            Compare others with it
          </Button>
        )}
        {modId !== undefined && data.mayEditRows && <RowEdit {...{ gameId, modId, data, onGo }} />}
      </Box>
      {values.map((value, i) => (
        <Value
          key={i}
          {...{ gameId, modId, value, onGo, onValue }}
          at={{ table, row, column: value.name }}
          other={otherIn(beside, data, value)}
        />
      ))}
      {steps.map((one) => (
        <Part key={one.field} title={`${one.field} in words`}>
          <StepsInWords {...{ gameId, modId, onGo }} at={{ table, row }} steps={one} />
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

const saidIn = ({ text, to, within }: ValueView): string =>
  within.length > 0
    ? within.map(saidIn).join(', ')
    : to.length > 0
      ? to.map(({ title }) => title).join(', ')
      : text;

/** What another row says where this one says something else. */
function otherIn(beside: RowView | undefined, data: RowView, value: ValueView): string | undefined {
  if (!beside || (beside.table === data.table && beside.row === data.row)) return undefined;
  const other = beside.values.find(({ name }) => name === value.name);
  const [own, theirs] = [saidIn(value), other ? saidIn(other) : undefined];
  return own === theirs
    ? undefined
    : `${beside.title}: ${theirs === undefined ? 'has none' : theirs || 'nothing'}`;
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
