/** Bit rates in kbit/s of MPEG-1 and MPEG-2 layer III by their number (ISO/IEC 11172-3 and 13818-3). */
const MPEG1 = [0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320];
const MPEG2 = [0, 8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160];
const RATES = [44_100, 48_000, 32_000];

/** Length in bytes of the frame of MPEG layer III that begins at a place, 0 where none does. */
export function mpegFrameLength(bytes: Uint8Array, at: number): number {
  if (at + 4 > bytes.length || bytes[at] !== 0xff || (bytes[at + 1]! & 0xe6) !== 0xe2) return 0;
  const version = (bytes[at + 1]! >> 3) & 3;
  const rate = RATES[(bytes[at + 2]! >> 2) & 3];
  const bits = (version === 3 ? MPEG1 : MPEG2)[bytes[at + 2]! >> 4];
  if (version === 1 || !rate || !bits) return 0;
  const own = version === 3 ? rate : version === 2 ? rate / 2 : rate / 4;
  return Math.floor(((version === 3 ? 144_000 : 72_000) * bits) / own) + ((bytes[at + 2]! >> 1) & 1);
}
