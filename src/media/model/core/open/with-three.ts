import * as three from 'three';
import { OBJExporter } from 'three/examples/jsm/exporters/OBJExporter.js';
import { PLYExporter } from 'three/examples/jsm/exporters/PLYExporter.js';
import { STLExporter } from 'three/examples/jsm/exporters/STLExporter.js';
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { PLYLoader } from 'three/examples/jsm/loaders/PLYLoader.js';
import { STLLoader } from 'three/examples/jsm/loaders/STLLoader.js';
import { mergeVertices } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import type { Form, Material, Part } from '../form/form';
import { upTo } from '../streams/triangles';

/** OBJ, PLY and STL as the package three reads and writes them; they know neither bones nor clips. */

/** Throws what the package throws where the text is none. */
export function readObj(text: string): Form {
  const materials: Material[] = [];
  const parts = new OBJLoader()
    .parse(text)
    .children.flatMap((child): Part[] => (child instanceof three.Mesh ? partsOfMesh(child, materials) : []));
  return { parts, materials, bones: [], clips: [] };
}

function partsOfMesh(mesh: three.Mesh, materials: Material[]): Part[] {
  const geometry = mesh.geometry as three.BufferGeometry;
  const own = (Array.isArray(mesh.material) ? mesh.material : [mesh.material]) as three.MeshPhongMaterial[];
  const groups =
    geometry.groups.length > 0
      ? geometry.groups
      : [{ start: 0, count: geometry.getAttribute('position').count, materialIndex: 0 }];
  return groups.map(({ start, count, materialIndex = 0 }) => {
    const piece = new three.BufferGeometry();
    for (const name of ['position', 'normal', 'uv', 'color']) {
      const attribute = geometry.getAttribute(name) as three.BufferAttribute | undefined;
      if (!attribute) continue;
      const { itemSize } = attribute;
      const values = new Float32Array(attribute.array).subarray(start * itemSize, (start + count) * itemSize);
      piece.setAttribute(name, new three.BufferAttribute(values, itemSize));
    }
    const name = own[materialIndex]?.name ?? '';
    return {
      ...partOfGeometry(mergeVertices(piece, 0)),
      name: mesh.name,
      material: name === '' ? -1 : materialNumber(materials, name),
    };
  });
}

function materialNumber(materials: Material[], name: string): number {
  const known = materials.findIndex((material) => material.name === name);
  if (known >= 0) return known;
  materials.push({ name, colour: [1, 1, 1, 1], pictures: {}, isTwoSided: false });
  return materials.length - 1;
}

export const readPly = (bytes: Uint8Array): Form => single(new PLYLoader().parse(bufferOf(bytes)));
/** STL has three vertices for each triangle; those at one place with one normal become one. */
export const readStl = (bytes: Uint8Array): Form =>
  single(mergeVertices(new STLLoader().parse(bufferOf(bytes)), 0));

const bufferOf = (bytes: Uint8Array): ArrayBuffer => bytes.slice().buffer;

const single = (geometry: three.BufferGeometry): Form => ({
  ...{ parts: [partOfGeometry(geometry)], materials: [], bones: [], clips: [] },
});

function partOfGeometry(geometry: three.BufferGeometry): Part {
  const take = (name: string, each: number): Float32Array | undefined => {
    const attribute = geometry.getAttribute(name) as three.BufferAttribute | undefined;
    if (!attribute) return undefined;
    const out = new Float32Array(attribute.count * each);
    for (let i = 0; i < attribute.count; i++)
      for (let j = 0; j < each; j++)
        out[i * each + j] = j < attribute.itemSize ? attribute.getComponent(i, j) : 1;
    return out;
  };
  const places = take('position', 3) ?? new Float32Array(0);
  const count = places.length / 3;
  const corners = geometry.index ? new Uint32Array(geometry.index.array) : undefined;
  const uv = take('uv', 2);
  return {
    ...{ name: '', level: 0, material: -1, morphs: [], places },
    normals: take('normal', 3),
    colours: take('color', 4),
    coordinates: uv ? [fromBelow(uv)] : [],
    triangles: (corners ?? upTo(count)).slice(
      0,
      (corners?.length ?? count) - ((corners?.length ?? count) % 3),
    ),
  };
}

/** These formats count the second coordinate from below. */
const fromBelow = (set: Float32Array): Float32Array =>
  set.map((value, i) => (i % 2 === 1 ? 1 - value : value));

/** A geometry of the package for a part. */
export function geometryOf(part: Part): three.BufferGeometry {
  const geometry = new three.BufferGeometry();
  const set = (name: string, values: Float32Array | undefined, each: number): void => {
    if (values) geometry.setAttribute(name, new three.BufferAttribute(values, each));
  };
  set('position', part.places, 3);
  set('normal', part.normals, 3);
  set('uv', part.coordinates[0] && fromBelow(part.coordinates[0]), 2);
  set('color', part.colours, 4);
  geometry.setIndex(new three.BufferAttribute(part.triangles, 1));
  return geometry;
}

function sceneOf({ parts, materials }: Form): three.Group {
  const scene = new three.Group();
  for (const part of parts) {
    const material = new three.MeshBasicMaterial();
    material.name = materials[part.material]?.name ?? '';
    const mesh = new three.Mesh(geometryOf(part), material);
    mesh.name = part.name;
    scene.add(mesh);
  }
  scene.updateMatrixWorld(true);
  return scene;
}

const bytesFrom = (made: DataView | ArrayBuffer | null): Uint8Array => {
  if (made === null) return new Uint8Array(0);
  return made instanceof ArrayBuffer
    ? new Uint8Array(made)
    : new Uint8Array(made.buffer as ArrayBuffer, made.byteOffset, made.byteLength);
};

export const writeObj = (form: Form): Uint8Array =>
  new TextEncoder().encode(`# Zero Latch\n${new OBJExporter().parse(sceneOf(form))}`);

export const writeStl = (form: Form): Uint8Array =>
  bytesFrom(new STLExporter().parse(sceneOf(form), { binary: true }) as DataView);

export function writePly(form: Form): Uint8Array {
  // With somebody to tell it would wait for a frame of a page.
  return bytesFrom(
    new PLYExporter().parse(sceneOf(form), undefined as never, {
      binary: true,
      littleEndian: true,
    }) as ArrayBuffer,
  );
}

/** Normals from the triangles of a part, each as its surface weighs. */
export function withNormals(part: Part): Part {
  if (part.normals) return part;
  const geometry = geometryOf(part);
  geometry.computeVertexNormals();
  return { ...part, normals: new Float32Array(geometry.getAttribute('normal').array) };
}

/** Tangents of a part that has texture coordinates (Lengyel, 2001, as the package has it); the part itself where it has none. */
export function withTangents(part: Part): Part {
  if (part.tangents || part.coordinates.length === 0 || part.triangles.length === 0) return part;
  const geometry = geometryOf(withNormals(part));
  geometry.computeTangents();
  // The second coordinate runs the other way here, and so does the third axis.
  const tangents = Float32Array.from(geometry.getAttribute('tangent').array, (value, i) =>
    i % 4 === 3 ? -value : value,
  );
  return { ...part, tangents };
}
