'use client';
import { enqueueSnackbar } from 'notistack';
import { api } from '../api';
import { nameOf } from '../format';
import { useAction } from '../queries';
import { useMod } from '../use-mod';

const SAID = {
  fits: 'it fits',
  look: 'there is something to look at; see Changes',
  'let pass': 'what is to be looked at is let pass in this mod',
  'does not fit': 'it does not fit yet; see Changes for the mend',
} as const;

export interface Replacement {
  readonly path: string;
  readonly archiveId: number;
  readonly index: number;
  readonly file: File;
  /** The mod it goes into, where it is not the one that is worked on. */
  readonly modId?: number;
  /** Called once it is kept, also when another entry is looked at by then. */
  readonly done?: (() => void) | undefined;
}

/** Puts a file in the place of an entry, in the mod that is worked on. */
export function useReplace(gameId: number) {
  const { mod } = useMod(gameId);
  const action = useAction(
    ({ archiveId, index, file, modId }: Replacement) => {
      const into = modId ?? mod?.id;
      if (into === undefined) throw new Error('Make a mod first; it gathers the changes.');
      const query = new URLSearchParams({
        archive: String(archiveId),
        index: String(index),
        name: file.name,
      });
      return api.put<{ fit: keyof typeof SAID }>(`games/${gameId}/mods/${into}/changes?${query}`, file);
    },
    ({ fit }, { path, done }) => {
      done?.();
      enqueueSnackbar(`${nameOf(path)} replaced; ${SAID[fit]}.`, {
        variant: fit === 'fits' ? 'success' : 'warning',
      });
    },
  );
  return { mod, action };
}
