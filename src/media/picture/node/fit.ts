import { FormatError } from '@/core/bytes';
import type { Finding, Mend, Prepared } from '@/core/fit';
import { typeOfHead } from '@/core/kinds';
import type { MediaTools, MediumFile } from '@/media/medium';
import { UserError } from '@/platform/user-error';
import { fitPicture, type GivenPicture } from '../core/fit';
import { decodeImage, usesAlpha, type Pixels } from '../core/texture';
import { rawSharp, refuseLarge, resized, textureOf } from './pictures';

/** Makes a picture ready for a slot: one whose stored images can be had, or one in a common format. */
export async function preparePicture(
  slot: MediumFile & { readonly kind: string },
  given: MediumFile,
  mends: ReadonlySet<Mend>,
  tools: MediaTools,
): Promise<Prepared | undefined> {
  const picture = textureOf(slot.bytes, slot.name, tools.scripts);
  if (picture) {
    const own = { resize: resized, encode: tools.encodeImage };
    return fitPicture(picture, await givenPicture(given, slot.name, tools), mends, own);
  }
  const isPlain = slot.kind === 'picture' && typeOfHead(slot.bytes)?.kind === 'picture';
  return isPlain ? preparePlain(slot, given, mends, tools) : undefined;
}

/** What was given for a picture, decoded. Throws UserError where it is none, or cannot be. */
async function givenPicture(
  { bytes: given, name }: MediumFile,
  path: string,
  { scripts, pixelsOf }: MediaTools,
): Promise<GivenPicture> {
  const isNamedTga = /\.tga$/i.test(name);
  try {
    const texture = textureOf(given, name, scripts);
    if (texture) {
      // What goes in as it is stored need not be decoded, so that it may be as large as it likes.
      let decoded: Pixels | undefined;
      return {
        texture,
        get pixels() {
          refuseLarge(texture.width, texture.height, name);
          return (decoded ??= decodeImage(texture));
        },
      };
    }
    if (typeOfHead(given)?.kind !== 'picture' && !isNamedTga)
      throw new UserError(
        422,
        `${name} is no picture that can be read here; ${path} holds one. Give a PNG, JPEG, WebP, TGA, BMP, DDS, KTX2, PSD or OpenRaster file, or a file of the same format as the slot. Nothing was changed.`,
      );
    return { pixels: await pixelsOf(given, name) };
  } catch (error) {
    if (error instanceof UserError || (error instanceof FormatError && error.code !== 'not-recognised'))
      throw error;
    throw new UserError(
      422,
      `${name} cannot be decoded: ${error instanceof Error ? error.message : String(error)}. Save it again and try once more. Nothing was changed.`,
    );
  }
}

/** A slot in a common format: a file of the same format goes in as it is, another one is saved anew in the slot's. */
async function preparePlain(
  { bytes: slot, name: path }: MediumFile,
  given: MediumFile,
  mends: ReadonlySet<Mend>,
  tools: MediaTools,
): Promise<Prepared> {
  const wanted = typeOfHead(slot)!.ending;
  const before = await tools.pixelsOf(slot, path);
  let { pixels } = await givenPicture(given, path, tools);
  const findings: Finding[] = [];
  const size = `${before.width} x ${before.height}`;
  const isOther = pixels.width !== before.width || pixels.height !== before.height;
  const was = `${pixels.width} x ${pixels.height}`;
  if (isOther && mends.has('resize')) {
    findings.push({
      state: 'look',
      what: `resized from ${was} to ${size}`,
      why: 'Resizing softens fine detail',
    });
    pixels = await resized(pixels, before.width, before.height);
  } else if (isOther)
    findings.push({
      state: 'look',
      what: `${was} given, the slot is ${size}`,
      why: 'The file says its own size; whether the game goes by it cannot be known here',
      mend: { name: 'resize', label: `Resize to ${size}` },
    });
  if (!usesAlpha(pixels) && usesAlpha(before))
    findings.push({
      state: 'look',
      what: 'no transparency given, the original has some',
      why: 'What was see-through becomes solid',
    });
  const isSame = typeOfHead(given.bytes)?.ending === wanted;
  if (isSame && !(isOther && mends.has('resize')))
    return {
      bytes: given.bytes,
      findings: [
        ...findings,
        { state: 'fits', what: `${wanted.toUpperCase()}, taken as given`, why: 'As the slot has it' },
      ],
    };
  const image = rawSharp(pixels);
  const saved =
    wanted === 'png'
      ? image.png()
      : wanted === 'webp'
        ? image.webp({ lossless: true, exact: true })
        : wanted === 'jpg'
          ? image.jpeg({ quality: 95 })
          : undefined;
  if (!saved)
    return {
      bytes: undefined,
      findings: [
        ...findings,
        {
          state: 'does not fit',
          what: `${given.name} given, the slot is ${wanted.toUpperCase()}`,
          why: `Files of this kind are only read here; give a ${wanted.toUpperCase()} file`,
        },
      ],
    };
  findings.push({
    state: wanted === 'jpg' ? 'look' : 'fits',
    what: `saved as ${wanted.toUpperCase()}`,
    why: 'As the slot has it',
  });
  return { bytes: new Uint8Array(await saved.toBuffer()), findings };
}
