import { fileStem } from '@/core/kinds';
import type { Readable } from 'node:stream';
import yazl from 'yazl';
import { decodeImage, placesOf, type Place, type Texture } from '@/media/picture/core/texture';
import { refuseLarge, textureOf, toPng } from '@/media/picture/node/pictures';
import type { OpenedEntry } from '../opening/opened';
import { entryPixels, wholeEntry } from './preview';
import { mediaScriptFor } from '../opening/scripts';

const FACES = ['right', 'left', 'top', 'bottom', 'front', 'back'];

/** What tells the images of a picture apart in their names; nothing where there is only one. */
function nameOf(place: Place, { levels, layers, faces, depth }: Texture): string {
  return [
    ...(layers > 1 ? [`layer_${place.layer}`] : []),
    ...(faces > 1 ? [FACES[place.face] ?? `face_${place.face}`] : []),
    ...(depth > 1 ? [`slice_${place.slice}`] : []),
    ...(levels > 1 ? [`level_${place.level}`] : []),
  ].join('.');
}

/** Every image of a picture, levels, layers, faces and slices, as a PNG each, in a ZIP. */
export function allImages(opened: OpenedEntry): { stream: Readable; stem: string } {
  const { entry } = opened;
  const stem = fileStem(entry.path);
  const texture = textureOf(wholeEntry(opened), entry.path, mediaScriptFor);
  if (texture) refuseLarge(texture.width, texture.height, entry.path);
  const zip = new yazl.ZipFile();
  const stream = zip.outputStream as Readable;
  zip.on('error', (error) => void stream.destroy(error as Error));
  void (async () => {
    if (!texture)
      zip.addBuffer(await toPng(await entryPixels(opened)), `${stem}.png`, {
        compress: false,
      });
    else
      for (const place of placesOf(texture)) {
        const name = [stem, nameOf(place, texture), 'png'].filter((part) => part !== '').join('.');
        zip.addBuffer(await toPng(decodeImage(texture, place)), name, { compress: false });
      }
    zip.end();
  })().catch((error: unknown) => stream.destroy(error as Error));
  return { stream, stem };
}
