import type { Kind } from './kinds';
import { mpegFrameLength } from './mpeg';

/** A file type told from its first bytes, with the ending that such files usually bear. */
export interface HeadType {
  readonly kind: Kind;
  readonly ending: string;
}

/** Endings of files that are one container with different things in it. */
const CONTAINERS: Readonly<Record<string, string>> = {
  opus: 'ogg',
  oga: 'ogg',
  ogv: 'ogg',
  m4a: 'mp4',
  m4v: 'mp4',
  mov: 'mp4',
  webm: 'mkv',
  jpeg: 'jpg',
};
/** The ending of the container that a file with an ending is: of a sound in Opus that of Ogg. */
export const containerOf = (ending: string): string => CONTAINERS[ending] ?? ending;

/** Bytes at a place, as Latin-1. */
interface Sign {
  readonly at: number;
  readonly text: string;
}

const type = (kind: Kind, ending: string): HeadType => ({ kind, ending });

/** Signs of open formats that stand at one place and say all. Longer ones come before those that they begin with. */
const SIGNS: readonly (readonly [HeadType, ...Sign[]])[] = [
  [type('picture', 'png'), { at: 0, text: '\x89PNG\r\n\x1a\n' }],
  [type('picture', 'jpg'), { at: 0, text: '\xff\xd8\xff' }],
  [type('picture', 'gif'), { at: 0, text: 'GIF87a' }],
  [type('picture', 'gif'), { at: 0, text: 'GIF89a' }],
  [type('picture', 'dds'), { at: 0, text: 'DDS \x7c\0\0\0' }],
  [type('picture', 'ktx2'), { at: 0, text: '\xabKTX 20\xbb\r\n\x1a\n' }],
  [type('picture', 'ktx'), { at: 0, text: '\xabKTX 11\xbb\r\n\x1a\n' }],
  [type('picture', 'psd'), { at: 0, text: '8BPS\0\x01' }],
  [type('picture', 'tif'), { at: 0, text: 'II*\0' }],
  [type('picture', 'tif'), { at: 0, text: 'MM\0*' }],
  [type('picture', 'exr'), { at: 0, text: 'v/1\x01' }],
  [type('picture', 'hdr'), { at: 0, text: '#?RADIANCE' }],
  [type('picture', 'qoi'), { at: 0, text: 'qoif' }],
  [type('picture', 'jp2'), { at: 0, text: '\0\0\0\x0cjP  \r\n\x87\n' }],
  [type('picture', 'jxl'), { at: 0, text: '\0\0\0\x0cJXL \r\n\x87\n' }],
  [type('picture', 'ora'), { at: 0, text: 'PK\x03\x04' }, { at: 30, text: 'mimetypeimage/openraster' }],
  [type('sound', 'flac'), { at: 0, text: 'fLaC' }],
  [type('sound', 'mp3'), { at: 0, text: 'ID3' }],
  [type('sound', 'aif'), { at: 0, text: 'FORM' }, { at: 8, text: 'AIF' }],
  [type('sound', 'au'), { at: 0, text: '.snd\0\0\0' }],
  [type('sound', 'mid'), { at: 0, text: 'MThd\0\0\0\x06' }],
  [type('film', 'ivf'), { at: 0, text: 'DKIF\0\0' }],
  [type('film', 'flv'), { at: 0, text: 'FLV\x01' }],
  [type('film', 'mpg'), { at: 0, text: '\0\0\x01\xba' }],
  [type('film', 'mpg'), { at: 0, text: '\0\0\x01\xb3' }],
  [type('film', 'wmv'), { at: 0, text: '\x30\x26\xb2\x75\x8e\x66\xcf\x11\xa6\xd9\0\xaa\0\x62\xce\x6c' }],
  [type('model', 'glb'), { at: 0, text: 'glTF' }],
  [type('model', 'ply'), { at: 0, text: 'ply\nformat ' }],
  [type('model', 'ply'), { at: 0, text: 'ply\r\nformat ' }],
  [type('archive', 'zip'), { at: 0, text: 'PK\x03\x04' }],
  [type('archive', 'zip'), { at: 0, text: 'PK\x05\x06' }],
  [type('archive', 'gz'), { at: 0, text: '\x1f\x8b\x08' }],
  [type('archive', 'xz'), { at: 0, text: '\xfd7zXZ\0' }],
  [type('archive', 'bz2'), { at: 0, text: 'BZh' }, { at: 4, text: '1AY&SY' }],
  [type('archive', 'bz2'), { at: 0, text: 'BZh' }, { at: 4, text: '\x17\x72\x45\x38\x50\x90' }],
  [type('archive', 'zst'), { at: 0, text: '\x28\xb5\x2f\xfd' }],
  [type('archive', 'lz4'), { at: 0, text: '\x04\x22\x4d\x18' }],
  [type('archive', '7z'), { at: 0, text: '7z\xbc\xaf\x27\x1c' }],
  [type('archive', 'ar'), { at: 0, text: '!<arch>\n' }],
  [type('archive', 'cpio'), { at: 0, text: '070701' }],
  [type('archive', 'cpio'), { at: 0, text: '070707' }],
  [type('archive', 'tar'), { at: 257, text: 'ustar' }],
  [type('program', 'elf'), { at: 0, text: '\x7fELF' }],
  [type('program', 'wasm'), { at: 0, text: '\0asm\x01\0\0\0' }],
  [type('program', 'macho'), { at: 0, text: '\xcf\xfa\xed\xfe' }],
  [type('program', 'macho'), { at: 0, text: '\xce\xfa\xed\xfe' }],
  [type('program', 'class'), { at: 0, text: '\xca\xfe\xba\xbe' }],
  [type('data', 'sqlite'), { at: 0, text: 'SQLite format 3\0' }],
  [type('data', 'otf'), { at: 0, text: 'OTTO\0' }],
  [type('data', 'ttf'), { at: 0, text: '\0\x01\0\0\0' }],
  [type('data', 'ttc'), { at: 0, text: 'ttcf\0' }],
  [type('data', 'woff'), { at: 0, text: 'wOFF' }],
  [type('data', 'woff2'), { at: 0, text: 'wOF2' }],
  [type('data', 'pdf'), { at: 0, text: '%PDF-' }],
];

/** By the first byte, since most heads begin with none of them. */
const BY_FIRST = new Map<number, (typeof SIGNS)[number][]>();
const ELSEWHERE: (typeof SIGNS)[number][] = [];
for (const sign of SIGNS) {
  const [, first] = sign;
  if (first!.at > 0) ELSEWHERE.push(sign);
  else {
    const byte = first!.text.charCodeAt(0);
    const known = BY_FIRST.get(byte);
    if (known) known.push(sign);
    else BY_FIRST.set(byte, [sign]);
  }
}

function has(head: Uint8Array, { at, text }: Sign): boolean {
  if (head.length < at + text.length) return false;
  for (let i = 0; i < text.length; i++) if (head[at + i] !== text.charCodeAt(i)) return false;
  return true;
}

const latin = (head: Uint8Array, from: number, to: number): string =>
  String.fromCharCode(...head.subarray(from, to));

/** RIFF (Multimedia Programming Interface 1.0) by its form; one with a form that nobody knows is data. */
const RIFF_FORMS: Readonly<Record<string, HeadType>> = {
  WAVE: type('sound', 'wav'),
  WEBP: type('picture', 'webp'),
  'AVI ': type('film', 'avi'),
  RMID: type('sound', 'mid'),
};

/** ISO base media (ISO 14496-12) by its brand: a still picture, a sound and a film begin alike. */
const BRANDS: readonly (readonly [RegExp, HeadType])[] = [
  [/^avi[fs]/, type('picture', 'avif')],
  [/^(hei[cxms]|mif1|msf1)/, type('picture', 'heic')],
  [/^(M4A |M4B |M4P )/, type('sound', 'm4a')],
  [/^qt {2}/, type('film', 'mov')],
];

/** Ogg (RFC 3533) by the codec that its first page begins. */
function ogg(head: Uint8Array): HeadType {
  const first = latin(head, 28, 40);
  if (first.startsWith('\x80theora')) return type('film', 'ogv');
  if (first.startsWith('OpusHead')) return type('sound', 'opus');
  return type('sound', 'ogg');
}

/** Matroska (RFC 9559), or its part for the web, by the word for it in the first element. */
function ebml(head: Uint8Array): HeadType {
  const words = latin(head, 0, 64);
  return type('film', words.includes('webm') ? 'webm' : 'mkv');
}

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

/** A program for Windows: the old head leads to the new one. */
function isWindowsProgram(head: Uint8Array): boolean {
  if (head.length < 64 || head[0] !== 0x4d || head[1] !== 0x5a) return false;
  const place = new DataView(head.buffer, head.byteOffset, head.length).getUint32(60, true);
  // Beyond what was read it is believed, as far as it is like one.
  if (place + 4 > head.length) return place >= 64 && place < 4096 && place % 4 === 0;
  return latin(head, place, place + 4) === 'PE\0\0';
}

/** MPEG sound without a tag: a frame, and another one right behind it where that far was read. */
function isMpegSound(head: Uint8Array): boolean {
  const length = mpegFrameLength(head, 0);
  if (length === 0) return false;
  return length + 3 > head.length || mpegFrameLength(head, length) > 0;
}

/** AAC in frames (ADTS, ISO 13818-7): the layer is 0, the rate is one of thirteen, and the next frame begins where this one ends. */
function isAacFrames(head: Uint8Array): boolean {
  const frame = (at: number): number => {
    const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0] = head.subarray(at, at + 6);
    if (a !== 0xff || (b & 0xf6) !== 0xf0 || ((c >> 2) & 15) > 12) return 0;
    return ((d & 3) << 11) | (e << 3) | (f >> 5);
  };
  const length = frame(0);
  return length > 6 && (length + 6 > head.length || frame(length) > 6);
}

/** TAR of before POSIX, which has no mark: the sum of the head (512 bytes, its own field as spaces) stands in it in octal digits. */
function isOldTar(head: Uint8Array): boolean {
  if (head.length < 512 || head[0] === 0) return false;
  const stated = /^ *([0-7]{1,7})[ \0]/.exec(latin(head, 148, 156))?.[1];
  if (stated === undefined) return false;
  let sum = 8 * 0x20;
  for (let i = 0; i < 512; i++) if (i < 148 || i >= 156) sum += head[i]!;
  return sum === Number.parseInt(stated, 8);
}

/** MPEG transport (ISO 13818-1): packets of 188 bytes that begin alike. */
const isTransport = (head: Uint8Array): boolean =>
  head.length > 376 && head[0] === 0x47 && head[188] === 0x47 && head[376] === 0x47;

/** The type of a file by its first bytes, or undefined where they say nothing. Five hundred bytes tell all that can be told. */
export function typeOfHead(head: Uint8Array): HeadType | undefined {
  if (head.length < 2) return undefined;
  for (const [found, ...signs] of BY_FIRST.get(head[0]!) ?? [])
    if (signs.every((sign) => has(head, sign))) return found;
  switch (head[0]) {
    case 0x52:
      if (has(head, { at: 0, text: 'RIFF' }) && head.length >= 12)
        return RIFF_FORMS[latin(head, 8, 12)] ?? type('data', 'riff');
      break;
    case 0x4f:
      if (has(head, { at: 0, text: 'OggS\0' })) return ogg(head);
      break;
    case 0x1a:
      if (has(head, { at: 0, text: '\x1aE\xdf\xa3' })) return ebml(head);
      break;
    case 0x42:
      if (isBitmap(head)) return type('picture', 'bmp');
      break;
    case 0x4d:
      if (isWindowsProgram(head)) return type('program', 'exe');
      break;
    case 0x47:
      if (isTransport(head)) return type('film', 'ts');
      break;
    case 0xff:
      if (isMpegSound(head)) return type('sound', 'mp3');
      if (isAacFrames(head)) return type('sound', 'aac');
      break;
    case 0:
      if (isIcon(head)) return type('picture', 'ico');
  }
  if (has(head, { at: 4, text: 'ftyp' }) && head.length >= 12) {
    const brand = latin(head, 8, 12);
    return BRANDS.find(([pattern]) => pattern.test(brand))?.[1] ?? type('film', 'mp4');
  }
  const elsewhere = ELSEWHERE.find(([, ...signs]) => signs.every((sign) => has(head, sign)))?.[0];
  return elsewhere ?? (isOldTar(head) ? type('archive', 'tar') : undefined);
}
