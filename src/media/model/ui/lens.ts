import { column, joined, toldOf, type MediumLens } from '@/ui/contents/lens';
import { number } from '@/ui/format';

/** Models in lists. */
export const modelLens: MediumLens = {
  kind: 'model',
  title: 'Models',
  columns: [
    {
      title: 'Triangles',
      width: '80px',
      value: (head) => (head.sort === 'model' ? number(head.triangles) : toldOf(head)),
    },
    column('Vertices', 72, 'model', ({ vertices }) => vertices),
    column('Meshes', 56, 'model', ({ meshes }) => meshes),
    column('Clips', 42, 'model', ({ clips }) => clips),
  ],
  spelled(head) {
    if (head.sort !== 'model') return '';
    return joined([
      `${number(head.triangles)} triangles`,
      `${number(head.vertices)} vertices`,
      head.meshes === undefined ? undefined : `${head.meshes} meshes`,
      head.materials ? `${head.materials} materials` : undefined,
      head.clips ? `${head.clips} clips` : undefined,
      head.joints ? `${head.joints} joints` : undefined,
      head.format,
    ]);
  },
};
