import { FormatError } from '@/core/bytes';
import type { Finding, Mend, Prepared } from '@/core/fit';
import { typeOfHead } from '@/core/kinds';
import type { MediaTools, MediumFile } from '@/media/medium';
import { UserError } from '@/platform/user-error';
import { fitPicture, type GivenPicture } from '../core/fit';
import { foundInPicture, type Size } from '../core/wording';
import { decodeImage, usesAlpha, type Pixels } from '../core/texture';
import { rawSharp, refuseLarge, resized, textureOf } from './pictures';

const sizeOf = ({ width, height }: Size): Size => ({ width, height });

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
  const sizes = { given: sizeOf(pixels), slot: sizeOf(before) };
  const isOther = pixels.width !== before.width || pixels.height !== before.height;
  if (isOther && mends.has('resize')) {
    findings.push(foundInPicture('look', 'resized', { from: sizes.given, to: sizes.slot }));
    pixels = await resized(pixels, before.width, before.height);
  } else if (isOther) findings.push(foundInPicture('look', 'own-size', sizes, { mend: 'resize' }));
  if (!usesAlpha(pixels) && usesAlpha(before)) findings.push(foundInPicture('look', 'lost-alpha', {}));
  const format = wanted.toUpperCase();
  const isSame = typeOfHead(given.bytes)?.ending === wanted;
  if (isSame && !(isOther && mends.has('resize')))
    return {
      bytes: given.bytes,
      findings: [...findings, foundInPicture('fits', 'same-file', { format })],
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
      findings: [...findings, foundInPicture('does not fit', 'only-read', { name: given.name, format })],
    };
  findings.push(foundInPicture(wanted === 'jpg' ? 'look' : 'fits', 'saved', { format }));
  return { bytes: new Uint8Array(await saved.toBuffer()), findings };
}
