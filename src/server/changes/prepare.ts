import { containerOf, typeOfHead } from '@/core/kinds';
import { FormatError } from '@/core/bytes';
import { fitMedia, fitSound, type SoundTools } from '@/media/sound/core/fit';
import { fitPicture, type GivenPicture } from '@/media/picture/core/fit';
import { fitText } from '@/media/text/core/fit-text';
import { type Finding, type Mend, type Prepared } from '@/core/fit';
import { decodeImage, usesAlpha, type Pixels } from '@/media/picture/core/texture';
import { packedSound, shapedSound } from '@/platform/node/convert';
import { wrappedSoundOf } from '@/platform/node/media-scripts';
import { rawSharp, refuseLarge, resized, textureOf } from '@/media/picture/node/pictures';
import { pixelsOf, tracksBeside } from '../preview';
import { mediaScriptFor } from '../scripts';
import { encodeBeside } from '../texture-threads';
import { UserError } from '../user-error';

/** Sounds are decoded and resampled by a process beside the server, and their heads read by the look thread. */
const SOUND_TOOLS: SoundTools = {
  decode: shapedSound,
  async about(given) {
    const head = typeOfHead(given)?.kind === 'sound' ? await tracksBeside(given) : undefined;
    return head?.sort === 'sound' && head.rate && head.channels
      ? { rate: head.rate, channels: head.channels, codec: head.codec }
      : undefined;
  },
};

/** Makes given bytes ready for a slot. Throws UserError where they are not what their name says. */
export async function prepare(
  slot: Uint8Array,
  path: string,
  kind: string,
  given: Uint8Array,
  name: string,
  mends: ReadonlySet<Mend>,
): Promise<Prepared> {
  refuseMisnamed(given, name);
  const picture = textureOf(slot, path, mediaScriptFor);
  if (picture) {
    const tools = { resize: resized, encode: encodeBeside };
    return fitPicture(picture, await givenPicture(given, name, path), mends, tools);
  }
  const sound = await orRefused('What is given does not go into it', () =>
    prepareSound(slot, path, given, name, mends),
  );
  if (sound) return sound;
  if (kind === 'picture' && typeOfHead(slot)?.kind === 'picture')
    return preparePlain(slot, given, name, path, mends);
  const media = await prepareMedia(slot, given, name, mends);
  if (media) return media;
  if (kind === 'text') return fitText(slot, given, mends);
  return {
    bytes: given,
    findings: [
      {
        state: 'look',
        what: `${given.length} bytes in the place of ${slot.length}`,
        why: 'Nothing is known about this kind of entry, so its fit cannot be checked',
      },
    ],
  };
}

/** A sound or film in an open format. Undefined where the slot holds none. */
const prepareMedia = (
  slot: Uint8Array,
  given: Uint8Array,
  name: string,
  mends: ReadonlySet<Mend>,
): Promise<Prepared | undefined> =>
  typeOfHead(slot)?.ending === 'wav'
    ? orRefused('The slot holds a wave file', () => fitSound(slot, given, name, mends, SOUND_TOOLS))
    : orRefused('What is given cannot be read whole', () =>
        fitMedia(slot, given, name, mends, { tracksOf: tracksBeside, pack: packedSound }),
      );

/** A sound that a script describes: what it wraps is fitted, and wrapped again. Undefined where the slot is none. */
async function prepareSound(
  slot: Uint8Array,
  path: string,
  given: Uint8Array,
  name: string,
  mends: ReadonlySet<Mend>,
): Promise<Prepared | undefined> {
  const wrapped = wrappedSoundOf(slot, path, mediaScriptFor);
  if (!wrapped) return undefined;
  const inner = wrappedSoundOf(given, name, mediaScriptFor)?.inner ?? given;
  const ready = await prepareMedia(wrapped.inner, inner, name, mends);
  if (ready && !ready.bytes) return ready;
  const findings: readonly Finding[] = ready?.findings ?? [
    {
      state: 'look',
      what: `${inner.length} bytes in the place of ${wrapped.inner.length}`,
      why: `Nothing is known about what lies in ${wrapped.title}, so its fit cannot be checked`,
    },
  ];
  return {
    bytes: wrapped.rewrap(ready?.bytes ?? inner),
    findings: [
      ...findings,
      {
        state: 'fits',
        what: `put into ${wrapped.title}`,
        why: 'What its head says of the sound is worked out anew',
      },
    ],
  };
}

/** What is given and cannot be read does not fit, in the words of whoever tried. */
async function orRefused<T>(why: string, work: () => Promise<T>): Promise<T | Prepared> {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    return { bytes: undefined, findings: [{ state: 'does not fit', what: error.message, why }] };
  }
}

/** An ending that promises a type which the first bytes do not bear out. */
function refuseMisnamed(given: Uint8Array, name: string): void {
  const ending = name.slice(name.lastIndexOf('.') + 1).toLowerCase();
  const promised = ending === 'jpeg' ? 'jpg' : ending;
  const type = typeOfHead(given);
  if (
    !['png', 'jpg', 'webp', 'dds', 'ktx2', 'psd', 'ora', 'bmp', 'wav', 'ogg', 'flac'].includes(promised) ||
    (type && containerOf(type.ending) === promised)
  )
    return;
  const found = type
    ? `those of a ${type.ending.toUpperCase()} file`
    : given.length === 0
      ? 'missing: the file is empty'
      : 'of no such file';
  throw new UserError(
    422,
    `${name} is no ${promised.toUpperCase()} file: its first bytes are ${found}. Nothing was changed. Save it again in the format that its name says, or rename it.`,
  );
}

/** What was given for a picture, decoded. Throws UserError where it is none, or cannot be. */
async function givenPicture(given: Uint8Array, name: string, path: string): Promise<GivenPicture> {
  const isNamedTga = /\.tga$/i.test(name);
  try {
    const texture = textureOf(given, name, mediaScriptFor);
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
  slot: Uint8Array,
  given: Uint8Array,
  name: string,
  path: string,
  mends: ReadonlySet<Mend>,
): Promise<Prepared> {
  const wanted = typeOfHead(slot)!.ending;
  const before = await pixelsOf(slot, path);
  let { pixels } = await givenPicture(given, name, path);
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
  const isSame = typeOfHead(given)?.ending === wanted;
  if (isSame && !(isOther && mends.has('resize')))
    return {
      bytes: given,
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
          what: `${name} given, the slot is ${wanted.toUpperCase()}`,
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
