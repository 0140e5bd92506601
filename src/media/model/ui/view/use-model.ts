'use client';
import { useMemo, useState } from 'react';
import { finestLevel } from '../../core/form/form';
import { pictureUrl, useTextures } from './use-textures';
import { useBones, useFormPictures, type ShownForm } from './use-form';
import { FIRST_VIEW, type ModelViewState } from './view-state';

/** An entry whose model is shown. */
export interface OnStage {
  readonly gameId: number;
  readonly archiveId: number;
  readonly index: number;
  /** The mod whose pictures are put on; undefined for those of the game. */
  readonly modId: number | undefined;
}

/** What is shown of a model, and what it is painted with. `said` are pictures that were put on by hand, by the paths of materials. */
export function useModel(shown: ShownForm, on: OnStage, said: ReadonlyMap<string, string>) {
  const [view, setView] = useState<ModelViewState>({
    ...FIRST_VIEW,
    level: finestLevel(shown.form.parts),
    // Of what has nothing but bones these are seen.
    showsBones: shown.form.parts.length === 0,
  });
  const change = (to: Partial<ModelViewState>): void => setView((before) => ({ ...before, ...to }));
  const bones = useBones(shown);
  const pictures = useFormPictures(on.gameId, on, shown.form, on.modId);
  const urls = useMemo(() => {
    const all = new Map<string, string>();
    for (const picture of pictures.data?.named ?? []) {
      const url = pictureUrl(on.gameId, on.modId, picture);
      if (url !== undefined) all.set(picture.path, url);
    }
    for (const [path, url] of said) all.set(path, url);
    return all;
  }, [pictures.data, on.gameId, on.modId, said]);
  const textures = useTextures(shown.form, urls);
  return { view, change, bones, pictures, textures };
}

export type Model = ReturnType<typeof useModel>;
