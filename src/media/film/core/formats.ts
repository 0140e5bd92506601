import type { MediumFormats } from '@/core/kinds/formats';

/** MPEG transport (ISO 13818-1): packets of 188 bytes that begin alike. */
const isTransport = (head: Uint8Array): boolean =>
  head.length > 376 && head[0] === 0x47 && head[188] === 0x47 && head[376] === 0x47;

/** Whether Matroska (RFC 9559) says in its first element that it is the part of it for the web. */
const isWebM = (head: Uint8Array): boolean => String.fromCharCode(...head.subarray(0, 64)).includes('webm');
const MATROSKA = [0x1a, 0x45, 0xdf, 0xa3];
const isMatroska = (head: Uint8Array): boolean => MATROSKA.every((byte, i) => head[i] === byte);

/** Open formats of films. */
export const filmFormats: MediumFormats = {
  signs: [
    ['ivf', { at: 0, text: 'DKIF\0\0' }],
    ['flv', { at: 0, text: 'FLV\x01' }],
    ['mpg', { at: 0, text: '\0\0\x01\xba' }],
    ['mpg', { at: 0, text: '\0\0\x01\xb3' }],
    ['wmv', { at: 0, text: '\x30\x26\xb2\x75\x8e\x66\xcf\x11\xa6\xd9\0\xaa\0\x62\xce\x6c' }],
  ],
  riff: { 'AVI ': 'avi' },
  brands: [[/^qt {2}/, 'mov']],
  ogg: [['\x80theora', 'ogv']],
  plain: { iso: 'mp4' },
  tellers: [
    { first: 0x1a, ending: 'webm', isIt: (head) => isMatroska(head) && isWebM(head) },
    { first: 0x1a, ending: 'mkv', isIt: isMatroska },
    { first: 0x47, ending: 'ts', isIt: isTransport },
  ],
  endings: { signed: 'mp4 m4v webm mkv avi mov ogv ivf flv wmv', unsigned: 'mpg mpeg ts m2ts' },
  containers: { ogv: 'ogg', m4v: 'mp4', mov: 'mp4', webm: 'mkv' },
  shown: { mp4: 'video/mp4', mkv: 'video/webm' },
  namesOthers: false,
};
