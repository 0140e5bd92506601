'use client';
import Button from '@mui/material/Button';
import { enqueueSnackbar } from 'notistack';
import { useRef, useState } from 'react';
import type { ChangeView } from '@/server/mods/mods';
import { api } from '../api';
import { plural } from '../format';
import { useAction } from '../queries';

/** A change may want several mends, one after the other. */
const MOST_ROUNDS = 4;

/** The mend that what does not fit asks for first; undefined where there is none. */
const mendOf = ({ fit, findings }: ChangeView): string | undefined =>
  fit === 'does not fit'
    ? findings.find(({ state, mends }) => state === 'does not fit' && mends.length > 0)?.mends[0]?.name
    : undefined;

interface Mended {
  readonly mended: number;
  readonly left: number;
}

/** Applies to everything that does not fit the mend that it asks for first, one after the other; it can be stopped, and each can be undone. */
export function MendAll({ url, changes }: { url: string; changes: readonly ChangeView[] }) {
  const [at, setAt] = useState<readonly [done: number, of: number]>();
  const isStopped = useRef(false);
  const open = changes.filter((change) => mendOf(change) !== undefined);
  const all = useAction(
    async (): Promise<Mended> => {
      isStopped.current = false;
      const tried = new Set<string>();
      const first = open.length;
      for (let round = 0; round < MOST_ROUNDS; round++) {
        const now = await api.get<ChangeView[]>(url);
        const todo = now.flatMap((change) => {
          const mend = mendOf(change);
          return mend === undefined || tried.has(`${change.id} ${mend}`) ? [] : [{ id: change.id, mend }];
        });
        if (todo.length === 0) break;
        for (const [i, { id, mend }] of todo.entries()) {
          if (isStopped.current) break;
          setAt([i, todo.length]);
          tried.add(`${id} ${mend}`);
          await api.post(`${url}/${id}`, { mend });
        }
        if (isStopped.current) break;
      }
      setAt(undefined);
      const left = (await api.get<ChangeView[]>(url)).filter(({ fit }) => fit === 'does not fit').length;
      return { mended: Math.max(0, first - left), left };
    },
    ({ mended, left }) =>
      enqueueSnackbar(`${plural(mended, 'change')} mended${left > 0 ? `, ${left} not fitting yet` : ''}.`, {
        variant: left > 0 ? 'warning' : 'success',
      }),
  );
  if (all.isPending)
    return (
      <Button variant="outlined" onClick={() => (isStopped.current = true)}>
        {at ? `Mending ${at[0] + 1} of ${at[1]}` : 'Mending'}: stop
      </Button>
    );
  // One by itself is mended where it is shown.
  if (open.length < 2) return null;
  return (
    <Button variant="outlined" onClick={() => all.mutate(undefined)}>
      Mend all {open.length}
    </Button>
  );
}
