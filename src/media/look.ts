import type { FontHead, Head, PictureHead, TableHead, TextHead } from './head';
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
  /** Its first signs, by their code points, with how wide each is. */
  | (FontHead & { readonly first: readonly (readonly [code: number, width: number])[] })
  /** Its first rows, cells as texts, below the names of the columns. */
  | (TableHead & { readonly first: readonly (readonly string[])[] })
  | Exclude<Head, PictureHead | TextHead | FontHead | TableHead>;
