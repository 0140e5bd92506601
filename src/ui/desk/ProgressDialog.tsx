'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import type { Progress } from '@/media/text/core/desk';
import type { DeskOverview } from '@/server/desk/desk-view';
import { number } from '../format';
import { Chart } from '../kit/Chart';
import { Loading } from '../kit/Blank';
import { useHues } from '../kit/use-hues';
import { useDays } from './use-desk';

/** How far the work is by table and speaker, and how it went day by day. */
export function ProgressDialog({
  gameId,
  modId,
  overview,
  onClose,
}: {
  gameId: number;
  modId: number;
  overview: DeskOverview;
  onClose: () => void;
}) {
  const { open, lines } = useHues();
  const days = useDays(gameId, modId, overview.chosen.target, true);
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>Progress</DialogTitle>
      <DialogContent>
        {!days.data ? (
          <Loading what="Counting the days" />
        ) : days.data.length === 0 ? (
          <Box sx={{ color: 'ink2' }}>Nothing was changed yet. What is done on a day is drawn here.</Box>
        ) : (
          <Chart
            label="Lines changed by day"
            height={200}
            option={{
              grid: { left: 50, right: 16, top: 16, bottom: 28 },
              tooltip: { trigger: 'axis' },
              xAxis: { type: 'category', data: days.data.map(({ day }) => day), axisLabel: { color: lines } },
              yAxis: {
                type: 'value',
                minInterval: 1,
                axisLabel: { color: lines },
                splitLine: { show: false },
              },
              series: [
                {
                  type: 'bar',
                  name: 'Lines',
                  barMaxWidth: 48,
                  itemStyle: { color: open },
                  data: days.data.map(({ lines }) => lines),
                },
              ],
            }}
          />
        )}
        <Told title="Table" rows={overview.byTable.map(({ path, ...one }) => ({ ...one, name: path }))} />
        {overview.bySpeaker.length > 0 && <Told title="Speaker" rows={overview.bySpeaker} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

function Told({ title, rows }: { title: string; rows: readonly Progress[] }) {
  return (
    <Box
      component="table"
      sx={{
        width: '100%',
        mt: 2,
        borderCollapse: 'collapse',
        fontSize: 13,
        '& td, & th': { borderBottom: 1, borderColor: 'line', py: 0.4, textAlign: 'right', fontWeight: 400 },
        '& th:first-of-type, & td:first-of-type': { textAlign: 'left', overflowWrap: 'anywhere' },
        '& thead th': { color: 'ink2' },
      }}
    >
      <thead>
        <tr>
          {[title, 'Lines', 'With a text', 'Changed', 'Done', 'Reviewed', 'Failing', 'Words done'].map(
            (one) => (
              <th key={one} scope="col">
                {one}
              </th>
            ),
          )}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.name}>
            <td>{row.name}</td>
            {[row.lines, row.filled, row.changed, row.done, row.reviewed, row.failing].map((count, i) => (
              <td key={i}>{number(count)}</td>
            ))}
            <td>
              {number(row.doneWords)} of {number(row.words)}
            </td>
          </tr>
        ))}
      </tbody>
    </Box>
  );
}
