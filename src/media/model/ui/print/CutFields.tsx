'use client';
import CloseRounded from '@mui/icons-material/CloseRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Typography from '@mui/material/Typography';
import { NumberField } from '@/ui/kit/NumberField';
import { plural } from '@/ui/format';
import { Check, Line } from '../fields';
import type { SideProps } from './side';

const AXES = [
  ['x', 'left to right'],
  ['y', 'front to back'],
  ['z', 'bottom to top'],
] as const;

/** Where it is cut, and what holds the pieces together. */
export function CutFields({ settings: { cuts, pegs }, report, onChange }: SideProps) {
  const size = report?.mended.size ?? [0, 0, 0];
  const planes = cuts.by === 'planes' ? cuts.planes : [];
  const put = (next: typeof planes): void => onChange({ cuts: { by: 'planes', planes: next } });
  return (
    <Box>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        Cuts
      </Typography>
      <Select
        size="small"
        fullWidth
        value={cuts.by}
        inputProps={{ 'aria-label': 'Cuts' }}
        onChange={({ target }) => {
          const by = target.value;
          if (by !== 'planes') onChange({ cuts: { by } });
          // What the bed asked for is what one goes on from.
          else
            put(report && report.planes.length > 0 ? [...report.planes] : [{ axis: 'z', at: size[2] / 2 }]);
        }}
      >
        <MenuItem value="none">In one piece</MenuItem>
        <MenuItem value="bed">Where it is too large for the bed</MenuItem>
        <MenuItem value="planes">Where I say</MenuItem>
      </Select>
      {planes.map((plane, i) => (
        <Box key={i} sx={{ display: 'flex', alignItems: 'center', gap: 1, mt: 0.75 }}>
          <Select
            size="small"
            value={plane.axis}
            inputProps={{ 'aria-label': `Direction of cut ${i + 1}` }}
            onChange={({ target }) =>
              put(planes.map((one, j) => (j === i ? { ...one, axis: target.value } : one)))
            }
          >
            {AXES.map(([axis, label]) => (
              <MenuItem key={axis} value={axis}>
                {label}
              </MenuItem>
            ))}
          </Select>
          <NumberField
            {...{ label: `Place of cut ${i + 1}`, unit: 'mm', least: 0, most: 100_000 }}
            value={plane.at}
            width={84}
            onKeep={(at) => at !== undefined && put(planes.map((one, j) => (j === i ? { ...one, at } : one)))}
          />
          <IconButton
            size="small"
            aria-label={`Take cut ${i + 1} back`}
            onClick={() => put(planes.filter((_, j) => j !== i))}
          >
            <CloseRounded fontSize="small" />
          </IconButton>
        </Box>
      ))}
      {cuts.by === 'planes' && planes.length < 20 && (
        <Button size="small" onClick={() => put([...planes, { axis: 'z', at: size[2] / 2 }])}>
          Add a cut
        </Button>
      )}
      {cuts.by !== 'none' && (
        <Box sx={{ mt: 0.5 }}>
          <Check
            label="Pegs between pieces"
            isOn={pegs !== null}
            onChange={(isOn) => onChange({ pegs: isOn ? { across: 5, room: 0.15 } : null })}
          />
          {pegs && (
            <>
              <Line label="Thick">
                <NumberField
                  {...{ label: 'Pegs thick', unit: 'mm', least: 0.5, most: 100 }}
                  value={pegs.across}
                  onKeep={(across) => across && onChange({ pegs: { ...pegs, across } })}
                />
              </Line>
              <Line label="Room around them">
                <NumberField
                  {...{ label: 'Room around pegs', unit: 'mm', least: 0, most: 5 }}
                  value={pegs.room}
                  onKeep={(room) => room !== undefined && onChange({ pegs: { ...pegs, room } })}
                />
              </Line>
            </>
          )}
          {report && pegs && report.planes.length > 0 && (
            <Box sx={{ color: 'ink2', fontSize: 12.5 }}>
              {plural(report.pegs, 'peg')} set
              {report.withoutPeg > 0 && `; ${plural(report.withoutPeg, 'face')} too small for one`}
            </Box>
          )}
        </Box>
      )}
    </Box>
  );
}
