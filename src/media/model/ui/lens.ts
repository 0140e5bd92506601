import { counted, joined, toldOf, type MediumLens } from '@/ui/contents/lens';
import { number } from '@/ui/format';

const TRIANGLES = counted('Triangles', 80, 'triangles', 'model', ({ triangles }) => triangles);

/** Models in lists. */
export const modelLens: MediumLens = {
  kind: 'model',
  title: 'Models',
  measured: {
    words: ['triangles', 'vertices', 'bones', 'clips'],
    title: 'Triangles, vertices, bones and clips',
  },
  columns: [
    { ...TRIANGLES, value: (head, item) => TRIANGLES.value(head, item) || toldOf(head) },
    counted('Vertices', 72, 'vertices', 'model', ({ vertices }) => vertices),
    counted('Bones', 52, 'bones', 'model', ({ joints }) => joints),
    counted('Clips', 46, 'clips', 'model', ({ clips }) => clips),
  ],
  spelled(head) {
    if (head.sort !== 'model') return '';
    return joined([
      `${number(head.triangles)} triangles`,
      `${number(head.vertices)} vertices`,
      head.meshes === undefined ? undefined : `${head.meshes} meshes`,
      head.materials ? `${head.materials} materials` : undefined,
      head.clips ? `${head.clips} clips` : undefined,
      head.joints ? `${head.joints} bones` : undefined,
      head.format,
    ]);
  },
};
