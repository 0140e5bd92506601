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
  const refused = (finding: Omit<Finding, 'state'>): Prepared => ({
    bytes: undefined,
    findings: [...findings, { ...finding, state: 'does not fit' }],
  });
  if (!slot.rebuild)
    return refused({
      what: `${slot.container} is only read here`,
      why: 'What is around the texels could not be kept',
    });
  const target = targetOf(slot, given.texture ?? given.pixels, mends);
  const isOther = target.layout !== slot.layout || spelled(target) !== spelled(slot);
  const stored = !isOther && given.texture && matching(slot, given.texture, findings);
  if (stored)
    return {
      bytes: slot.rebuild((place) => stored.image(place)),
      findings: [
        ...findings,
        {
          state: 'fits',
          what: `${described(slot)}, taken as given`,
          why: 'It is coded as the slot has it, so nothing is lost',
        },
      ],
    };
  const places = slot.layers * slot.faces * slot.depth;
  if (places > 1)
    return refused({
      what: `one picture given, the slot has ${places}`,
      why: 'Layers, faces or slices that are missing would be empty; give a file that has them all, in the same codec',
    });
  const foreign = given.texture && codecFinding(target.layout, given.texture.layout, mends);
  if (foreign) findings.push(foreign);
  if (foreign?.state === 'does not fit') return { bytes: undefined, findings };
  let { pixels } = given;
  if (spelled(pixels) !== spelled(target)) {
    if (!mends.has('resize')) return refused(sizeFinding(slot, pixels));
    findings.push({
      state: 'look',
      what: `resized from ${spelled(pixels)} to ${spelled(target)}`,
      why: 'Resizing softens fine detail',
    });
    pixels = await tools.resize(pixels, target.width, target.height);
  }
  const alpha = usesAlpha(pixels);
  if (alpha && target.layout.alpha !== 'full' && !isSharp(target.layout, pixels)) {
    if (!mends.has('drop alpha'))
      return refused({
        what: `transparency given, ${target.layout.title} keeps ${target.layout.alpha === 'none' ? 'none' : 'one bit of it'}`,
        why: 'The game would show hard edges or a solid area',
        mend: { name: 'drop alpha', label: 'Make it opaque' },
        ...offer(alphaLayout(slot), (title) => `Store it as ${title}, which keeps it`),
      });
    pixels = opaque(pixels);
    findings.push({ state: 'look', what: 'made opaque', why: 'The slot keeps no soft transparency' });
  }
  if (!alpha && target.layout.alpha !== 'none' && usesAlpha(decodeImage(slot)))
    findings.push({
      state: 'look',
      what: 'no transparency given, the original has some',
      why: 'What was see-through becomes solid',
    });
  if (isOther) return reshaped(slot, target, pixels, findings, tools);
  const coded = mends.has('dither') ? { ...slot, layout: ditheringLayout(slot.layout) } : slot;
  const { images, kept, all } = await encodeOver(coded, pixels, tools.quality, tools.encode ?? encodeHere);
  findings.push(errorFinding(slot, slot, pixels, images[0]!, mends.has('dither')));
  if (kept > 0 && !slot.layout.isExact)
    findings.push({
      state: 'fits',
      what: `${kept} of ${all} ${slot.layout.block === 1 ? 'texels' : 'blocks'} left as they were`,
      why: 'Only what differs from the original is coded anew, so the rest loses nothing',
    });
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
  const changes = [
    ...(target.layout === slot.layout ? [] : [`${slot.layout.title} becomes ${target.layout.title}`]),
    ...(spelled(target) === spelled(slot) ? [] : [`${spelled(slot)} becomes ${spelled(target)}`]),
  ].join(', ');
  return {
    bytes: slot.reshape!(target, images),
    findings: [
      ...findings,
      errorFinding(slot, texture, pixels, images[0]!),
      {
        state: 'look',
        what: changes,
        why: 'The head says so; whether the game takes it as that, a trial tells',
      },
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

const offer = (layout: PixelLayout | undefined, label: (title: string) => string): Pick<Finding, 'also'> =>
  layout ? { also: { name: `as ${layout.name}`, label: label(layout.title) } } : {};

const described = (slot: Pick<Texture, 'layout' | 'width' | 'height' | 'levels'>): string =>
  `${slot.layout.title}, ${spelled(slot)}, ${slot.levels} ${slot.levels === 1 ? 'level' : 'levels'}`;

/** The given texture, where its images can go into the slot as they are stored. */
function matching(slot: Texture, given: Texture, findings: Finding[]): Texture | undefined {
  if (!sameLayout(given.layout, slot.layout) || !sameShape(given, slot)) return undefined;
  if (given.levels < slot.levels) {
    findings.push({
      state: 'look',
      what: `${given.levels} levels given, the slot has ${slot.levels}`,
      why: 'The smaller ones are made from the largest, and so is the largest coded anew',
    });
    return undefined;
  }
  const spaces = [given.colourSpace, slot.colourSpace];
  if (!spaces.includes('not said') && spaces[0] !== spaces[1])
    findings.push({
      state: 'look',
      what: `${spaces[0]} given, the slot is ${spaces[1]}`,
      why: 'Texels are taken as they are; the game reads them as the slot says, so the picture may look darker or paler',
    });
  const lost = placesOf(slot).length < placesOf(given).length;
  if (lost)
    findings.push({
      state: 'fits',
      what: `the ${slot.levels} largest of ${given.levels} levels taken`,
      why: 'The slot has no room for more',
    });
  return given;
}

function codecFinding(slot: PixelLayout, given: PixelLayout, mends: ReadonlySet<Mend>): Finding | undefined {
  if (given === slot) return undefined;
  if (mends.has('convert codec'))
    return {
      state: 'look',
      what: `coded anew from ${given.title} to ${slot.title}`,
      why: given.isExact
        ? 'As the slot has it'
        : 'What the first coding lost stays lost; a PNG of the work would be better',
    };
  // Numbered colours are read without loss, whatever writing them would lose.
  if (given.isExact || given.dithered) return undefined;
  const less = ALPHA[given.alpha] < ALPHA[slot.alpha];
  return {
    state: 'does not fit',
    what: `${given.title} given, the slot is ${slot.title}`,
    why: less
      ? `${given.title} keeps ${given.alpha === 'none' ? 'no alpha' : 'one bit of alpha'}; the game reads these bytes as ${slot.title} and would show noise or hang`
      : `The game reads these bytes as ${slot.title} and would show noise or hang`,
    mend: { name: 'convert codec', label: `Code anew as ${slot.title}` },
  };
}

function sizeFinding(slot: Texture, given: Pixels): Omit<Finding, 'state'> {
  const stretched = given.width * slot.height !== given.height * slot.width;
  return {
    what: `${spelled(given)} given, the slot is ${spelled(slot)}${stretched ? ', of another shape' : ''}`,
    why: 'The head of the slot states a size, and everything that uses the picture counts on it',
    mend: { name: 'resize', label: `Resize to ${spelled(slot)}` },
    ...(slot.reshape && { also: { name: 'own size', label: `Keep ${spelled(given)}` } }),
  };
}

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
  const decibels = (value: number): string => (value === Infinity ? 'exact' : `${value.toFixed(1)} dB`);
  const parts = [
    `red ${decibels(errors.red)}`,
    ...(slot.layout.channels === 'r' ? [] : [`green ${decibels(errors.green)}`]),
    ...(slot.layout.channels.startsWith('rgb') ? [`blue ${decibels(errors.blue)}`] : []),
    ...(slot.layout.alpha === 'full' ? [`alpha ${decibels(errors.alpha)}`] : []),
  ];
  const least = Math.min(errors.colour, slot.layout.alpha === 'full' ? errors.alpha : Infinity);
  const measured = least === Infinity ? 'nothing lost' : parts.join(', ');
  if (slot.layout.dithered && least < Infinity)
    return {
      state: least < GOOD_PSNR ? 'look' : 'fits',
      what: `${described(slot)}, ${isMixed ? 'colours mixed' : 'nearest colours'}, ${measured}`,
      why: isMixed
        ? 'Texel by texel it is farther off, from afar nearer; the palette stays as it is'
        : 'The palette has no nearer colours, and stays as it is',
      ...(!isMixed && { mend: { name: 'dither', label: 'Mix neighbouring colours' } }),
    };
  return {
    state: least < GOOD_PSNR ? 'look' : 'fits',
    what: `${described(slot)}, ${measured}`,
    why: least < GOOD_PSNR ? 'The codec loses visible detail in this picture' : 'Encoded as the slot has it',
    ...(least < GOOD_PSNR && offer(exactLayout(original), (title) => `Store it as ${title}, without loss`)),
  };
}

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
