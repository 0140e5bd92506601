import type { MediumWays } from '../../way';

/** How models are taken out. */
export const modelWays: MediumWays = {
  title: 'Models',
  one: 'model',
  usual: 'glb',
  ways: [
    {
      name: 'glb',
      label: 'as GLB',
      said: 'models as GLB',
      help: 'glTF 2.0 in one file: parts by name, bones, weights, clips, and the pictures that lie in the same archive. y up, in metres.',
    },
    {
      name: 'obj',
      label: 'as OBJ',
      said: 'models as OBJ',
      help: 'Parts with normals and texture coordinates as text; no bones, no clips.',
    },
    {
      name: 'ply',
      label: 'as PLY',
      said: 'models as PLY',
      help: 'All parts as one, with colours; no bones, no clips.',
    },
    {
      name: 'stl',
      label: 'as STL',
      said: 'models as STL',
      help: 'Triangles alone, in metres.',
    },
    {
      name: '3mf',
      label: 'as 3MF',
      said: 'models as 3MF',
      help: 'The finest level as one body for printing, in millimetres with z up, as large as it is. Mending and cutting are on the screen of the model.',
      isPacked: true,
    },
  ],
};
