import type { ColourSpace } from './texture';

/** What stands for a pixel layout in DDS (DXGI_FORMAT) and KTX2 (VkFormat): plain, and where it is sRGB. */
interface Numbers {
  readonly name: string;
  readonly dxgi?: readonly [plain: number, srgb?: number];
  readonly vk?: readonly [plain: number, srgb?: number];
}

const NUMBERS: readonly Numbers[] = [
  { name: 'rgba8', dxgi: [28, 29], vk: [37, 43] },
  { name: 'bgra8', dxgi: [87, 91], vk: [44, 50] },
  { name: 'bgrx8', dxgi: [88, 93] },
  { name: 'rgb8', vk: [23, 29] },
  { name: 'bgr8', vk: [30, 36] },
  { name: 'rgb565', dxgi: [85], vk: [4] },
  { name: 'bgr565', vk: [5] },
  { name: 'argb1555', dxgi: [86], vk: [8] },
  { name: 'rgba5551', vk: [6] },
  { name: 'argb4444', dxgi: [115], vk: [1000340000] },
  { name: 'rgba4444', vk: [2] },
  { name: 'r8', dxgi: [61], vk: [9, 15] },
  { name: 'a8', dxgi: [65] },
  { name: 'rg8', dxgi: [49], vk: [16, 22] },
  { name: 'r16', dxgi: [56], vk: [70] },
  { name: 'rg16', dxgi: [35], vk: [77] },
  { name: 'rgba16', dxgi: [11], vk: [91] },
  { name: 'r16f', dxgi: [54], vk: [76] },
  { name: 'rg16f', dxgi: [34], vk: [83] },
  { name: 'rgba16f', dxgi: [10], vk: [97] },
  { name: 'r32f', dxgi: [41], vk: [100] },
  { name: 'rg32f', dxgi: [16], vk: [103] },
  { name: 'rgba32f', dxgi: [2], vk: [109] },
  { name: 'bc1', dxgi: [71, 72], vk: [133, 134] },
  { name: 'bc2', dxgi: [74, 75], vk: [135, 136] },
  { name: 'bc3', dxgi: [77, 78], vk: [137, 138] },
  { name: 'bc4', dxgi: [80], vk: [139] },
  { name: 'bc4s', dxgi: [81], vk: [140] },
  { name: 'bc5', dxgi: [83], vk: [141] },
  { name: 'bc5s', dxgi: [84], vk: [142] },
  { name: 'bc6h', dxgi: [95], vk: [143] },
  { name: 'bc6hs', dxgi: [96], vk: [144] },
  { name: 'bc7', dxgi: [98, 99], vk: [145, 146] },
];

/** Numbers that mean the same layout as another one. BC1 without alpha is read as BC1. */
const ALSO: Record<'dxgi' | 'vk', Record<number, readonly [string, ColourSpace]>> = {
  dxgi: {},
  vk: { 131: ['bc1', 'linear'], 132: ['bc1', 'sRGB'] },
};

/** The layout and colour space that a number stands for. */
export function layoutOf(sort: 'dxgi' | 'vk', number: number): readonly [string, ColourSpace] | undefined {
  for (const entry of NUMBERS) {
    const pair = entry[sort];
    if (pair?.[0] === number) return [entry.name, 'linear'];
    if (pair?.[1] === number) return [entry.name, 'sRGB'];
  }
  return ALSO[sort][number];
}

/** The number for a layout; undefined where the container has none. */
export function numberOf(sort: 'dxgi' | 'vk', name: string, space: ColourSpace): number | undefined {
  const pair = NUMBERS.find((entry) => entry.name === name)?.[sort];
  return pair && (space === 'sRGB' ? (pair[1] ?? pair[0]) : pair[0]);
}
