import * as three from 'three';
import type { Material } from '../../core/form/form';
import type { Greys } from '../../core/take';
import { greySurface } from './grey-surface';
import type { ModelViewState } from './view-state';

const PLAIN = '#c9c1ad';

/** What a part is covered with; pictures by the paths that its material spells. */
export function surfaceOf(
  surface: ModelViewState['surface'],
  material: Material | undefined,
  textures: ReadonlyMap<string, three.Texture>,
  greys: Greys = {},
): three.Material {
  const side = three.DoubleSide;
  if (surface === 'normals') return new three.MeshNormalMaterial({ side });
  if (surface === 'weights') return new three.MeshLambertMaterial({ vertexColors: true, side });
  if (surface === 'wire') return new three.MeshBasicMaterial({ color: '#4f8f88', wireframe: true });
  if (surface === 'plain' || !material) return new three.MeshLambertMaterial({ color: PLAIN, side });
  const { pictures, colour } = material;
  const map = pictures.colour === undefined ? undefined : textures.get(pictures.colour);
  const normalMap = pictures.normal === undefined ? undefined : textures.get(pictures.normal);
  const emissiveMap = pictures.glow === undefined ? undefined : textures.get(pictures.glow);
  const grey = pictures.grey === undefined ? undefined : textures.get(pictures.grey);
  const options = {
    side,
    ...(map && { map }),
    ...(normalMap && { normalMap }),
    ...(emissiveMap && { emissiveMap, emissive: new three.Color('#ffffff') }),
  };
  // Without gloss it is drawn in three quarters of the time where no graphics card helps.
  const made =
    surface === 'grey' ? greySurface(options, grey, greys) : new three.MeshLambertMaterial(options);
  made.color.setRGB(colour[0], colour[1], colour[2]);
  if (!map && colour.every((value) => value === 1)) made.color.set(PLAIN);
  // Texels that are hardly there are not drawn; soft ones are.
  if (map || colour[3] < 1) {
    made.transparent = colour[3] < 1 || map?.userData.isSeeThrough === true;
    made.opacity = colour[3];
    made.alphaTest = 0.02;
  }
  return made;
}
