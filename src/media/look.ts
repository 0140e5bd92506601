import type { Head, PictureHead, TextHead } from './head';
import type { Texture } from './picture/core/texture';

/** What is shown of an entry: what its head tells, and what of it a look needs besides. */
export type Look =
  | (PictureHead & { alpha: boolean; container: string } & Pick<
        Texture,
        'layers' | 'faces' | 'depth' | 'colourSpace' | 'origin'
      > & {
        /** Pictures of their own in the file, which are shown as one sheet; 0 where it is no such file. */
        readonly frames: number;
      })
  | (TextHead & { text: string; whole: boolean })
  | Exclude<Head, PictureHead | TextHead>;
