'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Typography from '@mui/material/Typography';
import { NumberField } from '@/ui/kit/NumberField';
import { Check, Line } from '../fields';
import type { PrintSettings } from '../../core/print/settings';
import { CutFields } from './CutFields';
import type { SideProps } from './side';

const MENDS = [
  ['turn', 'Turn faces the same way, and outwards'],
  ['drop', 'Leave out what encloses nothing'],
  ['close', 'Close holes'],
  ['join', 'Join shells that stand in each other'],
] as const;

/** How large it is printed, what is mended, and how it is cut. Each of it can be refused. */
export function PrintSide({ settings, report, onChange }: SideProps) {
  const { size, bed } = settings;
  // Where all are left out nothing can be worked out, and yet they have to be there to be taken in again.
  const parts = report?.parts ?? settings.left;
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 2.25 }}>
      <Box>
        <Typography variant="h2" sx={{ mb: 0.5 }}>
          Size
        </Typography>
        <Line label="By">
          <Select
            size="small"
            value={size.by}
            inputProps={{ 'aria-label': 'Size by' }}
            onChange={({ target }) => onChange({ size: sizeBy(target.value, report) })}
          >
            <MenuItem value="longest">its longest side</MenuItem>
            <MenuItem value="height">its height</MenuItem>
            <MenuItem value="scale">its scale</MenuItem>
          </Select>
        </Line>
        {size.by === 'height' && (
          <Line label="Height">
            <NumberField
              {...{ label: 'Height', unit: 'mm', least: 0.1, most: 100_000 }}
              value={size.height}
              width={96}
              onKeep={(height) => height && onChange({ size: { by: 'height', height } })}
            />
          </Line>
        )}
        {size.by === 'longest' && (
          <Line label="Longest side">
            <NumberField
              {...{ label: 'Longest side', unit: 'mm', least: 0.1, most: 100_000 }}
              value={size.longest}
              width={96}
              onKeep={(longest) => longest && onChange({ size: { by: 'longest', longest } })}
            />
          </Line>
        )}
        {size.by === 'scale' && (
          <Line label="One to">
            <NumberField
              {...{ label: 'One to', unit: '', least: 0.001, most: 100_000 }}
              value={1 / size.scale}
              width={96}
              onKeep={(parts) => parts && onChange({ size: { by: 'scale', scale: 1 / parts } })}
            />
          </Line>
        )}
        {report && size.by !== 'scale' && (
          <Box sx={{ color: 'ink2', fontSize: 12.5 }}>{scaleSaid(report.scale)}</Box>
        )}
      </Box>
      {parts.length > (report ? 1 : 0) && (
        <Box>
          <Typography variant="h2" sx={{ mb: 0.5 }}>
            Parts
          </Typography>
          <Box sx={{ maxHeight: 168, overflow: 'auto' }}>
            {parts.map((part) => (
              <Check
                key={part}
                label={part}
                isOn={!settings.left.includes(part)}
                onChange={(isOn) =>
                  onChange({
                    left: isOn ? settings.left.filter((one) => one !== part) : [...settings.left, part],
                  })
                }
              />
            ))}
          </Box>
        </Box>
      )}
      <Box>
        <Typography variant="h2" sx={{ mb: 0.5 }}>
          Mending
        </Typography>
        <Box sx={{ display: 'flex', alignItems: 'center' }}>
          <Check
            label="Weld vertices within"
            isOn={settings.weld !== null}
            onChange={(isOn) => onChange({ weld: isOn ? 0.01 : null })}
          />
          {settings.weld !== null && (
            <NumberField
              {...{ label: 'Weld vertices within', unit: 'mm', least: 0, most: 100 }}
              value={settings.weld}
              onKeep={(weld) => weld !== undefined && onChange({ weld })}
            />
          )}
        </Box>
        {MENDS.map(([key, label]) => (
          <Check
            key={key}
            {...{ label }}
            isOn={settings[key]}
            onChange={(isOn) => onChange({ [key]: isOn })}
          />
        ))}
        <Button
          size="small"
          onClick={() => onChange({ weld: null, turn: false, drop: false, close: false, join: false })}
        >
          Mend nothing
        </Button>
      </Box>
      <Box>
        <Typography variant="h2" sx={{ mb: 0.5 }}>
          Printer
        </Typography>
        <Line label="Bed">
          {(['x', 'y', 'z'] as const).map((axis) => (
            <NumberField
              key={axis}
              {...{ label: `Bed ${axis}`, unit: axis === 'z' ? 'mm' : '', least: 1, most: 100_000 }}
              width={axis === 'z' ? 68 : 46}
              value={bed[axis]}
              onKeep={(value) => value && onChange({ bed: { ...bed, [axis]: value } })}
            />
          ))}
        </Line>
        <Line label="Walls from">
          <NumberField
            {...{ label: 'Walls from', unit: 'mm', least: 0.01, most: 1000 }}
            value={settings.wall}
            onKeep={(wall) => wall && onChange({ wall })}
          />
        </Line>
        <Check
          label="Lay each piece on its largest flat side"
          isOn={settings.isFlat}
          onChange={(isFlat) => onChange({ isFlat })}
        />
      </Box>
      <CutFields {...{ settings, report, onChange }} />
    </Box>
  );
}

/** The same size, said in another way, so that nothing changes until a number is given. */
function sizeBy(by: PrintSettings['size']['by'], report: SideProps['report']): PrintSettings['size'] {
  const [wide, deep, high] = report?.found.size ?? [180, 180, 180];
  if (by === 'scale') return { by, scale: report?.scale ?? 1 };
  return by === 'height' ? { by, height: high } : { by, longest: Math.max(wide, deep, high) };
}

const scaleSaid = (scale: number): string =>
  scale <= 1
    ? `1 to ${(1 / scale).toPrecision(3)} of its size in the game`
    : `${scale.toPrecision(3)} times its size in the game`;
