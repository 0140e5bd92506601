'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { ChainView } from '@/server/reading/reading-view';
import { nameOf, plural } from '../format';
import { Failed, Loading } from '../kit/Blank';
import { Chart } from '../kit/Chart';
import { useHues } from '../kit/use-hues';
import type { ReadingView, SetView } from './reading-state';
import { RowLink } from './RowLink';
import { useChainOf } from './use-reading';

interface Props {
  readonly gameId: number;
  readonly table: string;
  readonly view: ReadingView;
  readonly onView: SetView;
  readonly onGo: (table: string, row: number) => void;
  readonly onClose: () => void;
}

const DEPTHS = [1, 2, 3, 4, 6, 8] as const;
const USUAL_DEPTH = '3';
/** More rows than these are read as a list only. */
const MOST_DRAWN = 60;

/** What leads to a row or comes of it, step by step: as a graph whose rows are gone to by a press, and as a list. */
export function ChainDialog({ gameId, table, view, onView, onGo, onClose }: Props) {
  const depth = view.depth || USUAL_DEPTH;
  const { data, error } = useChainOf(gameId, table, view.row, view.over, depth);
  const isHere = view.over === 'leads here';
  const [start] = data?.rows ?? [];
  return (
    <Dialog open onClose={onClose} maxWidth="lg" fullWidth>
      <DialogTitle>
        {isHere ? 'What leads to ' : 'What comes of '}
        {start?.title ?? 'this row'}
      </DialogTitle>
      <DialogContent>
        <Box sx={{ display: 'flex', gap: 1.5, pt: 1, alignItems: 'center', flexWrap: 'wrap' }}>
          <Button variant="outlined" onClick={() => onView({ over: isHere ? 'comes of it' : 'leads here' })}>
            {isHere ? 'What comes of it' : 'What leads here'}
          </Button>
          <TextField
            select
            size="small"
            label="Steps"
            value={depth}
            onChange={({ target }) => onView({ depth: target.value })}
            sx={{ minWidth: 90 }}
          >
            {DEPTHS.map((one) => (
              <MenuItem key={one} value={String(one)}>
                {one}
              </MenuItem>
            ))}
          </TextField>
          {data && (
            <Box role="status" sx={{ fontSize: 13, color: 'ink2' }}>
              {plural(data.rows.length - 1, 'row')}, {plural(data.steps.length, 'step')}
              {data.steps.some(({ isCircle }) => isCircle) && ', some go in a circle'}
              {data.isCut && '; there are more beyond what is shown'}
            </Box>
          )}
        </Box>
        {error && !data && <Failed error={error} />}
        {!data && !error && <Loading what="Following the references" />}
        {data && data.rows.length === 1 && (
          <Box sx={{ py: 3, color: 'ink2' }}>
            {isHere ? 'No row that is known leads here.' : 'It names no row that is known.'}
          </Box>
        )}
        {data && data.rows.length > 1 && data.rows.length <= MOST_DRAWN && <Graph {...{ data, onGo }} />}
        {data && data.rows.length > 1 && <StepList {...{ data, onGo, isHere }} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

const STEP_WIDTH = 230;
const STEP_HEIGHT = 40;

function Graph({ data, onGo }: { data: ChainView; onGo: Props['onGo'] }) {
  const hues = useHues();
  const counts: number[] = [];
  const places = data.rows.map(({ depth }) => {
    const n = counts[depth] ?? 0;
    counts[depth] = n + 1;
    return { depth, n };
  });
  const most = Math.max(...counts.map((count) => count ?? 0));
  const height = Math.min(420, Math.max(140, most * STEP_HEIGHT + 40));
  return (
    <Chart
      label={`A graph of ${plural(data.rows.length, 'row')}`}
      height={height}
      onPress={(index) => {
        const row = data.rows[index];
        if (row) onGo(row.table, row.row);
      }}
      option={{
        tooltip: {
          formatter: ({ data: of }: { data: { tip?: string } }) => of.tip ?? '',
        },
        series: [
          {
            type: 'graph',
            layout: 'none',
            roam: true,
            symbolSize: 12,
            edgeSymbol: ['none', 'arrow'],
            edgeSymbolSize: 7,
            label: { show: true, position: 'right', color: hues.lines, fontSize: 12 },
            lineStyle: { color: hues.locked, width: 1.4, curveness: 0.08 },
            data: data.rows.map(({ title, table, hidden }, i) => ({
              id: String(i),
              name: title.length > 26 ? `${title.slice(0, 26)} …` : title,
              tip: encode(`${title}, ${table}${hidden > 0 ? `, ${plural(hidden, 'more')} beyond` : ''}`),
              x: places[i]!.depth * STEP_WIDTH,
              y: (places[i]!.n - (counts[places[i]!.depth]! - 1) / 2) * STEP_HEIGHT,
              itemStyle: { color: i === 0 ? hues.changed : hues.kept },
            })),
            links: data.steps.map(({ from, to, field, isCircle }) => ({
              ...{ source: String(from), target: String(to), tip: encode(field) },
              ...(isCircle && { lineStyle: { type: 'dashed', color: hues.broken } }),
            })),
          },
        ],
      }}
    />
  );
}

/** Tooltips are markup; what a game says is none. */
const encode = (text: string): string => text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`);

function StepList({ data, onGo, isHere }: { data: ChainView; onGo: Props['onGo']; isHere: boolean }) {
  const depths = [...new Set(data.rows.map(({ depth }) => depth))].filter((depth) => depth > 0);
  return (
    <Box component="ol" aria-label="Steps" sx={{ pl: 2.5, maxHeight: 320, overflow: 'auto' }}>
      {depths.map((depth) => (
        <Box component="li" key={depth} sx={{ mb: 1 }}>
          {data.rows.map((row, i) => {
            if (row.depth !== depth) return null;
            const steps = data.steps.filter(({ from, to }) => (isHere ? from : to) === i);
            const nearer = steps.filter(({ from, to }) => data.rows[isHere ? to : from]!.depth === depth - 1);
            return (
              <Box key={i} sx={{ fontSize: 14, py: 0.2 }}>
                <RowLink to={row} onGo={onGo} />
                <Box component="span" sx={{ color: 'ink2', fontSize: 12.5, ml: 1 }}>
                  {nameOf(row.table)}
                  {nearer.map(({ from, to, field }, n) => (
                    <span key={n}>
                      {n === 0 ? ': ' : ', '}
                      {isHere
                        ? `its ${field} names ${data.rows[to]!.title}`
                        : `named by ${field} of ${data.rows[from]!.title}`}
                    </span>
                  ))}
                </Box>
              </Box>
            );
          })}
        </Box>
      ))}
    </Box>
  );
}
