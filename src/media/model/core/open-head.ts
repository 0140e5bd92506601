import { z } from 'zod';
import { FormatError } from '@/core/bytes';
import type { ModelHead } from '@/media/head';

const GLB_HEAD_BYTES = 20;
const JSON_CHUNK = 0x4e4f534a;
const TRIANGLES = 4;

const Count = z.number().int().nonnegative();

/** The parts of a glTF 2.0 document that say how large it is. */
const Gltf = z.object({
  asset: z.object({ version: z.string() }),
  accessors: z.array(z.object({ count: Count })).default([]),
  meshes: z
    .array(
      z.object({
        primitives: z.array(
          z.object({
            attributes: z.record(z.string(), Count),
            indices: Count.optional(),
            mode: Count.default(TRIANGLES),
          }),
        ),
      }),
    )
    .default([]),
  materials: z.array(z.unknown()).default([]),
  animations: z.array(z.unknown()).default([]),
  skins: z.array(z.object({ joints: z.array(Count) })).default([]),
});

/** What a model tells, by the ending of its name or its first bytes; undefined where it is of no format known here. */
export function readModelHead(bytes: Uint8Array, ending: string): ModelHead | undefined {
  if (bytes.length >= 4 && String.fromCharCode(...bytes.subarray(0, 4)) === 'glTF')
    return gltfHead(glbDocument(bytes), 'glTF binary');
  if (ending === 'gltf') return gltfHead(new TextDecoder().decode(bytes), 'glTF');
  if (ending === 'obj') return objHead(bytes);
  if (ending === 'stl') return stlHead(bytes);
  if (ending === 'ply') return plyHead(bytes);
  return undefined;
}

/** The JSON chunk of a binary glTF 2.0 file (Khronos, section 4.4), which comes first. */
function glbDocument(bytes: Uint8Array): string {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  if (bytes.length < GLB_HEAD_BYTES)
    throw new FormatError('truncated', { byteOffset: bytes.length, fieldPath: 'chunks[0]' });
  const length = view.getUint32(12, true);
  if (view.getUint32(16, true) !== JSON_CHUNK)
    throw new FormatError('bad-value', {
      byteOffset: 16,
      fieldPath: 'chunks[0].kind',
      expected: 'JSON',
      actual: view.getUint32(16, true).toString(16),
    });
  if (GLB_HEAD_BYTES + length > bytes.length)
    throw new FormatError('truncated', {
      byteOffset: 12,
      fieldPath: 'chunks[0].length',
      expected: `${length} bytes`,
      actual: `${bytes.length - GLB_HEAD_BYTES}`,
    });
  return new TextDecoder().decode(bytes.subarray(GLB_HEAD_BYTES, GLB_HEAD_BYTES + length));
}

function gltfHead(text: string, format: string): ModelHead {
  let read: z.infer<typeof Gltf>;
  try {
    read = Gltf.parse(JSON.parse(text));
  } catch (error) {
    const why = error instanceof z.ZodError ? z.prettifyError(error) : (error as Error).message;
    throw new FormatError('bad-value', { fieldPath: 'document', expected: 'a glTF 2.0 document', why });
  }
  const countOf = (accessor: number | undefined): number =>
    accessor === undefined ? 0 : (read.accessors[accessor]?.count ?? 0);
  let [vertices, triangles] = [0, 0];
  for (const { primitives } of read.meshes)
    for (const { attributes, indices, mode } of primitives) {
      const corners = countOf(attributes.POSITION);
      vertices += corners;
      const drawn = indices === undefined ? corners : countOf(indices);
      if (mode === TRIANGLES) triangles += Math.floor(drawn / 3);
      else if (mode > TRIANGLES) triangles += Math.max(0, drawn - 2);
    }
  return {
    sort: 'model',
    format,
    vertices,
    triangles,
    meshes: read.meshes.length,
    materials: read.materials.length,
    clips: read.animations.length,
    joints: read.skins.reduce((sum, { joints }) => sum + joints.length, 0),
  };
}

function objHead(bytes: Uint8Array): ModelHead {
  const materials = new Set<string>();
  let [vertices, triangles, meshes] = [0, 0, 0];
  for (const line of new TextDecoder().decode(bytes).split('\n')) {
    const [word, ...rest] = line.trim().split(/\s+/);
    if (word === 'v') vertices++;
    else if (word === 'f') triangles += Math.max(0, rest.length - 2);
    else if (word === 'o' || word === 'g') meshes++;
    else if (word === 'usemtl') materials.add(rest.join(' '));
  }
  return { sort: 'model', format: 'OBJ', vertices, triangles, meshes, materials: materials.size };
}

const STL_HEAD_BYTES = 84;
const STL_TRIANGLE_BYTES = 50;

/** Binary STL says its triangles at byte 80; one whose length does not follow from that is text. */
function stlHead(bytes: Uint8Array): ModelHead | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const told = bytes.length >= STL_HEAD_BYTES ? view.getUint32(80, true) : 0;
  if (bytes.length >= STL_HEAD_BYTES && bytes.length === STL_HEAD_BYTES + told * STL_TRIANGLE_BYTES)
    return { sort: 'model', format: 'STL', vertices: told * 3, triangles: told };
  const text = new TextDecoder('latin1').decode(bytes);
  if (!/^\s*solid\b/.test(text)) return undefined;
  const triangles = text.match(/^\s*facet\b/gm)?.length ?? 0;
  return { sort: 'model', format: 'STL', vertices: triangles * 3, triangles };
}

/** The head of a PLY file is text up to `end_header`. */
function plyHead(bytes: Uint8Array): ModelHead | undefined {
  const text = new TextDecoder('latin1').decode(bytes.subarray(0, 64 << 10));
  const end = text.indexOf('end_header');
  if (!text.startsWith('ply') || end < 0) return undefined;
  const count = (what: string): number =>
    Number(new RegExp(`^element ${what} (\\d{1,15})\\s*$`, 'm').exec(text.slice(0, end))?.[1] ?? 0);
  return { sort: 'model', format: 'PLY', vertices: count('vertex'), triangles: count('face') };
}
