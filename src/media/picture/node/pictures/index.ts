export { refuseLarge } from './layered';
export { exportPicture, type PictureFormat } from './export';
export { pixelsBy, textureOf } from './open';
export { sharp } from './sharp';
export { TexelGate } from './texel-gate';
export { MOST_TEXELS, rawSharp, resized, texelsOfHead, toPng, type Channel } from './with-sharp';
