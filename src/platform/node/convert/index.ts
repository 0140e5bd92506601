import type { Kind } from '@/core/kinds';
import type { Conversion, Recipe } from '@/core/recipe';
import { MEDIA_NODE } from '@/media/node';
import type { Converter } from './converter';

export type { ConvertContext, Converter, ToConvert } from './converter';

const CONVERTERS: ReadonlyMap<Conversion, Converter> = new Map(
  MEDIA_NODE.flatMap(({ converters = {} }) => Object.entries(converters)),
);

export const converterOf = (conversion: Conversion): Converter | undefined => CONVERTERS.get(conversion);

/** How a recipe changes entries of a kind; `stored` where it leaves them as they are. */
export function conversionOf({ convert }: Pick<Recipe, 'convert'>, kind: Kind): Conversion {
  const way = convert[kind];
  return way !== undefined && CONVERTERS.has(way) ? way : 'stored';
}
