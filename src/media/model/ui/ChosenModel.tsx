'use client';
import Button from '@mui/material/Button';
import { PageLink } from '@/ui/kit/PageLink';
import { useSearchParams } from 'next/navigation';
import type { ReactNode } from 'react';
import { parseEntry } from '@/ui/contents/url-state';
import { Blank } from '@/ui/kit/Blank';

/** A model, by where it is. */
export interface ModelPlace {
  readonly gameId: number;
  readonly archiveId: number;
  readonly index: number;
}

/** The model that the address names; without one it says how to choose one. */
export function ChosenModel({
  gameId,
  how,
  children,
}: {
  readonly gameId: number;
  /** What to do to come here with one. */
  readonly how: ReactNode;
  readonly children: (place: ModelPlace) => ReactNode;
}) {
  const entry = parseEntry(useSearchParams().get('entry') ?? '');
  if (entry) return children({ gameId, ...entry });
  return (
    <Blank
      title="No model chosen"
      action={
        <Button component={PageLink} href={`/games/${gameId}/contents?kind=model`} variant="contained">
          To the models
        </Button>
      }
    >
      {how}
    </Blank>
  );
}
