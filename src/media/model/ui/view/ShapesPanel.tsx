'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import { useMemo } from 'react';
import { plural } from '@/ui/format';
import type { ShownForm } from './use-form';
import type { Model } from './use-model';

/** More are frames of a clip rather than what is set by hand. */
const MOST_SLIDERS = 60;

/** The other shapes of a model, each more or less. */
export function ShapesPanel({
  shown,
  model: { view, change },
}: {
  readonly shown: ShownForm;
  readonly model: Model;
}) {
  const names = useMemo(
    () => [...new Set(shown.form.parts.flatMap(({ shapes }) => shapes.map(({ name }) => name)))],
    [shown],
  );
  return (
    <Box role="group" aria-label="Shapes">
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 0.5 }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          Shapes
        </Typography>
        {Object.values(view.shapes).some((share) => share > 0) && (
          <Button size="small" onClick={() => change({ shapes: {} })}>
            None of them
          </Button>
        )}
      </Box>
      {names.slice(0, MOST_SLIDERS).map((name) => (
        <Box key={name} sx={{ display: 'flex', alignItems: 'center', gap: 1.5 }}>
          <Box
            sx={{ width: 120, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
            title={name}
          >
            {name}
          </Box>
          <Slider
            size="small"
            aria-label={`How much of ${name}`}
            min={0}
            max={1}
            step={0.01}
            value={view.shapes[name] ?? 0}
            onChange={(_event, share) =>
              change({ clip: -1, shapes: { ...view.shapes, [name]: share as number } })
            }
            sx={{ flex: 1 }}
          />
        </Box>
      ))}
      {names.length > MOST_SLIDERS && (
        <Box sx={{ color: 'ink2' }}>
          {plural(names.length - MOST_SLIDERS, 'more shape')}, which clips go through
        </Box>
      )}
    </Box>
  );
}
