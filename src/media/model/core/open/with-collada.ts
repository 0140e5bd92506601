import * as three from 'three';
import { GLTFExporter } from 'three/examples/jsm/exporters/GLTFExporter.js';
import { ColladaLoader } from 'three/examples/jsm/loaders/ColladaLoader.js';
import { mergeVertices } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import { FormatError } from '@/core/bytes';
import { readColladaDocument } from './collada-document';

/** What the packages ask a browser for, and find nowhere else. */
interface Lent {
  DOMParser?: unknown;
  FileReader?: unknown;
}

/** Reads what was put together in memory, as the exporter asks for. */
class BlobReader {
  result: ArrayBuffer | null = null;
  onloadend: (() => void) | null = null;
  readAsArrayBuffer(blob: Blob): void {
    void blob.arrayBuffer().then((bytes) => {
      this.result = bytes;
      this.onloadend?.();
    });
  }
}

/**
 * A COLLADA document as GLB: read and written by three, with bones, weights and clips. Pictures are not fetched; materials say the paths that
 * they name. Throws FormatError where it is none, and what the packages throw where it cannot be read.
 */
export async function colladaAsGlb(bytes: Uint8Array): Promise<Uint8Array> {
  const { document, pictures } = readColladaDocument(bytes);
  const lent = globalThis as Lent;
  const { DOMParser: before } = lent;
  // The loader parses by a name of browsers: it gets what was parsed and looked through already.
  lent.DOMParser = class {
    parseFromString = (): unknown => document;
  };
  let scene: three.Scene | three.Group;
  try {
    const read = new ColladaLoader().parse(' ', '');
    if (!read) throw new FormatError('bad-value', { expected: 'a COLLADA document with a scene' });
    ({ scene } = read);
  } finally {
    lent.DOMParser = before;
  }
  scene.traverse((node) => {
    if (!(node instanceof three.Mesh)) return;
    // It comes with three vertices for each triangle; those that are alike are one.
    node.geometry = mergeVertices(node.geometry as three.BufferGeometry, 0);
    for (const material of [node.material].flat() as three.Material[]) {
      const path = pictures.get(material.name);
      material.userData = path === undefined ? {} : { pictures: { colour: path } };
    }
  });
  // This one stays, since what it is asked for comes in later turns.
  lent.FileReader ??= BlobReader;
  const made = await new GLTFExporter().parseAsync(scene, {
    ...{ binary: true, onlyVisible: false, animations: scene.animations },
  });
  return new Uint8Array(made as ArrayBuffer);
}
