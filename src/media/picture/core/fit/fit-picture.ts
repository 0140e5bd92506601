import {
  channelErrors,
  decodeImage,
  encodeHere,
  encodeLevels,
  encodeOver,
  ditheringLayout,
  flatTexture,
  fullLevels,
  placesOf,
  sameLayout,
  sameShape,
  usesAlpha,
  type EncodeImage,
  type NewShape,
  type PixelLayout,
  type Pixels,
  type Quality,
  type Texture,
} from '../texture';
import type { Finding, Mend, Prepared } from '@/core/fit';
import { foundInPicture, type ChannelRatios, type Size, type StoredForm } from '../wording';

/** Below this a trained eye sees blocks; it is pointed out, not refused. */
const GOOD_PSNR = 32;

/** What was given for a slot: its largest level, and its stored images where it has them. */
export interface GivenPicture {
  readonly pixels: Pixels;
  readonly texture?: Texture | undefined;
}

export interface PictureTools {
  /** The given picture at another size, for the mend of that name. */
  readonly resize: (pixels: Pixels, width: number, height: number) => Pixels | Promise<Pixels>;
  readonly encode?: EncodeImage;
  readonly quality?: Quality;
}

const ALPHA = { none: 0, 'one bit': 1, full: 2 } as const;
const spelled = ({ width, height }: { width: number; height: number }): string => `${width} x ${height}`;

/** Makes a given picture ready for the slot of another one. */
export async function fitPicture(
  slot: Texture,
  given: GivenPicture,
  mends: ReadonlySet<Mend>,
  tools: PictureTools,
): Promise<Prepared> {
  const findings: Finding[] = [];
  const refused = (finding: Finding): Prepared => ({ bytes: undefined, findings: [...findings, finding] });
  if (!slot.rebuild)
    return refused(foundInPicture('does not fit', 'read-only', { container: slot.container }));
  const target = targetOf(slot, given.texture ?? given.pixels, mends);
  const isOther = target.layout !== slot.layout || spelled(target) !== spelled(slot);
  const stored = !isOther && given.texture && matching(slot, given.texture, findings);
  if (stored)
    return {
      bytes: slot.rebuild((place) => stored.image(place)),
      findings: [...findings, foundInPicture('fits', 'taken-as-given', { form: formOf(slot) })],
    };
  const places = slot.layers * slot.faces * slot.depth;
  if (places > 1) return refused(foundInPicture('does not fit', 'one-of-many', { places }));
  const foreign = given.texture && codecFinding(target.layout, given.texture.layout, mends);
  if (foreign) findings.push(foreign);
  if (foreign?.state === 'does not fit') return { bytes: undefined, findings };
  let { pixels } = given;
  if (spelled(pixels) !== spelled(target)) {
    if (!mends.has('resize')) return refused(sizeFinding(slot, pixels));
    findings.push(foundInPicture('look', 'resized', { from: sizeOf(pixels), to: sizeOf(target) }));
    pixels = await tools.resize(pixels, target.width, target.height);
  }
  const alpha = usesAlpha(pixels);
  if (alpha && target.layout.alpha !== 'full' && !isSharp(target.layout, pixels)) {
    if (!mends.has('drop alpha')) return refused(alphaFinding(slot, target.layout));
    pixels = opaque(pixels);
    findings.push(foundInPicture('look', 'made-opaque', {}));
  }
  if (!alpha && target.layout.alpha !== 'none' && usesAlpha(decodeImage(slot)))
    findings.push(foundInPicture('look', 'lost-alpha', {}));
  if (isOther) return reshaped(slot, target, pixels, findings, tools);
  const coded = mends.has('dither') ? { ...slot, layout: ditheringLayout(slot.layout) } : slot;
  const { images, kept, all } = await encodeOver(coded, pixels, tools.quality, tools.encode ?? encodeHere);
  findings.push(errorFinding(slot, slot, pixels, images[0]!, mends.has('dither')));
  const unit = slot.layout.block === 1 ? 'texels' : 'blocks';
  if (kept > 0 && !slot.layout.isExact)
    findings.push(foundInPicture('fits', 'left-alone', { kept, all, unit }));
  return { bytes: slot.rebuild(({ level }) => images[level]!), findings };
}

/** The layout and size that a picture gets: those of its slot, or what a mend asks for where the slot's format can say it. */
function targetOf(
  slot: Texture,
  given: { readonly width: number; readonly height: number },
  mends: ReadonlySet<Mend>,
): NewShape {
  const { layout, width, height, levels } = slot;
  if (!slot.reshape) return { layout, width, height, levels };
  const known = slot.layouts?.() ?? [];
  const wanted = [...mends].findLast((mend) => mend.startsWith('as '))?.slice(3);
  const chosen = known.find(({ name }) => name === wanted) ?? layout;
  if (!mends.has('own size')) return { layout: chosen, width, height, levels };
  const most = fullLevels(given.width, given.height);
  return {
    layout: chosen,
    width: given.width,
    height: given.height,
    // As far down as the slot goes.
    levels: levels === fullLevels(width, height) ? most : Math.min(levels, most),
  };
}

/** Stores a picture in another layout or size than its slot has. */
async function reshaped(
  slot: Texture,
  target: NewShape,
  pixels: Pixels,
  findings: readonly Finding[],
  { quality, encode }: PictureTools,
): Promise<Prepared> {
  const texture = flatTexture(target, slot.colourSpace, []);
  const images = await encodeLevels(texture, pixels, quality ?? 'normal', encode ?? encodeHere);
  return {
    bytes: slot.reshape!(target, images),
    findings: [
      ...findings,
      errorFinding(slot, texture, pixels, images[0]!),
      foundInPicture('look', 'reshaped', {
        from: formOf(slot),
        to: formOf({ ...target, levels: slot.levels }),
      }),
    ],
  };
}

/** The layout that keeps alpha in as few bytes as can be. */
const alphaLayout = (slot: Texture): PixelLayout | undefined =>
  slot
    .layouts?.()
    // BC2 keeps four bits of alpha in as many bytes as BC3 takes for all of it.
    .filter(
      ({ name, alpha, encode, channels }) =>
        alpha === 'full' && channels === 'rgba' && encode && name !== 'bc2',
    )
    .sort((a, b) => a.levelLength(64, 64) - b.levelLength(64, 64))[0];

const exactLayout = (slot: Texture): PixelLayout | undefined =>
  slot
    .layouts?.()
    .filter(({ isExact, encode, channels, depth }) => isExact && encode && channels === 'rgba' && depth === 8)
    .sort((a, b) => a.levelLength(64, 64) - b.levelLength(64, 64))[0];

const sizeOf = ({ width, height }: Size): Size => ({ width, height });
const formOf = ({ layout, width, height, levels }: NewShape): StoredForm => ({
  ...{ layout: layout.title, width, height, levels },
});
const asLayout = (layout: PixelLayout | undefined): Pick<Finding, 'also'> =>
  layout ? { also: `as ${layout.name}` } : {};

function alphaFinding(slot: Texture, { title, alpha }: PixelLayout): Finding {
  const other = alphaLayout(slot);
  const keeps = alpha === 'none' ? 'none' : 'one bit';
  return foundInPicture(
    'does not fit',
    'soft-alpha',
    { layout: title, keeps, also: other?.title ?? null },
    { mend: 'drop alpha', ...asLayout(other) },
  );
}

/** The given texture, where its images can go into the slot as they are stored. */
function matching(slot: Texture, given: Texture, findings: Finding[]): Texture | undefined {
  if (!sameLayout(given.layout, slot.layout) || !sameShape(given, slot)) return undefined;
  if (given.levels < slot.levels) {
    findings.push(foundInPicture('look', 'fewer-levels', { given: given.levels, slot: slot.levels }));
    return undefined;
  }
  const spaces = { given: given.colourSpace, slot: slot.colourSpace };
  if (spaces.given !== 'not said' && spaces.slot !== 'not said' && spaces.given !== spaces.slot)
    findings.push(foundInPicture('look', 'colour-space', spaces));
  if (placesOf(slot).length < placesOf(given).length)
    findings.push(foundInPicture('fits', 'more-levels', { given: given.levels, slot: slot.levels }));
  return given;
}

function codecFinding(slot: PixelLayout, given: PixelLayout, mends: ReadonlySet<Mend>): Finding | undefined {
  if (given === slot) return undefined;
  if (mends.has('convert codec')) {
    const facts = { from: given.title, to: slot.title, isExact: given.isExact };
    return foundInPicture('look', 'coded-anew', facts);
  }
  // Numbered colours are read without loss, whatever writing them would lose.
  if (given.isExact || given.dithered) return undefined;
  const keeps = given.alpha !== 'full' && ALPHA[given.alpha] < ALPHA[slot.alpha] ? given.alpha : null;
  const facts = { given: given.title, slot: slot.title, keeps };
  return foundInPicture('does not fit', 'other-codec', facts, { mend: 'convert codec' });
}

const sizeFinding = (slot: Texture, given: Pixels): Finding =>
  foundInPicture(
    'does not fit',
    'other-size',
    { given: sizeOf(given), slot: sizeOf(slot) },
    { mend: 'resize', ...(slot.reshape && { also: 'own size' }) },
  );

/** Whether alpha is only ever there or not, in a layout that keeps one bit of it. */
function isSharp({ alpha }: PixelLayout, { data }: Pixels): boolean {
  if (alpha !== 'one bit') return false;
  for (let i = 3; i < data.length; i += 4) if (data[i] !== 0 && data[i] !== 255) return false;
  return true;
}

function errorFinding(
  original: Texture,
  slot: Texture,
  pixels: Pixels,
  level: Uint8Array,
  isMixed = false,
): Finding {
  const back = slot.layout.decode(level, slot.width, slot.height);
  // What is not there has no colour that could be lost.
  const isSharpAlpha = slot.layout.alpha === 'one bit';
  const errors = channelErrors(
    isSharpAlpha ? withoutHidden(pixels) : seen(slot.layout, pixels),
    isSharpAlpha ? withoutHidden(back) : back,
  );
  const { channels, alpha, dithered } = slot.layout;
  const kept = (value: number): number | null => (value === Infinity ? null : value);
  const ratios = {
    red: kept(errors.red),
    ...(channels !== 'r' && { green: kept(errors.green) }),
    ...(channels.startsWith('rgb') && { blue: kept(errors.blue) }),
    ...(alpha === 'full' && { alpha: kept(errors.alpha) }),
  };
  const least = Math.min(errors.colour, alpha === 'full' ? errors.alpha : Infinity);
  const facts = { form: formOf(slot), ratios: least === Infinity ? exactly(ratios) : ratios };
  const state = least < GOOD_PSNR ? 'look' : 'fits';
  if (dithered && least < Infinity)
    return isMixed
      ? foundInPicture(state, 'mixed-colours', facts)
      : foundInPicture(state, 'nearest-colours', facts, { mend: 'dither' });
  if (state === 'fits') return foundInPicture(state, 'coded', facts);
  const exact = exactLayout(original);
  return foundInPicture(state, 'coded-badly', { ...facts, also: exact?.title ?? null }, asLayout(exact));
}

/** What is not there at all is not lost. */
const exactly = (ratios: ChannelRatios): ChannelRatios =>
  Object.fromEntries(Object.keys(ratios).map((channel) => [channel, null])) as unknown as ChannelRatios;

/** What of a picture the layout could keep at best, so that channels that it does not have are no error. */
function seen({ channels }: PixelLayout, pixels: Pixels): Pixels {
  if (channels === 'rgba' || channels === 'rgb') return pixels;
  const data = pixels.data.slice();
  for (let i = 0; i < data.length; i += 4) {
    if (channels === 'a') data[i] = data[i + 1] = 0;
    if (channels === 'r' || channels === 'ra') data[i + 1] = data[i + 2] = data[i]!;
    else data[i + 2] = 0;
  }
  return { ...pixels, data };
}

function withoutHidden(pixels: Pixels): Pixels {
  const data = pixels.data.slice();
  for (let i = 0; i < data.length; i += 4) if (data[i + 3] === 0) data.fill(0, i, i + 3);
  return { ...pixels, data };
}

function opaque(pixels: Pixels): Pixels {
  const data = pixels.data.slice();
  for (let i = 3; i < data.length; i += 4) data[i] = 255;
  return { ...pixels, data };
}
