'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Typography from '@mui/material/Typography';
import NextLink from 'next/link';
import { nameOf } from '@/ui/format';
import type { ShownForm } from './use-form';
import type { Model } from './use-model';
import { pictureUrl } from './use-textures';

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
  model: { pictures },
  said,
  modId,
  path,
  onSaid,
}: {
  readonly gameId: number;
  readonly shown: ShownForm;
  readonly model: Model;
  readonly said: ReadonlyMap<string, string>;
  readonly modId: number | undefined;
  readonly path: string;
  readonly onSaid: (picture: string, url: string) => void;
}) {
  const { data, error } = pictures;
  const { materials } = shown.form;
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
      {rows.length === 0 && <Box sx={{ color: 'ink2', mb: 0.5 }}>Its materials name no pictures.</Box>}
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
                component={NextLink}
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
                  {nameOf(of)}: no open archive has it
                </Box>
              )
            )}
            {data && data.likely.length > 0 && !picture?.entry && (
              <Select
                size="small"
                displayEmpty
                value={said.get(of) ?? ''}
                onChange={({ target }) => onSaid(of, target.value)}
                inputProps={{ 'aria-label': `Picture for ${name}, ${ROLE_NAMES[role]}` }}
                sx={{ maxWidth: '100%' }}
              >
                <MenuItem value="">Put one on by its name</MenuItem>
                {data.likely.map((one) => (
                  <MenuItem key={one.path} value={pictureUrl(gameId, modId, one) ?? ''}>
                    {nameOf(one.path)}
                  </MenuItem>
                ))}
              </Select>
            )}
          </Box>
        );
      })}
      <Button
        size="small"
        component={NextLink}
        href={`/games/${gameId}/contents?kind=picture&folder=${encodeURIComponent(folder)}`}
      >
        Look through the pictures of its folder
      </Button>
    </Box>
  );
}
