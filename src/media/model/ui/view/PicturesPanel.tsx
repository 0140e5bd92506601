'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { PageLink } from '@/ui/kit/PageLink';
import type { FormPicture } from '@/server/looking/forms';
import { isUnnamed } from '../../core/take';
import { nameOf } from '@/ui/format';
import { GreyFields } from '../GreyFields';
import { useGreys } from '../use-greys';
import { CoordinatesDialog } from './CoordinatesDialog';
import type { ShownForm } from './use-form';
import type { Model, Worn } from './use-model';

const ROLE_NAMES = {
  colour: 'Colour',
  normal: 'Normal',
  grey: 'Grey maps',
  glow: 'Glow',
  mask: 'Mask',
} as const;

/** What the materials are painted with: what they name, or what is put on by hand. */
export function PicturesPanel({
  gameId,
  shown,
  model: { pictures, textures, view },
  worn,
  path,
  onWorn,
}: {
  readonly gameId: number;
  readonly shown: ShownForm;
  readonly model: Model;
  readonly worn: Worn;
  readonly path: string;
  /** Puts a picture on in the place of another; undefined takes it off again. */
  readonly onWorn: (path: string, picture: FormPicture | undefined) => void;
}) {
  const { data, error } = pictures;
  const [greys, keepGreys] = useGreys(gameId);
  const [flat, setFlat] = useState<string>();
  const { materials } = shown.form;
  const having = useMemo(
    () =>
      materials.flatMap(({ pictures: own }, i) =>
        flat !== undefined && Object.values(own).includes(flat) ? [i] : [],
      ),
    [materials, flat],
  );
  const found = new Map(data?.named.map((picture) => [picture.path, picture]));
  const folder = path.slice(0, path.lastIndexOf('/') + 1);
  const rows = materials.flatMap(({ name, pictures: own }) =>
    Object.entries(own).map(([role, of]) => ({ name, role: role as keyof typeof ROLE_NAMES, of })),
  );
  return (
    <Box>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        Pictures
      </Typography>
      {error && <Box sx={{ color: 'ink2' }}>{error.message}</Box>}
      {rows.length === 0 && <Box sx={{ color: 'ink2', mb: 0.5 }}>It has no materials.</Box>}
      {rows.map(({ name, role, of }) => {
        const picture = found.get(of);
        return (
          <Box key={`${name} ${role}`} sx={{ mb: 0.75 }}>
            <Box sx={{ color: 'ink2', fontSize: 12.5 }}>
              {name}, {ROLE_NAMES[role]}
              {picture?.change ? ', changed' : ''}
            </Box>
            {picture?.entry ? (
              <Link
                component={PageLink}
                href={`/games/${gameId}/contents?entry=${picture.entry.archiveId}:${picture.entry.index}`}
                title={of}
                className="mono"
                sx={{ overflowWrap: 'anywhere' }}
              >
                {nameOf(picture.entry.path)}
              </Link>
            ) : (
              data && (
                <Box title={of} sx={{ fontSize: 12.5, overflowWrap: 'anywhere' }}>
                  {isUnnamed(of) ? 'It names none' : `${nameOf(of)}: no open archive has it`}
                </Box>
              )
            )}
            {textures.has(of) && (
              <Button
                size="small"
                onClick={() => setFlat(of)}
                sx={{ display: 'block', px: 0, minHeight: 26 }}
              >
                Coordinates over it
              </Button>
            )}
            {data && data.likely.length > 0 && (
              <Select
                size="small"
                displayEmpty
                value={worn.get(of)?.path ?? ''}
                onChange={({ target }) =>
                  onWorn(
                    of,
                    data.likely.find((one) => one.path === target.value),
                  )
                }
                inputProps={{ 'aria-label': `Picture for ${name}, ${ROLE_NAMES[role]}` }}
                sx={{ maxWidth: '100%' }}
              >
                <MenuItem value="">
                  {picture?.entry ? 'As its material says' : 'Put one on by its name'}
                </MenuItem>
                {data.likely.map((one) => (
                  <MenuItem key={one.path} value={one.path}>
                    {nameOf(one.path)}
                  </MenuItem>
                ))}
              </Select>
            )}
          </Box>
        );
      })}
      {rows.some(({ role }) => role === 'grey') && (
        <Box sx={{ mb: 0.75 }}>
          <GreyFields greys={greys} onChange={keepGreys} />
        </Box>
      )}
      {flat !== undefined && (
        <CoordinatesDialog
          {...{ shown }}
          level={view.level}
          materials={having}
          path={worn.get(flat)?.path ?? found.get(flat)?.entry?.path ?? flat}
          texture={textures.get(flat)}
          onClose={() => setFlat(undefined)}
        />
      )}
      <Button
        size="small"
        component={PageLink}
        href={`/games/${gameId}/contents?kind=picture&folder=${encodeURIComponent(folder)}`}
      >
        Look through the pictures of its folder
      </Button>
    </Box>
  );
}
