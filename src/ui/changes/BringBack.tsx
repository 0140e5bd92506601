'use client';
import Box from '@mui/material/Box';
import { enqueueSnackbar } from 'notistack';
import type { ReactNode } from 'react';
import { useDropzone } from 'react-dropzone';
import { api } from '../api';
import { nameOf, plural } from '../format';
import { useAction } from '../queries';

const MOST_TOLD = 3;

interface Brought {
  readonly taken: number;
  readonly unfit: number;
  readonly refused: readonly string[];
  /** Files that no path is called like, with the entry that each was taken for, and why. */
  readonly otherwise: readonly string[];
}

/** A place that files are dropped on, as many as there are; each finds its entry by its name. */
export function BringBack({
  gameId,
  modId,
  folder = '',
  children,
}: {
  gameId: number;
  modId: number;
  folder?: string;
  children: ReactNode;
}) {
  const bring = useAction(
    async (files: readonly File[]): Promise<Brought> => {
      const refused: string[] = [];
      const otherwise: string[] = [];
      let [taken, unfit] = [0, 0];
      for (const file of files) {
        const query = new URLSearchParams({ name: file.name, folder });
        try {
          const { fit, path, by } = await api.put<{ fit: string; path: string; by: string }>(
            `games/${gameId}/mods/${modId}/incoming?${query}`,
            file,
          );
          taken++;
          if (by === 'look') otherwise.push(`${file.name} looks like ${nameOf(path)} and took its place.`);
          if (by === 'label')
            otherwise.push(`${file.name} is what ${nameOf(path)} is called, and took its place.`);
          if (fit === 'does not fit') unfit++;
        } catch (error) {
          refused.push(`${nameOf(file.name)}: ${(error as Error).message}`);
        }
      }
      return { taken, unfit, refused, otherwise };
    },
    ({ taken, unfit, refused, otherwise }) => {
      for (const words of otherwise.slice(0, MOST_TOLD)) enqueueSnackbar(words, { variant: 'info' });
      if (taken > 0)
        enqueueSnackbar(
          `${plural(taken, 'file')} brought back${unfit > 0 ? `, ${unfit} not fitting yet` : ''}.`,
          {
            variant: unfit > 0 ? 'warning' : 'success',
          },
        );
      for (const words of refused.slice(0, MOST_TOLD)) enqueueSnackbar(words, { variant: 'error' });
      if (refused.length > MOST_TOLD)
        enqueueSnackbar(`${refused.length - MOST_TOLD} more files found no entry.`, { variant: 'error' });
    },
  );
  const { getRootProps, getInputProps, isDragActive } = useDropzone({
    noClick: true,
    noKeyboard: true,
    disabled: bring.isPending,
    onDropAccepted: (files) => bring.mutate(files),
  });
  return (
    <Box
      {...getRootProps()}
      sx={{
        position: 'relative',
        minHeight: 120,
        outline: isDragActive ? '2px dashed' : 'none',
        outlineColor: 'brass',
        outlineOffset: 4,
        borderRadius: 1,
      }}
    >
      <input {...getInputProps({ 'aria-label': 'Files to bring back' })} />
      {children}
      {bring.isPending && <Box sx={{ color: 'ink2', fontSize: 13, p: 1 }}>Bringing files back</Box>}
    </Box>
  );
}
