'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import dynamic from 'next/dynamic';
import { useMemo, useState } from 'react';
import type * as three from 'three';
import { nameOf, number, plural } from '@/ui/format';
import { useHues } from '@/ui/kit/use-hues';
import { coordinateLines } from '../../core/view/coordinates';
import type { ShownForm } from './use-form';

const CoordinatesStage = dynamic(() => import('./CoordinatesStage').then((made) => made.CoordinatesStage), {
  ssr: false,
});

/** The parts that some materials cover, as they lie on a picture of these. */
export function CoordinatesDialog({
  shown,
  level,
  materials,
  path,
  texture,
  onClose,
}: {
  readonly shown: ShownForm;
  readonly level: number;
  /** Numbers of the materials that have the picture. */
  readonly materials: readonly number[];
  readonly path: string;
  readonly texture: three.Texture | undefined;
  readonly onClose: () => void;
}) {
  const hues = useHues();
  const own = useMemo(
    () => shown.form.parts.filter((part) => part.level === level && materials.includes(part.material)),
    [shown, level, materials],
  );
  const sets = Math.max(0, ...own.map(({ coordinates }) => coordinates.length));
  const [set, setSet] = useState(0);
  const [isDrawn, setDrawn] = useState(false);
  const lines = useMemo(
    () =>
      own.flatMap((part) => {
        const at = part.coordinates[set];
        if (at === undefined) return [];
        const corners = shown.corners(part.corners, 3 * part.triangles);
        return [coordinateLines(shown.floats(at, 2 * part.vertices), corners)];
      }),
    [own, set, shown],
  );
  const triangles = own.reduce(
    (all, part) => all + (part.coordinates[set] === undefined ? 0 : part.triangles),
    0,
  );
  const outside = lines.reduce((all, part) => all + part.outside, 0);
  return (
    <Dialog open onClose={onClose} maxWidth="lg" fullWidth>
      <DialogTitle>Coordinates over {nameOf(path)}</DialogTitle>
      <DialogContent>
        {sets === 0 ? (
          <Box sx={{ color: 'ink2' }}>
            No part that has this picture brings coordinates along. A model without any is painted in one hue;
            give one with coordinates in its place to paint it.
          </Box>
        ) : (
          <>
            <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', mb: 1, flexWrap: 'wrap' }}>
              <Box role="status">
                {number(triangles)} triangles of {own.map(({ name }) => name).join(', ')}
                {outside > 0
                  ? `; ${plural(outside, 'triangle')} beyond the picture, where it goes on anew`
                  : ''}
              </Box>
              {sets > 1 && (
                <Select
                  size="small"
                  value={set}
                  onChange={({ target }) => setSet(Number(target.value))}
                  inputProps={{ 'aria-label': 'Set of coordinates' }}
                >
                  {Array.from({ length: sets }, (_, i) => (
                    <MenuItem key={i} value={i}>
                      Set {i + 1}
                    </MenuItem>
                  ))}
                </Select>
              )}
            </Box>
            <Box
              data-stage
              data-drawn={isDrawn || undefined}
              role="application"
              aria-label="Coordinates over the picture: arrow keys move it, plus and minus come nearer and go back"
              tabIndex={0}
              sx={{ height: '62vh', border: 1, borderColor: 'line', borderRadius: 1, overflow: 'hidden' }}
            >
              <CoordinatesStage
                parts={lines}
                {...{ texture }}
                background={hues.stage}
                ink={hues.lines}
                onDrawn={() => setDrawn(true)}
              />
            </Box>
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
