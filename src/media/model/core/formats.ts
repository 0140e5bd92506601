import type { MediumFormats } from '@/core/kinds/formats';

/** Eighty bytes of anything, a count, and fifty bytes for each triangle: STL in its binary form. */
function isBinaryStl(head: Uint8Array, length: number): boolean {
  if (head.length < 84) return false;
  const count = new DataView(head.buffer, head.byteOffset, head.length).getUint32(80, true);
  return count > 0 && length === 84 + 50 * count;
}

/** Open formats of models. */
export const modelFormats: MediumFormats = {
  signs: [
    ['glb', { at: 0, text: 'glTF' }],
    ['ply', { at: 0, text: 'ply\nformat ' }],
    ['ply', { at: 0, text: 'ply\r\nformat ' }],
  ],
  byLength: (head, length) => (isBinaryStl(head, length) ? 'stl' : undefined),
  endings: { signed: 'glb', unsigned: 'gltf obj stl ply fbx dae', written: 'gltf obj stl ply dae fbx' },
};
