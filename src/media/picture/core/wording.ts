import { findingsOf, type Words } from '@/core/fit';

/** Width and height in texels. */
export interface Size {
  readonly width: number;
  readonly height: number;
}
/** How a slot stores its picture, as findings keep it. */
export interface StoredForm extends Size {
  /** What its pixel layout is called. */
  readonly layout: string;
  readonly levels: number;
}
/** Peak signal to noise of each channel that there is, in dB; null where nothing is lost in it. */
export interface ChannelRatios {
  readonly red: number | null;
  readonly green?: number | null;
  readonly blue?: number | null;
  readonly alpha?: number | null;
}

const AS_SLOT = 'As the slot has it';
const spelled = ({ width, height }: Size): string => `${width} x ${height}`;
const storedSaid = ({ layout, levels, ...size }: StoredForm): string =>
  `${layout}, ${spelled(size)}, ${levels} ${levels === 1 ? 'level' : 'levels'}`;
const CHANNELS = ['red', 'green', 'blue', 'alpha'] as const;
function lossSaid(ratios: ChannelRatios): string {
  const there = CHANNELS.filter((channel) => ratios[channel] !== undefined);
  if (there.every((channel) => ratios[channel] === null)) return 'nothing lost';
  return there
    .map(
      (channel) => `${channel} ${ratios[channel] === null ? 'exact' : `${ratios[channel]!.toFixed(1)} dB`}`,
    )
    .join(', ');
}

interface Coded {
  readonly form: StoredForm;
  readonly ratios: ChannelRatios;
}

export const pictureWording = {
  'read-only': ({ container }: { container: string }): Words => ({
    what: `${container} is only read here`,
    why: 'What is around the texels could not be kept',
  }),
  'taken-as-given': ({ form }: { form: StoredForm }): Words => ({
    what: `${storedSaid(form)}, taken as given`,
    why: 'It is coded as the slot has it, so nothing is lost',
  }),
  'one-of-many': ({ places }: { places: number }): Words => ({
    what: `one picture given, the slot has ${places}`,
    why: 'Layers, faces or slices that are missing would be empty; give a file that has them all, in the same codec',
  }),
  resized: ({ from, to }: { from: Size; to: Size }): Words => ({
    what: `resized from ${spelled(from)} to ${spelled(to)}`,
    why: 'Resizing softens fine detail',
  }),
  'other-size': ({ given, slot }: { given: Size; slot: Size }): Words => ({
    what: `${spelled(given)} given, the slot is ${spelled(slot)}${given.width * slot.height !== given.height * slot.width ? ', of another shape' : ''}`,
    why: 'The head of the slot states a size, and everything that uses the picture counts on it',
    mend: `Resize to ${spelled(slot)}`,
    also: `Keep ${spelled(given)}`,
  }),
  'own-size': ({ given, slot }: { given: Size; slot: Size }): Words => ({
    what: `${spelled(given)} given, the slot is ${spelled(slot)}`,
    why: 'The file says its own size; whether the game goes by it cannot be known here',
    mend: `Resize to ${spelled(slot)}`,
  }),
  'soft-alpha': (facts: { layout: string; keeps: 'none' | 'one bit'; also: string | null }): Words => ({
    what: `transparency given, ${facts.layout} keeps ${facts.keeps === 'none' ? 'none' : 'one bit of it'}`,
    why: 'The game would show hard edges or a solid area',
    mend: 'Make it opaque',
    ...(facts.also && { also: `Store it as ${facts.also}, which keeps it` }),
  }),
  'made-opaque': (): Words => ({ what: 'made opaque', why: 'The slot keeps no soft transparency' }),
  'lost-alpha': (): Words => ({
    what: 'no transparency given, the original has some',
    why: 'What was see-through becomes solid',
  }),
  'left-alone': ({ kept, all, unit }: { kept: number; all: number; unit: 'texels' | 'blocks' }): Words => ({
    what: `${kept} of ${all} ${unit} left as they were`,
    why: 'Only what differs from the original is coded anew, so the rest loses nothing',
  }),
  reshaped: ({ from, to }: { from: StoredForm; to: StoredForm }): Words => ({
    what: [
      ...(from.layout === to.layout ? [] : [`${from.layout} becomes ${to.layout}`]),
      ...(spelled(from) === spelled(to) ? [] : [`${spelled(from)} becomes ${spelled(to)}`]),
    ].join(', '),
    why: 'The head says so; whether the game takes it as that, a trial tells',
  }),
  'fewer-levels': ({ given, slot }: { given: number; slot: number }): Words => ({
    what: `${given} ${given === 1 ? 'level' : 'levels'} given, the slot has ${slot}`,
    why: 'The smaller ones are made from the largest, and so is the largest coded anew',
  }),
  'more-levels': ({ given, slot }: { given: number; slot: number }): Words => ({
    what: `the ${slot} largest of ${given} levels taken`,
    why: 'The slot has no room for more',
  }),
  'colour-space': ({ given, slot }: { given: string; slot: string }): Words => ({
    what: `${given} given, the slot is ${slot}`,
    why: 'Texels are taken as they are; the game reads them as the slot says, so the picture may look darker or paler',
  }),
  'coded-anew': ({ from, to, isExact }: { from: string; to: string; isExact: boolean }): Words => ({
    what: `coded anew from ${from} to ${to}`,
    why: isExact ? AS_SLOT : 'What the first coding lost stays lost; a PNG of the work would be better',
  }),
  /** `keeps` is how much alpha the given layout has, where that is less than the slot's. */
  'other-codec': (facts: { given: string; slot: string; keeps: 'none' | 'one bit' | null }): Words => ({
    what: `${facts.given} given, the slot is ${facts.slot}`,
    why: facts.keeps
      ? `${facts.given} keeps ${facts.keeps === 'none' ? 'no alpha' : 'one bit of alpha'}; the game reads these bytes as ${facts.slot} and would show noise or hang`
      : `The game reads these bytes as ${facts.slot} and would show noise or hang`,
    mend: `Code anew as ${facts.slot}`,
  }),
  coded: ({ form, ratios }: Coded): Words => ({
    what: `${storedSaid(form)}, ${lossSaid(ratios)}`,
    why: 'Encoded as the slot has it',
  }),
  'coded-badly': ({ form, ratios, also }: Coded & { also: string | null }): Words => ({
    what: `${storedSaid(form)}, ${lossSaid(ratios)}`,
    why: 'The codec loses visible detail in this picture',
    ...(also && { also: `Store it as ${also}, without loss` }),
  }),
  'nearest-colours': ({ form, ratios }: Coded): Words => ({
    what: `${storedSaid(form)}, nearest colours, ${lossSaid(ratios)}`,
    why: 'The palette has no nearer colours, and stays as it is',
    mend: 'Mix neighbouring colours',
  }),
  'mixed-colours': ({ form, ratios }: Coded): Words => ({
    what: `${storedSaid(form)}, colours mixed, ${lossSaid(ratios)}`,
    why: 'Texel by texel it is farther off, from afar nearer; the palette stays as it is',
  }),
  'same-file': ({ format }: { format: string }): Words => ({
    what: `${format}, taken as given`,
    why: AS_SLOT,
  }),
  'only-read': ({ name, format }: { name: string; format: string }): Words => ({
    what: `${name} given, the slot is ${format}`,
    why: `Files of this kind are only read here; give a ${format} file`,
  }),
  saved: ({ format }: { format: string }): Words => ({ what: `saved as ${format}`, why: AS_SLOT }),
};

export const foundInPicture = findingsOf<typeof pictureWording>('picture');
