import { fromHalf, toHalf } from '@/core/bytes';
import { narrowed, requireLength, widened, type DeepPixels, type PixelLayout } from './pixel-layout';

type Number = 'whole' | 'half' | 'single';

const SPELLED: Record<Number, string> = {
  whole: '16 bits each',
  half: 'half floats',
  single: 'floats of 32 bits',
};

/** Texels of one to four numbers of 16 or 32 bits, lowest byte first. One channel stands for grey. */
function deepLayout(name: string, count: 1 | 2 | 4, number: Number): PixelLayout {
  const bytesEach = number === 'single' ? 4 : 2;
  const size = count * bytesEach;
  const full = number === 'whole' ? 65535 : 1;
  const levelLength = (width: number, height: number): number => width * height * size;
  const decodeDeep = (bytes: Uint8Array, width: number, height: number): DeepPixels => {
    requireLength(name, bytes, levelLength(width, height));
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
    const texels = width * height;
    const data = number === 'whole' ? new Uint16Array(texels * 4) : new Float32Array(texels * 4);
    for (let i = 0; i < texels; i++) {
      if (count < 4) data[4 * i + 3] = full;
      for (let c = 0; c < count; c++) {
        const at = i * size + c * bytesEach;
        data[4 * i + c] =
          number === 'single'
            ? view.getFloat32(at, true)
            : number === 'half'
              ? fromHalf(view.getUint16(at, true))
              : view.getUint16(at, true);
      }
      if (count === 1) data[4 * i + 1] = data[4 * i + 2] = data[4 * i]!;
    }
    return { width, height, data };
  };
  const encodeDeep = ({ data }: DeepPixels): Uint8Array => {
    const texels = data.length / 4;
    const out = new Uint8Array(texels * size);
    const view = new DataView(out.buffer);
    // What comes as floats for whole numbers, or the other way round, is scaled.
    const isWhole = data instanceof Uint16Array;
    for (let i = 0; i < texels; i++)
      for (let c = 0; c < count; c++) {
        const at = i * size + c * bytesEach;
        const value = data[4 * i + c]!;
        if (number === 'whole')
          view.setUint16(at, isWhole ? value : Math.round(Math.max(0, Math.min(1, value)) * 65535), true);
        else if (number === 'half') view.setUint16(at, toHalf(isWhole ? value / 65535 : value), true);
        else view.setFloat32(at, isWhole ? value / 65535 : value, true);
      }
    return out;
  };
  const many = count === 1 ? 'one channel' : count === 2 ? 'two channels' : 'RGBA';
  return {
    name,
    title: `${many}, ${SPELLED[number]}`,
    alpha: count === 4 ? 'full' : 'none',
    channels: count === 1 ? 'r' : count === 2 ? 'rg' : 'rgba',
    depth: number === 'whole' ? 16 : 'float',
    block: 1,
    isExact: true,
    levelLength,
    decode: (bytes, width, height) => narrowed(decodeDeep(bytes, width, height)),
    decodeDeep,
    encode: (pixels) => encodeDeep(widened(pixels, number !== 'whole')),
    encodeDeep,
  };
}

export const DEEP_LAYOUTS: readonly PixelLayout[] = [
  deepLayout('r16', 1, 'whole'),
  deepLayout('rg16', 2, 'whole'),
  deepLayout('rgba16', 4, 'whole'),
  deepLayout('r16f', 1, 'half'),
  deepLayout('rg16f', 2, 'half'),
  deepLayout('rgba16f', 4, 'half'),
  deepLayout('r32f', 1, 'single'),
  deepLayout('rg32f', 2, 'single'),
  deepLayout('rgba32f', 4, 'single'),
];
