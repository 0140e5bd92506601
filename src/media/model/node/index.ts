import { endingOf, typeOfHead } from '@/core/kinds';
import type { MediumNode } from '@/media/medium';
import { readModelHead } from '../core';

const ENDINGS = new Set(['gltf', 'glb', 'obj', 'stl', 'ply']);

/** Models, where there is Node. */
export const modelNode: MediumNode = {
  kind: 'model',
  head({ first, name, held }) {
    const ending = endingOf(name);
    const isModel = typeOfHead(first)?.kind === 'model' || ENDINGS.has(ending);
    return Promise.resolve(isModel ? readModelHead(held() ?? first, ending) : undefined);
  },
};
