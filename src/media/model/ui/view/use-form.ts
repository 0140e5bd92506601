'use client';
import { useQuery, type UseQueryResult } from '@tanstack/react-query';
import { useEffect, useMemo } from 'react';
import * as three from 'three';
import type { FormPictures } from '@/server/looking/forms';
import { api } from '@/ui/api';
import { isUnnamed } from '../../core/take';
import { unpackForm, type PackedForm } from '../../core/view/pack';
import { standingBones } from './bones';
import { geometryOf, type ShownForm } from './geometry';

export type { ShownForm };

/** Fetches a model; it comes packed, so that nothing is decoded here. */
export function useForm(url: string, version: string): UseQueryResult<ShownForm> {
  return useQuery({
    queryKey: ['form', url, version],
    queryFn: async ({ signal }) =>
      unpackForm(await api.buffer(`${url.replace('/api/', '')}/form?${version}`, signal)),
    retry: false,
    enabled: url !== '',
    // It is large, and what it is of is in its key.
    gcTime: 60_000,
    staleTime: Infinity,
    structuralSharing: false,
  });
}

/** Where the pictures of its materials are, as the game has them or as a mod will. */
export function useFormPictures(
  gameId: number,
  entry: { readonly archiveId: number; readonly index: number },
  form: PackedForm | undefined,
  modId: number | undefined,
): UseQueryResult<FormPictures> {
  const named = form?.materials.flatMap(({ pictures }) => Object.values(pictures)) ?? [];
  const paths = [...new Set(named)].filter((path) => !isUnnamed(path));
  const query = new URLSearchParams({ paths: JSON.stringify(paths), ...(modId && { mod: String(modId) }) });
  return useQuery({
    queryKey: ['form-pictures', gameId, entry.archiveId, entry.index, String(query)],
    queryFn: () =>
      api.get(`games/${gameId}/entries/${entry.archiveId}/${entry.index}/form/pictures?${query}`),
    enabled: form !== undefined && gameId > 0,
    retry: false,
  });
}

/** The geometry of each part; given back to the graphics card when they are not shown any more. */
export function useGeometries(shown: ShownForm): readonly three.BufferGeometry[] {
  const geometries = useMemo(() => shown.form.parts.map((part) => geometryOf(part, shown)), [shown]);
  useEffect(() => () => geometries.forEach((geometry) => geometry.dispose()), [geometries]);
  return geometries;
}

export interface Bones {
  readonly root: three.Group;
  readonly all: readonly three.Bone[];
  readonly skeleton: three.Skeleton;
}

/** The bones of a form as things that can be moved; undefined where it has none. */
export function useBones({ form }: ShownForm): Bones | undefined {
  return useMemo(() => {
    if (form.bones.length === 0) return undefined;
    const { root, all } = standingBones(form);
    const inverses = form.bones.map(({ inverse }) => new three.Matrix4().fromArray([...inverse]));
    return { root, all, skeleton: new three.Skeleton([...all], inverses) };
  }, [form]);
}

/** A clip of a form on some bones: by their names, where it is of another form. What has no such bone is left out and listed. */
export function clipOn(
  shown: ShownForm,
  number: number,
  bones: Bones,
): { readonly clip: three.AnimationClip; readonly missing: readonly string[] } {
  const packed = shown.form.clips[number]!;
  const missing = new Set<string>();
  const byName = new Map(bones.all.map((bone) => [bone.name, bone]));
  const tracks = packed.tracks.flatMap(({ bone, sort, keys, times, values }) => {
    const { name } = shown.form.bones[bone]!;
    const own = byName.get(name);
    if (!own) {
      missing.add(name);
      return [];
    }
    if (keys === 0) return [];
    const at = shown.floats(times, keys);
    if (sort === 'turn')
      return [
        new three.QuaternionKeyframeTrack(`${own.uuid}.quaternion`, at, shown.floats(values, 4 * keys)),
      ];
    const what = sort === 'place' ? 'position' : 'scale';
    return [new three.VectorKeyframeTrack(`${own.uuid}.${what}`, at, shown.floats(values, 3 * keys))];
  });
  return { clip: new three.AnimationClip(packed.name, packed.seconds, tracks), missing: [...missing] };
}
