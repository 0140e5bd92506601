import { FormatError } from '@/core/bytes';
import { inMemory, type ConvertContext, type Converter } from '@/platform/node/convert/converter';
import { bytesBeside } from '@/platform/node/media-scripts';
import { exportPicture } from '@/media/picture/node/pictures';
import { writeOpenForm, type Form, type GivenPicture, type WriteEnding } from '../core';
import { needForm } from './forms';
import { formAs3mf } from './print';

/** The pictures that the materials of a form name and that lie beside it, as PNG. What is missing, or is no picture, is left out. */
async function picturesOf(
  form: Form,
  bytes: Uint8Array,
  { mediaScripts }: ConvertContext,
): Promise<Map<string, GivenPicture>> {
  const found = new Map<string, GivenPicture>();
  const wanted = new Set(
    form.materials.flatMap(({ pictures: { colour, normal, glow } }) => [colour, normal, glow]),
  );
  for (const path of wanted) {
    const own = path === undefined ? undefined : bytesBeside(bytes, path);
    if (!own || path === undefined) continue;
    try {
      const png = new Uint8Array(await exportPicture(own, path, mediaScripts, 'png'));
      found.set(path, { bytes: png, type: 'image/png' });
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
    }
  }
  return found;
}

const as = (ending: WriteEnding): Converter =>
  inMemory(`.${ending}`, async (bytes, path, context) => {
    const { form } = await needForm(bytes, path, context.mediaScripts);
    const pictures = ending === 'glb' ? await picturesOf(form, bytes, context) : undefined;
    return writeOpenForm(form, ending, (wanted) => pictures?.get(wanted));
  });

const printed = inMemory('.3mf', async (bytes, path, { mediaScripts }) => {
  const { form } = await needForm(bytes, path, mediaScripts);
  return formAs3mf(form, path.slice(path.lastIndexOf('/') + 1));
});

export const modelConverters = {
  ...{ glb: as('glb'), obj: as('obj'), ply: as('ply'), stl: as('stl') },
  '3mf': printed,
};
