import * as three from 'three';
import type { Box } from '../../core/form/form';
import { finestLevel } from '../../core/form/form';
import { unpackForm } from '../../core/view/pack';
import { standingBones } from '../view/bones';
import { geometryOf, type ShownForm } from '../view/geometry';
import { surfaceOf } from '../view/surface';
import { colourPaths, dressTexture } from '../view/texture';
import type { FromPortraitWorker, NamedPictures, ToPortraitWorker } from './portrait-messages';

/** Dots of a side; twice of what is shown, so that edges are smooth. */
const SIDE = 320;
const MOST_PICTURE = 256;
const VIEW_DEGREES = 30;

let stage: three.WebGLRenderer | undefined;

async function fetched(url: string, init?: RequestInit): Promise<Response> {
  const response = await fetch(url, init);
  if (response.ok) return response;
  const told = (await response.json().catch(() => ({}))) as { error?: string };
  throw new Error(told.error ?? `the server answers ${response.status}`);
}

/** The pictures of its materials that are there, by the paths that these spell. */
async function texturesOf(
  { form }: ShownForm,
  { url, entries }: ToPortraitWorker,
): Promise<Map<string, three.Texture>> {
  const colours = colourPaths(form.materials);
  const paths = [...new Set(form.materials.flatMap(({ pictures }) => Object.values(pictures)))];
  const found = new Map<string, three.Texture>();
  if (paths.length === 0) return found;
  const query = new URLSearchParams({ paths: JSON.stringify(paths) });
  const { named } = (await (await fetched(`${url}/form/pictures?${query}`)).json()) as {
    named: NamedPictures;
  };
  for (const { path, entry } of named) {
    if (!entry) continue;
    try {
      const picture = await fetched(
        `${entries}/${entry.archiveId}/${entry.index}/picture?most=${MOST_PICTURE}`,
      );
      const texture = new three.Texture(await createImageBitmap(await picture.blob()));
      dressTexture(texture, colours.has(path));
      texture.needsUpdate = true;
      found.set(path, texture);
    } catch {
      // A picture that cannot be had leaves its part plain.
    }
  }
  return found;
}

/** Bones of what has nothing else, as lines from each to what hangs on it. */
function boneLines({ form }: ShownForm): three.Object3D {
  const { root } = standingBones(form);
  const lines = new three.SkeletonHelper(root);
  const material = lines.material as three.LineBasicMaterial;
  material.vertexColors = false;
  material.color.set('#8a8069');
  return new three.Group().add(root, lines);
}

function sceneOf(shown: ShownForm, textures: ReadonlyMap<string, three.Texture>): three.Scene {
  const { parts, materials } = shown.form;
  const scene = new three.Scene();
  const finest = finestLevel(parts);
  for (const part of parts.filter(({ level }) => level === finest))
    scene.add(
      new three.Mesh(geometryOf(part, shown), surfaceOf('painted', materials[part.material], textures)),
    );
  if (parts.length === 0) scene.add(boneLines(shown));
  return scene;
}

/** Looked at from in front, a little from above and from the side, so that all of its box is seen. */
function eyeOn(box: Box, scene: three.Scene): three.PerspectiveCamera {
  const [low, high] = [new three.Vector3(...box.low), new three.Vector3(...box.high)];
  const middle = low.clone().add(high).multiplyScalar(0.5);
  const reach = Math.max(1e-4, high.distanceTo(low) / 2);
  const away = (reach * 1.02) / Math.sin(((VIEW_DEGREES / 2) * Math.PI) / 180);
  const eye = new three.PerspectiveCamera(VIEW_DEGREES, 1, reach / 100, reach * 200);
  eye.position.set(middle.x + away * 0.52, middle.y + away * 0.26, middle.z + away * 0.81);
  eye.lookAt(middle);
  const [sun, other] = [
    new three.DirectionalLight('#ffffff', 1.7),
    new three.DirectionalLight('#ffffff', 0.5),
  ];
  sun.position.set(reach * 2, reach * 4, reach * 3);
  other.position.set(-reach * 3, reach, -reach * 2);
  scene.add(new three.HemisphereLight('#ffffff', '#8d8672', 1.6), sun, other);
  return eye;
}

async function drawn(shown: ShownForm, textures: ReadonlyMap<string, three.Texture>): Promise<Blob> {
  stage ??= new three.WebGLRenderer({
    canvas: new OffscreenCanvas(SIDE, SIDE),
    ...{ antialias: true, alpha: true, preserveDrawingBuffer: true },
  });
  const { box } = shown.form;
  if (!box) throw new Error('It has neither triangles nor bones');
  const scene = sceneOf(shown, textures);
  try {
    stage.render(scene, eyeOn(box, scene));
    return await (stage.domElement as unknown as OffscreenCanvas).convertToBlob({ type: 'image/png' });
  } finally {
    scene.traverse((one) => {
      if (!(one instanceof three.Mesh || one instanceof three.LineSegments)) return;
      (one.geometry as three.BufferGeometry).dispose();
      (one.material as three.Material).dispose();
    });
    for (const texture of textures.values()) texture.dispose();
  }
}

const inBase64 = (blob: Blob): Promise<string> =>
  new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.addEventListener('load', () => resolve((reader.result as string).split(',')[1]!));
    reader.addEventListener('error', () => reject(new Error('The picture cannot be read')));
    reader.readAsDataURL(blob);
  });

/** Has the server keep a picture of a model, which is drawn here unless it has one. */
async function portray(asked: ToPortraitWorker): Promise<void> {
  const { url } = asked;
  if ((await fetched(`${url}/portrait`)).status === 200) return;
  const shown = unpackForm(await (await fetched(`${url}/form`)).arrayBuffer());
  const blob = await drawn(shown, await texturesOf(shown, asked));
  const png = await inBase64(blob);
  await fetched(`${url}/portrait`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ png }),
  });
}

self.addEventListener('message', ({ data }: MessageEvent<ToPortraitWorker>) => {
  void portray(data).then(
    () => self.postMessage({ url: data.url } satisfies FromPortraitWorker),
    (error: unknown) =>
      self.postMessage({
        url: data.url,
        error: error instanceof Error ? error.message : String(error),
      } satisfies FromPortraitWorker),
  );
});
