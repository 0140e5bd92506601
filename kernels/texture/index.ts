import {
  decodeChannel,
  decodeColour,
  decodeSharpAlpha,
  decodeSmoothAlpha,
  prepareRows,
  spreadChannels,
} from './bc1-decode';
import { encodeChannel, encodeColour, encodeSharpAlpha, prepareFlat } from './bc1-encode';
import { decodeBc6h } from './bc6h-decode';
import { decodeBc7 } from './bc7-decode';
import { encodeBc7, prepareBc7 } from './bc7-encode';
import { loadPlanes } from './planes';

/** Codecs by number: 1 to 5 and 7 as their names say, 6 and 16 BC6H unsigned and signed, 14 and 15 signed BC4 and BC5. */

let canDecode = false;
let canEncode = false;

/** The first byte that nothing here uses. */
export function firstFree(): usize {
  return (__heap_base + 15) & ~15;
}

/** Bytes of a block. */
function blockBytes(codec: i32): usize {
  return codec === 1 || codec === 4 || codec === 14 ? 8 : 16;
}

/** Decodes rows of blocks, one after the other, into rows of whole blocks: four bytes a texel, BC6H eight. */
export function decode(codec: i32, from: usize, to: usize, across: u32, rows: u32): void {
  if (!canDecode) {
    prepareRows();
    canDecode = true;
  }
  const texel: usize = codec === 6 || codec === 16 ? 8 : 4;
  const stride = <usize>across * 4 * texel;
  const step = blockBytes(codec);
  for (let y: u32 = 0; y < rows; y++) {
    for (let x: u32 = 0; x < across; x++) {
      const spot = to + <usize>x * 4 * texel;
      switch (codec) {
        case 1:
          decodeColour(from, spot, stride, false);
          break;
        case 2:
          decodeColour(from + 8, spot, stride, true);
          decodeSharpAlpha(from, spot, stride);
          break;
        case 3:
          decodeSmoothAlpha(from, spot, stride);
          break;
        case 4:
        case 14:
          decodeChannel(from, spot, stride, codec === 14);
          spreadChannels(spot, stride, true);
          break;
        case 5:
        case 15:
          decodeChannel(from, spot, stride, codec === 15);
          decodeChannel(from + 8, spot + 1, stride, codec === 15);
          spreadChannels(spot, stride, false);
          break;
        case 6:
        case 16:
          decodeBc6h(from, spot, stride, codec === 16);
          break;
        case 7:
          decodeBc7(from, spot, stride);
          break;
      }
      from += step;
    }
    to += stride * 4;
  }
}

/** Encodes rows of whole blocks of four bytes a texel. Quality is 0 (fast), 1 (normal) or 2 (best). */
export function encode(codec: i32, quality: i32, from: usize, to: usize, across: u32, rows: u32): void {
  if (!canEncode) {
    prepareFlat();
    prepareBc7();
    canEncode = true;
  }
  const stride = <usize>across * 16;
  const step = blockBytes(codec);
  for (let y: u32 = 0; y < rows; y++) {
    for (let x: u32 = 0; x < across; x++) {
      loadPlanes(from + ((<usize>x) << 4), stride);
      switch (codec) {
        case 1:
          encodeColour(to, true, quality);
          break;
        case 2:
          encodeSharpAlpha(to);
          encodeColour(to + 8, false, quality);
          break;
        case 3:
          encodeChannel(3, to, quality);
          encodeColour(to + 8, false, quality);
          break;
        case 4:
          encodeChannel(0, to, quality);
          break;
        case 5:
          encodeChannel(0, to, quality);
          encodeChannel(1, to + 8, quality);
          break;
        case 7:
          encodeBc7(to, quality);
          break;
      }
      to += step;
    }
    from += stride * 4;
  }
}
