import type { MediumNode } from '@/media/medium';
import { inMemory, type Converter } from '@/platform/node/convert/converter';
import { preparePicture } from './fit';
import { pictureHead } from './head';
import { lookAtPicture } from './look';
import { exportPicture, type PictureFormat } from './pictures';

const as = (format: PictureFormat): Converter =>
  inMemory(`.${format}`, (bytes, path, { mediaScripts }) => exportPicture(bytes, path, mediaScripts, format));

/** Pictures, where there is Node. */
export const pictureNode: MediumNode = {
  kind: 'picture',
  converters: { png: as('png'), tga: as('tga'), dds: as('dds'), ktx2: as('ktx2') },
  head: pictureHead,
  look: lookAtPicture,
  fit: preparePicture,
};
