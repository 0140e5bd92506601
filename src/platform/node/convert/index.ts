import type { Kind } from '@/core/kinds';
import type { Conversion, Recipe } from '@/core/recipe';
import { exportPicture, type PictureFormat } from '@/media/picture/node/pictures';
import { inMemory, type Converter } from './converter';
import { toWave } from '@/media/sound/node/sounds';
import { toPretty, toUtf8 } from '@/media/text/node/texts';

export { packedSound, shapedSound, type PackedSound, type SoundShape } from '@/media/sound/node/sounds';
export type { ConvertContext, Converter, ToConvert } from './converter';

const picture = (format: PictureFormat): Converter =>
  inMemory(`.${format}`, (bytes, path, { mediaScripts }) => exportPicture(bytes, path, mediaScripts, format));

/** All ways to change something; one line a way. Kinds that are to come plug in here. */
const CONVERTERS: Readonly<Partial<Record<Conversion, Converter>>> = {
  png: picture('png'),
  tga: picture('tga'),
  dds: picture('dds'),
  ktx2: picture('ktx2'),
  wav: toWave,
  'utf-8': toUtf8,
  pretty: toPretty,
};

/** How a recipe changes entries of a kind. */
export function conversionOf({ convert }: Pick<Recipe, 'convert'>, kind: Kind): Conversion {
  if (kind === 'picture') return convert.picture;
  if (kind === 'sound') return convert.sound;
  if (kind === 'text') return convert.text;
  return 'stored';
}

export const converterOf = (conversion: Conversion): Converter | undefined => CONVERTERS[conversion];
