import type { MediumFormats } from '@/core/kinds/formats';

/** A program for Windows: the old head leads to the new one. */
function isWindowsProgram(head: Uint8Array): boolean {
  if (head.length < 64 || head[0] !== 0x4d || head[1] !== 0x5a) return false;
  const place = new DataView(head.buffer, head.byteOffset, head.length).getUint32(60, true);
  // Beyond what was read it is believed, as far as it is like one.
  if (place + 4 > head.length) return place >= 64 && place < 4096 && place % 4 === 0;
  return String.fromCharCode(...head.subarray(place, place + 4)) === 'PE\0\0';
}

/** Open formats of programs. */
export const programFormats: MediumFormats = {
  signs: [
    ['elf', { at: 0, text: '\x7fELF' }],
    ['wasm', { at: 0, text: '\0asm\x01\0\0\0' }],
    ['macho', { at: 0, text: '\xcf\xfa\xed\xfe' }],
    ['macho', { at: 0, text: '\xce\xfa\xed\xfe' }],
    ['class', { at: 0, text: '\xca\xfe\xba\xbe' }],
  ],
  tellers: [{ first: 0x4d, ending: 'exe', isIt: isWindowsProgram }],
  endings: { signed: 'exe dll so dylib wasm class' },
  namesOthers: false,
};
