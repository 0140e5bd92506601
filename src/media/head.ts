import type { FilmHead } from './film/core/head';
import type { FontHead } from './font/core/head';
import type { ModelHead } from './model/core/head';
import type { PictureHead } from './picture/core/head';
import type { SoundHead } from './sound/core/head';
import type { TableHead } from './table/core/head';
import type { TextHead } from './text/core/head';

export type { FilmHead, FontHead, ModelHead, PictureHead, SoundHead, TableHead, TextHead };

/**
 * What the head of a file tells of it, enough for a row of a list: a picture's size, a sound's length, a model's triangles.
 * Lengths are seconds, rates are hertz, sizes are texels.
 */
export type Head =
  | PictureHead
  | SoundHead
  | FilmHead
  | ModelHead
  | TextHead
  | FontHead
  | TableHead
  /** Fields of a container that a format script tells, with their titles. */
  | { readonly sort: 'told'; readonly facts: readonly (readonly [title: string, value: string])[] }
  /** Nothing is known of it but its first bytes. */
  | { readonly sort: 'data'; readonly first: string }
  /** It is too large to be looked through for a list. */
  | { readonly sort: 'large' }
  | { readonly sort: 'problem'; readonly message: string };
