import type { MediumFormats } from '@/core/kinds/formats';
import { isTga, mayBeTga } from './tga-head';

/** Two letters are little: the bytes that are zero and where the pixels begin have to fit. */
function isBitmap(head: Uint8Array): boolean {
  if (head.length < 18 || head[0] !== 0x42 || head[1] !== 0x4d) return false;
  const view = new DataView(head.buffer, head.byteOffset, head.length);
  const info = view.getUint32(14, true);
  return view.getUint32(6, true) === 0 && (info === 12 || (info >= 40 && info <= 124));
}

/** An icon: one or more pictures, each with a size and place behind the table. */
function isIcon(head: Uint8Array): boolean {
  if (head.length < 22 || head[0] !== 0 || head[1] !== 0 || head[3] !== 0) return false;
  if (head[2] !== 1 && head[2] !== 2) return false;
  const view = new DataView(head.buffer, head.byteOffset, head.length);
  const count = view.getUint16(4, true);
  return count > 0 && count < 256 && head[9] === 0 && view.getUint32(18, true) === 6 + 16 * count;
}

/** Open formats of pictures. */
export const pictureFormats: MediumFormats = {
  signs: [
    ['png', { at: 0, text: '\x89PNG\r\n\x1a\n' }],
    ['jpg', { at: 0, text: '\xff\xd8\xff' }],
    ['gif', { at: 0, text: 'GIF87a' }],
    ['gif', { at: 0, text: 'GIF89a' }],
    ['dds', { at: 0, text: 'DDS \x7c\0\0\0' }],
    ['ktx2', { at: 0, text: '\xabKTX 20\xbb\r\n\x1a\n' }],
    ['ktx', { at: 0, text: '\xabKTX 11\xbb\r\n\x1a\n' }],
    ['psd', { at: 0, text: '8BPS\0\x01' }],
    ['tif', { at: 0, text: 'II*\0' }],
    ['tif', { at: 0, text: 'MM\0*' }],
    ['exr', { at: 0, text: 'v/1\x01' }],
    ['hdr', { at: 0, text: '#?RADIANCE' }],
    ['qoi', { at: 0, text: 'qoif' }],
    ['jp2', { at: 0, text: '\0\0\0\x0cjP  \r\n\x87\n' }],
    ['jxl', { at: 0, text: '\0\0\0\x0cJXL \r\n\x87\n' }],
    ['ora', { at: 0, text: 'PK\x03\x04' }, { at: 30, text: 'mimetypeimage/openraster' }],
  ],
  riff: { WEBP: 'webp' },
  brands: [
    [/^avi[fs]/, 'avif'],
    [/^(hei[cxms]|mif1|msf1)/, 'heic'],
  ],
  tellers: [
    { first: 0x42, ending: 'bmp', isIt: isBitmap },
    { first: 0, ending: 'ico', isIt: isIcon },
  ],
  byLength: (head, length) => (isTga(head, length) ? 'tga' : undefined),
  endings: {
    signed:
      'png jpg jpeg jpe webp bmp dds gif ktx ktx2 psd ora tif tiff ico cur avif heic exr hdr qoi jp2 jxl',
    unsigned: 'tga pcx',
    mayBe: { tga: mayBeTga },
  },
  containers: { jpeg: 'jpg' },
  namesOthers: false,
};
