'use client';
import { useMemo, useState } from 'react';
import type { FormPicture } from '@/server/looking/forms';
import { finestLevel } from '../../core/form/form';
import { pictureUrl, useTextures } from './use-textures';
import { useBones, useFormPictures, type ShownForm } from './use-form';
import { useGreys } from '../use-greys';
import { FIRST_VIEW, type ModelViewState } from './view-state';

/** An entry whose model is shown. */
export interface OnStage {
  readonly gameId: number;
  readonly archiveId: number;
  readonly index: number;
  /** The mod whose pictures are put on; undefined for those of the game. */
  readonly modId: number | undefined;
}

/** Pictures that were put on by hand, by the paths that materials spell. */
export type Worn = ReadonlyMap<string, FormPicture>;
export const NOTHING_WORN: Worn = new Map();

/** What is shown of a model, and what it is painted with. */
export function useModel(shown: ShownForm, on: OnStage, worn: Worn) {
  const [view, setView] = useState<ModelViewState>({
    ...FIRST_VIEW,
    level: finestLevel(shown.form.parts),
    // Of what has nothing but bones these are seen.
    showsBones: shown.form.parts.length === 0,
  });
  const change = (to: Partial<ModelViewState>): void => setView((before) => ({ ...before, ...to }));
  const [greys] = useGreys(on.gameId);
  const bones = useBones(shown);
  const pictures = useFormPictures(on.gameId, on, shown.form, on.modId);
  const urls = useMemo(() => {
    const all = new Map<string, string>();
    for (const picture of pictures.data?.named ?? []) {
      const url = pictureUrl(on.gameId, on.modId, picture);
      if (url !== undefined) all.set(picture.path, url);
    }
    for (const [path, picture] of worn) {
      const url = pictureUrl(on.gameId, on.modId, picture);
      if (url !== undefined) all.set(path, url);
    }
    return all;
  }, [pictures.data, on.gameId, on.modId, worn]);
  const textures = useTextures(shown.form, urls);
  return { view, change, bones, pictures, textures, greys };
}

export type Model = ReturnType<typeof useModel>;
