export { layouts, type PixelLayout } from './layouts';
export { halved, psnr, usesAlpha, type Pixels } from './pixels';
export { decodeLevel, openPicture, replacePixels, type WrappedPicture } from './wrapped-picture';
