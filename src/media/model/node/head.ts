import { endingOf, typeOfHead } from '@/core/kinds';
import { memorySource } from '@/core/bytes';
import type { Head } from '@/media/head';
import type { HeadFile } from '@/media/medium';
import type { MediaScripts } from '@/platform/node/media-scripts';
import { finestLevel, readModelHead, readOpenForm, trianglesOf, verticesOf, type Form } from '../core';
import { wrappedModelOf } from '@/platform/node/wrapped-models';

const ENDINGS = new Set(['gltf', 'glb', 'obj', 'stl', 'ply']);

/** What a model tells of itself: of one that a script describes, its finest level counts. */
export async function modelHead(
  { first, name, held, source }: HeadFile,
  scripts: MediaScripts,
): Promise<Head | undefined> {
  if (scripts(source ?? memorySource(first, name), 'model')) {
    const bytes = held();
    if (!bytes) return { sort: 'large' };
    const wrapped = wrappedModelOf(bytes, name, scripts);
    if (wrapped) return headOf(wrapped.form, wrapped.title);
  }
  const ending = endingOf(name);
  if (ending === 'dae') return colladaHead(first, name, held);
  const isModel = typeOfHead(first)?.kind === 'model' || ENDINGS.has(ending);
  return isModel ? readModelHead(held() ?? first, ending) : undefined;
}

function headOf({ parts, materials, bones, clips }: Form, format: string): Head {
  const finest = finestLevel(parts);
  const drawn = parts.filter(({ level }) => level === finest);
  return {
    ...{ sort: 'model', format },
    vertices: drawn.reduce((sum, part) => sum + verticesOf(part), 0),
    triangles: drawn.reduce((sum, part) => sum + trianglesOf(part), 0),
    ...{ meshes: drawn.length, materials: materials.length },
    ...{ clips: clips.length, joints: bones.length },
  };
}

/** A COLLADA document tells nothing short of being read: its polygons have any number of corners. */
async function colladaHead(
  first: Uint8Array,
  name: string,
  held: HeadFile['held'],
): Promise<Head | undefined> {
  if (!/<COLLADA\b/.test(new TextDecoder().decode(first.subarray(0, 4096)))) return undefined;
  const bytes = held();
  return bytes ? headOf(await readOpenForm(bytes, 'dae', name), 'COLLADA') : { sort: 'large' };
}
