export { readBmp } from './bmp';
export { CHANNEL_NAMES, channelOf, withChannel, type ChannelName } from './channels';
export { encodeHere, encodeLevels, encodeOver, replacePixels, type EncodeImage } from './encode';
export { type KeptBlocks, type StoredLevel } from './keep-blocks';
export { readDds, writeDds } from './dds';
export { decodeBlocks, encodeBlocks, type BlockCodec, type Quality } from './kernel';
export { readKtx2, writeKtx2 } from './ktx2';
export { layouts } from './layouts';
export {
  ditheringLayout,
  indexedLayout,
  isIndexed,
  sameLayout,
  type IndexedLayout,
  type Palette,
} from './palette';
export { type DeepPixels, type PixelLayout } from './pixel-layout';
export { channelErrors, halved, psnr, usesAlpha, type ChannelErrors, type Pixels } from './pixels';
export {
  checkPlace,
  decodeImage,
  decodeImageDeep,
  FIRST,
  flatTexture,
  fullLevels,
  MOST_SIDE,
  placesOf,
  sameShape,
  sizeAt,
  type ColourSpace,
  type FrameOnSheet,
  type NewShape,
  type Place,
  type Texture,
} from './texture';
export { decodeRegion, shrunk, type Rectangle } from './region';
export { looksLikeTga, readTga, writeTga } from './tga';
export { NOTHING_BESIDE, specOf, type Beside, type FrameSpec } from './wrapped-frame';
export { describedPicture, openPicture, type WrappedPicture } from './wrapped-picture';
