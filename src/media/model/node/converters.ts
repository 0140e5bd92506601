import { inMemory, type Converter } from '@/platform/node/convert/converter';
import { bytesBeside } from '@/platform/node/media-scripts';
import { writeOpenForm, type Form, type WriteEnding } from '../core';
import { needForm } from './forms';
import { formAs3mf } from './print';
import { picturesFor } from './take';

/** The pictures that the materials of a form name and that lie beside it. */
function picturesBeside(form: Form, bytes: Uint8Array): { path: string; name: string; bytes: Uint8Array }[] {
  const paths = new Set(
    form.materials.flatMap(({ pictures: { colour, normal, glow } }) => [colour, normal, glow]),
  );
  return [...paths].flatMap((path) => {
    const own = path === undefined ? undefined : bytesBeside(bytes, path);
    return own && path !== undefined ? [{ path, name: path, bytes: own }] : [];
  });
}

const as = (ending: WriteEnding): Converter =>
  inMemory(`.${ending}`, async (bytes, path, context) => {
    const { mediaScripts } = context;
    const { form } = await needForm(bytes, path, mediaScripts);
    if (ending !== 'glb') return writeOpenForm(form, ending);
    return writeOpenForm(
      form,
      ending,
      await picturesFor(form, picturesBeside(form, bytes), {}, mediaScripts),
    );
  });

const printed = inMemory('.3mf', async (bytes, path, { mediaScripts }) => {
  const { form } = await needForm(bytes, path, mediaScripts);
  return formAs3mf(form, path.slice(path.lastIndexOf('/') + 1));
});

export const modelConverters = {
  ...{ glb: as('glb'), obj: as('obj'), ply: as('ply'), stl: as('stl') },
  '3mf': printed,
};
