import { endingOf, typeOfHead } from '@/core/kinds';
import { memorySource } from '@/core/bytes';
import type { Head } from '@/media/head';
import type { HeadFile } from '@/media/medium';
import type { MediaScripts } from '@/platform/node/media-scripts';
import { finestLevel, readModelHead, trianglesOf, verticesOf } from '../core';
import { wrappedModelOf } from '@/platform/node/wrapped-models';

const ENDINGS = new Set(['gltf', 'glb', 'obj', 'stl', 'ply']);

/** What a model tells of itself: of one that a script describes, its finest level counts. */
export function modelHead(
  { first, name, held, source }: HeadFile,
  scripts: MediaScripts,
): Promise<Head | undefined> {
  if (scripts(source ?? memorySource(first, name), 'model')) {
    const bytes = held();
    if (!bytes) return Promise.resolve({ sort: 'large' });
    const wrapped = wrappedModelOf(bytes, name, scripts);
    if (wrapped) {
      const { parts, materials, bones, clips } = wrapped.form;
      const finest = finestLevel(parts);
      const drawn = parts.filter(({ level }) => level === finest);
      return Promise.resolve({
        sort: 'model',
        format: wrapped.title,
        vertices: drawn.reduce((sum, part) => sum + verticesOf(part), 0),
        triangles: drawn.reduce((sum, part) => sum + trianglesOf(part), 0),
        ...{ meshes: drawn.length, materials: materials.length },
        ...{ clips: clips.length, joints: bones.length },
      });
    }
  }
  const ending = endingOf(name);
  const isModel = typeOfHead(first)?.kind === 'model' || ENDINGS.has(ending);
  return Promise.resolve(isModel ? readModelHead(held() ?? first, ending) : undefined);
}
