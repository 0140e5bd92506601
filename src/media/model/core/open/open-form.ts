import type { JSONDocument, WebIO } from '@gltf-transform/core';
import { FormatError } from '@/core/bytes';
import { checkForm } from '../form/check-form';
import type { Form } from '../form/form';
import { checkGltf } from './gltf-guard';
import type { PictureFor } from './write-gltf';

/** Open formats that are read, by the endings of their names. */
export const READ_ENDINGS = ['glb', 'gltf', 'obj', 'ply', 'stl', 'dae'] as const;
export type ReadEnding = (typeof READ_ENDINGS)[number];
export const WRITE_ENDINGS = ['glb', 'obj', 'ply', 'stl'] as const;
export type WriteEnding = (typeof WRITE_ENDINGS)[number];

/** More text than this is not gone through. */
const MOST_TEXT = 512 << 20;

const startsWith = (bytes: Uint8Array, text: string): boolean =>
  [...text].every((sign, i) => bytes[i] === sign.charCodeAt(0));

/** What a file is, by its first bytes and else by its ending. */
export function openEnding(bytes: Uint8Array, ending: string): ReadEnding | undefined {
  if (startsWith(bytes, 'glTF')) return 'glb';
  if (startsWith(bytes, 'ply')) return 'ply';
  return READ_ENDINGS.find((one) => one === ending && one !== 'glb');
}

/** Packages that read and write these formats are large, and most who start have no model to open: they are loaded for the first one. */
async function io(): Promise<WebIO> {
  const { Logger, WebIO: Io } = await import('@gltf-transform/core');
  const { KHRONOS_EXTENSIONS } = await import('@gltf-transform/extensions');
  return new Io().registerExtensions(KHRONOS_EXTENSIONS).setLogger(new Logger(Logger.Verbosity.SILENT));
}

/** Files that were given along, by their paths from the folder of the model on. */
export type FilesBeside = ReadonlyMap<string, Uint8Array>;
const NOTHING_BESIDE: FilesBeside = new Map();

/** Reads a model of an open format. Throws FormatError where it is none, claims what it has not, or names files that were not given along. */
export async function readOpenForm(
  bytes: Uint8Array,
  ending: ReadEnding,
  file: string,
  beside: FilesBeside = NOTHING_BESIDE,
): Promise<Form> {
  try {
    return checkForm(withVertices(await readForm(bytes, ending, file, beside)), file);
  } catch (error) {
    if (error instanceof FormatError) throw error.with({ file });
    throw new FormatError('bad-value', {
      ...{ file, expected: `a model as ${ending.toUpperCase()}` },
      why: error instanceof Error ? error.message.slice(0, 300) : String(error),
    });
  }
}

/** A model without a vertex is none, unless it is there for its clips. */
function withVertices(form: Form): Form {
  if (form.clips.length > 0 || form.parts.some(({ places }) => places.length > 0)) return form;
  throw new FormatError('bad-value', { expected: 'a model with vertices', actual: 'none' });
}

type Resources = Record<string, Uint8Array<ArrayBuffer>>;

const lengthsOf = (resources: Resources): ReadonlyMap<string, number> =>
  new Map(Object.entries(resources).map(([uri, { length }]) => [uri, length]));

/** The bytes of buffers that a document names, by how it spells them (RFC 3986: with signs in percent). */
function resourcesOf({ buffers = [] }: JSONDocument['json'], beside: FilesBeside): Resources {
  return Object.fromEntries(
    (Array.isArray(buffers) ? buffers : []).flatMap((buffer): [string, Uint8Array<ArrayBuffer>][] => {
      const uri: unknown = (buffer as { uri?: unknown } | null)?.uri;
      if (typeof uri !== 'string') return [];
      const bytes = beside.get(uri.replace(/^\.\//, '')) ?? beside.get(plainUri(uri));
      return bytes ? [[uri, new Uint8Array(bytes)]] : [];
    }),
  );
}

function plainUri(uri: string): string {
  try {
    return decodeURIComponent(uri).replace(/^\.\//, '');
  } catch {
    return uri;
  }
}

async function readForm(
  bytes: Uint8Array,
  ending: ReadEnding,
  file: string,
  beside: FilesBeside,
): Promise<Form> {
  if (ending === 'glb') {
    const own = bytes.slice();
    const reader = await io();
    const document = await reader.binaryToJSON(own);
    checkGltf(document.json, own.length, lengthsOf(document.resources));
    const { formOf } = await import('./read-gltf');
    return formOf(await reader.readJSON(document), file);
  }
  if (ending === 'gltf') {
    const json = JSON.parse(textOf(bytes, file)) as JSONDocument['json'];
    const resources = resourcesOf(json, beside);
    checkGltf(json, bytes.length, lengthsOf(resources));
    // Pictures that lie beside it are not needed for its shape.
    const { formOf } = await import('./read-gltf');
    return formOf(await (await io()).readJSON({ json: withoutPictures(json), resources }), file);
  }
  if (ending === 'dae') {
    const { colladaAsGlb } = await import('./with-collada');
    return readForm(await colladaAsGlb(bytes), 'glb', file, beside);
  }
  const { readObj, readPly, readStl } = await import('./with-three');
  if (ending === 'obj') return readObj(textOf(bytes, file));
  if (ending === 'ply') return readPly(bytes);
  refuseShort(bytes);
  return readStl(bytes);
}

const STL_HEAD = 84;
const STL_TRIANGLE = 50;

/** What is not text says at byte 80 how many triangles there are. */
function refuseShort(bytes: Uint8Array): void {
  if (/^\s*solid/.test(new TextDecoder('latin1').decode(bytes.subarray(0, 80)))) return;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const count = bytes.length >= STL_HEAD ? view.getUint32(80, true) : Infinity;
  if (STL_HEAD + STL_TRIANGLE * count > bytes.length)
    throw new FormatError('truncated', {
      ...{
        byteOffset: 80,
        expected: `${count} triangles of ${STL_TRIANGLE} bytes`,
        actual: `${bytes.length} bytes`,
      },
    });
}

/** Materials keep what they are called and coloured. */
function withoutPictures(json: JSONDocument['json']): JSONDocument['json'] {
  return {
    ...json,
    ...{ images: [], textures: [] },
    materials: json.materials?.map(({ name, pbrMetallicRoughness, doubleSided, extras }) => ({
      ...(name !== undefined && { name }),
      ...(doubleSided !== undefined && { doubleSided }),
      ...(extras !== undefined && { extras }),
      ...(pbrMetallicRoughness?.baseColorFactor && {
        pbrMetallicRoughness: { baseColorFactor: pbrMetallicRoughness.baseColorFactor },
      }),
    })),
    extensionsUsed: [],
  };
}

function textOf(bytes: Uint8Array, file: string): string {
  if (bytes.length > MOST_TEXT)
    throw new FormatError('budget', {
      ...{ file, expected: `at most ${MOST_TEXT >> 20} MiB of text`, actual: `${bytes.length >> 20} MiB` },
    });
  return new TextDecoder().decode(bytes);
}

/** Writes a model in an open format. What the format has no room for is left out: OBJ, PLY and STL have neither bones nor clips. */
export async function writeOpenForm(
  form: Form,
  ending: WriteEnding,
  pictureFor?: PictureFor,
): Promise<Uint8Array> {
  if (ending === 'glb') {
    const { documentOf } = await import('./write-gltf');
    return (await io()).writeBinary(documentOf(form, pictureFor));
  }
  const { writeObj, writePly, writeStl } = await import('./with-three');
  const drawn = { ...form, parts: form.parts.filter(({ triangles }) => triangles.length > 0) };
  if (ending === 'obj') return writeObj(drawn);
  return ending === 'ply' ? writePly(drawn) : writeStl(drawn);
}

/** The same as glTF with what it needs in files beside it: their names and bytes. */
export async function writeGltfFiles(
  form: Form,
  stem: string,
  pictureFor?: PictureFor,
): Promise<{ readonly path: string; readonly bytes: Uint8Array }[]> {
  const { documentOf } = await import('./write-gltf');
  const { json, resources } = await (await io()).writeJSON(documentOf(form, pictureFor), { basename: stem });
  return [
    { path: `${stem}.gltf`, bytes: new TextEncoder().encode(JSON.stringify(json, undefined, 1)) },
    ...Object.entries(resources).map(([path, bytes]) => ({ path, bytes })),
  ];
}
