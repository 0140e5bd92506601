'use client';
import { useEffect, useState } from 'react';
import * as three from 'three';
import type { FormPictures } from '@/server/looking/forms';
import type { PackedForm } from '../../core/view/pack';
import { colourPaths, dressTexture } from './texture';

/** Larger ones are shown smaller: they are looked at from afar. */
const MOST = 1024;

/** Where a picture is fetched, as it is or as a mod has it. */
export function pictureUrl(
  gameId: number,
  modId: number | undefined,
  picture: FormPictures['named'][number],
): string | undefined {
  if (picture.change && modId !== undefined)
    return `/api/games/${gameId}/mods/${modId}/changes/${picture.change.id}/picture?most=${MOST}&${picture.change.stamp}`;
  if (!picture.entry) return undefined;
  return `/api/games/${gameId}/entries/${picture.entry.archiveId}/${picture.entry.index}/picture?most=${MOST}`;
}

/** The pictures of a model's materials, by the paths that these spell; each is put on as it comes. */
export function useTextures(
  form: PackedForm | undefined,
  urls: ReadonlyMap<string, string>,
): ReadonlyMap<string, three.Texture> {
  const [textures, setTextures] = useState<ReadonlyMap<string, three.Texture>>(new Map());
  const key = JSON.stringify([...urls]);
  useEffect(() => {
    const loader = new three.TextureLoader();
    const made: three.Texture[] = [];
    let isGone = false;
    setTextures(new Map());
    const colours = colourPaths(form?.materials ?? []);
    for (const [path, url] of JSON.parse(key) as [string, string][])
      void loader.loadAsync(url).then(
        (texture) => {
          made.push(texture);
          if (isGone) return texture.dispose();
          dressTexture(texture, colours.has(path));
          setTextures((before) => new Map(before).set(path, texture));
        },
        // A picture that cannot be had leaves its part plain; the list says so.
        () => undefined,
      );
    return () => {
      isGone = true;
      for (const texture of made) texture.dispose();
    };
  }, [form, key]);
  return textures;
}
