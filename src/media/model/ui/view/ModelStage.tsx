'use client';
import CenterFocusStrongRounded from '@mui/icons-material/CenterFocusStrongRounded';
import StraightenRounded from '@mui/icons-material/StraightenRounded';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import ToggleButton from '@mui/material/ToggleButton';
import dynamic from 'next/dynamic';
import { useMemo, useState, type ReactNode } from 'react';
import type * as three from 'three';
import { useHues } from '@/ui/kit/use-hues';
import { clipOn, useGeometries, type ShownForm } from './use-form';
import { ClipBar } from './ClipBar';
import type { Lines, Spot } from './Stage';
import { framesIn } from './shape-shares';
import type { Model } from './use-model';
import { BACKGROUNDS, lengthSaid, SURFACES, type Surface } from './view-state';

const Stage = dynamic(() => import('./Stage').then((made) => made.Stage), { ssr: false });

const SURFACE_NAMES: Readonly<Record<Surface, string>> = {
  painted: 'Painted',
  grey: 'With grey maps',
  plain: 'Plain',
  normals: 'Normals',
  wire: 'Edges',
  weights: 'Weights of a bone',
};

const NO_LINES: readonly Lines[] = [];
const NOTHING_OVER: readonly three.BufferGeometry[] = [];

/** A model on its stage, with what belongs right beside it. `clips` are those of another file, where these play. */
export function ModelStage({
  shown,
  model: { view, change, bones, textures, greys },
  label,
  height,
  clips,
  lines,
  over,
  more,
}: {
  readonly shown: ShownForm;
  readonly model: Model;
  readonly label: string;
  readonly height: number | string;
  readonly clips?: ShownForm | undefined;
  /** Lines over it. */
  readonly lines?: readonly Lines[];
  /** Another model, laid over it. */
  readonly over?: readonly three.BufferGeometry[] | undefined;
  readonly more?: ReactNode;
}) {
  const hues = useHues();
  const geometries = useGeometries(shown);
  const [fits, setFits] = useState(0);
  const [isDrawn, setDrawn] = useState(false);
  const [seconds, setSeconds] = useState(0);
  const [spots, setSpots] = useState<readonly Spot[]>([]);
  const { form } = shown;
  const playing = clips ?? shown;
  const { clip } = useMemo(
    () => (bones && playing.form.clips[view.clip] ? clipOn(playing, view.clip, bones) : { clip: undefined }),
    [bones, playing, view.clip],
  );
  // Shapes are those of its own parts.
  const chosen = clips ? undefined : shown.form.clips[view.clip];
  const frames = useMemo(() => framesIn(chosen), [chosen]);
  const surfaces = SURFACES.filter(
    (one) =>
      (one !== 'weights' || form.bones.length > 0) &&
      (one !== 'grey' || form.materials.some(({ pictures }) => pictures.grey !== undefined)),
  );
  const apart =
    spots.length === 2 ? Math.hypot(...[0, 1, 2].map((i) => spots[0]![i]! - spots[1]![i]!)) : undefined;
  const levels = [...new Set(form.parts.map(({ level }) => level))].sort((a, b) => a - b);
  return (
    <Box>
      <Box
        data-stage
        data-drawn={isDrawn || undefined}
        role="application"
        aria-label={`${label}: arrow keys turn it, plus and minus come nearer and go back`}
        tabIndex={0}
        sx={{
          height,
          border: 1,
          borderColor: 'line',
          borderRadius: 1,
          overflow: 'hidden',
          bgcolor: 'background.default',
          '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
        }}
      >
        <Stage
          {...{ shown, geometries, bones, view, textures, greys, clip, frames, seconds, spots, fits }}
          lines={lines ?? NO_LINES}
          over={over ?? NOTHING_OVER}
          onSpot={(spot) => setSpots((before) => (before.length === 1 ? [before[0]!, spot] : [spot]))}
          {...(view.background === 'page'
            ? { background: hues.stage, ink: hues.lines }
            : BACKGROUNDS[view.background])}
          onDrawn={() => setDrawn(true)}
        />
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75, mt: 0.75, flexWrap: 'wrap' }}>
        <Select
          size="small"
          value={view.surface}
          onChange={({ target }) => change({ surface: target.value })}
          inputProps={{ 'aria-label': 'Surface' }}
        >
          {surfaces.map((one) => (
            <MenuItem key={one} value={one}>
              {SURFACE_NAMES[one]}
            </MenuItem>
          ))}
        </Select>
        {levels.length > 1 && (
          <Select
            size="small"
            value={view.level}
            onChange={({ target }) => change({ level: Number(target.value) })}
            inputProps={{ 'aria-label': 'Level of detail' }}
          >
            {levels.map((one) => (
              <MenuItem key={one} value={one}>
                {one === 0 ? 'Level 0, the finest' : `Level ${one}`}
              </MenuItem>
            ))}
          </Select>
        )}
        <IconButton
          size="small"
          aria-label="See all of it"
          title="See all of it"
          onClick={() => setFits(fits + 1)}
        >
          <CenterFocusStrongRounded fontSize="small" />
        </IconButton>
        <ToggleButton
          size="small"
          value="measure"
          selected={view.isMeasuring}
          onChange={() => {
            setSpots([]);
            change({ isMeasuring: !view.isMeasuring });
          }}
          aria-label="Measure between two spots"
          title="Measure between two spots"
          sx={{ p: 0.4 }}
        >
          <StraightenRounded fontSize="small" />
        </ToggleButton>
        {view.isMeasuring && (
          <Box role="status" sx={{ color: 'ink2', fontSize: 12.5 }}>
            {apart === undefined ? 'Press two spots on it' : lengthSaid(apart)}
          </Box>
        )}
        {more}
      </Box>
      {(bones ?? playing.form.clips.some(framesIn)) && playing.form.clips.length > 0 && (
        <Box sx={{ mt: 0.75 }}>
          <ClipBar
            clips={playing.form.clips}
            chosen={view.clip}
            onChoose={(one) => change({ clip: one })}
            {...{ seconds }}
            onSeconds={setSeconds}
          />
        </Box>
      )}
    </Box>
  );
}
