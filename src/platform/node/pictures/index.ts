export { refuseLarge } from './layered';
export { exportPicture, type PictureFormat } from './export';
export { pixelsBy, textureOf, wrappedPictureOf, type PictureScripts } from './open';
export { MOST_TEXELS, rawSharp, resized, toPng, type Channel } from './with-sharp';
