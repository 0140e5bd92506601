import type { MediumFormats } from '@/core/kinds/formats';

/** TAR of before POSIX, which has no mark: the sum of the head (512 bytes, its own field as spaces) stands in it in octal digits. */
function isOldTar(head: Uint8Array): boolean {
  if (head.length < 512 || head[0] === 0) return false;
  const stated = /^ *([0-7]{1,7})[ \0]/.exec(String.fromCharCode(...head.subarray(148, 156)))?.[1];
  if (stated === undefined) return false;
  let sum = 8 * 0x20;
  for (let i = 0; i < 512; i++) if (i < 148 || i >= 156) sum += head[i]!;
  return sum === Number.parseInt(stated, 8);
}

/** Open formats of archives. */
export const archiveFormats: MediumFormats = {
  signs: [
    ['zip', { at: 0, text: 'PK\x03\x04' }],
    ['zip', { at: 0, text: 'PK\x05\x06' }],
    ['gz', { at: 0, text: '\x1f\x8b\x08' }],
    ['xz', { at: 0, text: '\xfd7zXZ\0' }],
    ['bz2', { at: 0, text: 'BZh' }, { at: 4, text: '1AY&SY' }],
    ['bz2', { at: 0, text: 'BZh' }, { at: 4, text: '\x17\x72\x45\x38\x50\x90' }],
    ['zst', { at: 0, text: '\x28\xb5\x2f\xfd' }],
    ['lz4', { at: 0, text: '\x04\x22\x4d\x18' }],
    ['7z', { at: 0, text: '7z\xbc\xaf\x27\x1c' }],
    ['ar', { at: 0, text: '!<arch>\n' }],
    ['cpio', { at: 0, text: '070701' }],
    ['cpio', { at: 0, text: '070707' }],
    ['tar', { at: 257, text: 'ustar' }],
  ],
  tellers: [{ ending: 'tar', isIt: isOldTar }],
  endings: { signed: 'tar zip gz tgz xz bz2 zst 7z lz4 ar cpio' },
};
