import { FormatError } from '@/core/bytes';
import type { MediaScripts } from '@/platform/node/media-scripts';
import { exportPicture, sharp } from '@/media/picture/node/pictures';
import { writeGltfFiles, writeOpenForm, type Form, type GivenPicture, type PictureFor } from '../core';
import {
  isUnnamed,
  regreyed,
  saysAnything,
  stemFor,
  takenForm,
  withColours,
  type Taken,
  type TakeSettings,
} from '../core/take';
import { nothingLeft } from '../core/form/nothing-left';
import { needForm } from './forms';
import { formAs3mf } from './print';
import { zipped } from './zipped';

/** A file that is held, by its name. */
export interface HeldFile {
  readonly bytes: Uint8Array;
  readonly name: string;
}

export interface ToTake extends HeldFile {
  readonly settings: TakeSettings;
  /** A file whose clips are taken in place of its own. */
  readonly other?: HeldFile | undefined;
  /** Pictures by the paths that materials name; none where only what is told of it is wanted. */
  readonly pictures: readonly (HeldFile & { readonly path: string })[];
}

async function chosen({ bytes, name, settings, other, pictures }: ToTake, scripts: MediaScripts) {
  const opened = await needForm(bytes, name, scripts);
  const form = pictures.some(({ path }) => isUnnamed(path)) ? withColours(opened.form) : opened.form;
  const clipsOf = other && (await needForm(other.bytes, other.name, scripts)).form;
  return takenForm(form, settings, clipsOf);
}

/** What would be taken out. */
export const toldOfTake = async (asked: ToTake, scripts: MediaScripts): Promise<Taken> =>
  (await chosen(asked, scripts)).told;

/** A model as a file to keep: the bytes and the ending; glTF with what lies beside it is a ZIP. */
export async function takeModel(
  asked: ToTake,
  scripts: MediaScripts,
): Promise<{ readonly bytes: Uint8Array; readonly ending: string }> {
  const { as, greys, called } = asked.settings;
  const { form } = await chosen(asked, scripts);
  const stem = stemFor(called, asked.name);
  if (as === '3mf') return { bytes: await formAs3mf(form, stem), ending: as };
  if (as !== 'glb' && as !== 'gltf' && !form.parts.some(({ triangles }) => triangles.length > 0))
    throw nothingLeft(asked.name);
  if (as !== 'glb' && as !== 'gltf') return { bytes: await writeOpenForm(form, as), ending: as };
  const pictureFor = await picturesFor(form, asked.pictures, greys, scripts);
  if (as === 'glb') return { bytes: await writeOpenForm(form, as, pictureFor), ending: as };
  return { bytes: await zipped(await writeGltfFiles(form, stem, pictureFor)), ending: 'zip' };
}

/** Pictures of materials as PNG; what cannot be opened as a picture is left out. */
export async function picturesFor(
  form: Form,
  pictures: ToTake['pictures'],
  greys: TakeSettings['greys'],
  scripts: MediaScripts,
): Promise<PictureFor> {
  const made = new Map<string, GivenPicture>();
  const byPath = new Map(pictures.map((picture) => [picture.path, picture]));
  const add = async (
    role: 'colour' | 'grey',
    path: string | undefined,
    change: (png: Uint8Array) => Promise<GivenPicture>,
  ): Promise<void> => {
    const key = `${role} ${path}`;
    const picture = path === undefined ? undefined : byPath.get(path);
    if (!picture || made.has(key)) return;
    try {
      made.set(key, await change(await exportPicture(picture.bytes, picture.name, scripts, 'png')));
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
    }
  };
  for (const { pictures: own } of form.materials) {
    for (const path of [own.colour, own.normal, own.glow]) await add('colour', path, withAlpha);
    if (saysAnything(greys)) await add('grey', own.grey, (png) => regreyedPng(png, greys));
  }
  return (path, role) => made.get(`${role} ${path}`);
}

/** Few texels in between are a soft edge of what is cut out. */
const SOFT_SHARE = 0.02;

async function withAlpha(png: Uint8Array): Promise<GivenPicture> {
  const picture = { bytes: new Uint8Array(png), type: 'image/png' as const };
  const { hasAlpha } = await sharp(png).metadata();
  if (!hasAlpha) return { ...picture, alpha: 'none' };
  const texels = await sharp(png)
    .extractChannel('alpha')
    .toColourspace('b-w')
    .raw({ depth: 'uchar' })
    .toBuffer();
  let [clear, soft] = [0, 0];
  for (const value of texels) {
    if (value < 8) clear++;
    else if (value < 248) soft++;
  }
  if (clear + soft === 0) return { ...picture, alpha: 'none' };
  return { ...picture, alpha: soft > SOFT_SHARE * texels.length ? 'soft' : 'cut' };
}

async function regreyedPng(png: Uint8Array, greys: TakeSettings['greys']): Promise<GivenPicture> {
  const { data, info } = await sharp(png)
    .ensureAlpha()
    .toColourspace('srgb')
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  const texels = regreyed(data, greys);
  const made = await sharp(texels, { raw: { width: info.width, height: info.height, channels: 3 } })
    .png()
    .toBuffer();
  return { bytes: new Uint8Array(made), type: 'image/png' };
}
