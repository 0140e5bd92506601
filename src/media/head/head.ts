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
  /** Fields of a container that a format script tells, with their titles. */
  | { readonly sort: 'told'; readonly facts: readonly (readonly [title: string, value: string])[] }
  /** Nothing is known of it but its first bytes. */
  | { readonly sort: 'data'; readonly first: string }
  /** It is too large to be looked through for a list. */
  | { readonly sort: 'large' }
  | { readonly sort: 'problem'; readonly message: string };

export interface PictureHead {
  readonly sort: 'picture';
  readonly width: number;
  readonly height: number;
  /** Codec or pixel layout, such as `BC3` or `PNG`. */
  readonly layout: string;
  readonly levels: number;
  /** Whether some of it is see-through; undefined where that was not looked at. */
  readonly alpha?: boolean | undefined;
}

export interface SoundHead {
  readonly sort: 'sound';
  readonly codec: string;
  readonly seconds?: number | undefined;
  readonly rate?: number | undefined;
  readonly channels?: number | undefined;
  readonly bits?: number | undefined;
}

export interface FilmHead {
  readonly sort: 'film';
  readonly codec: string;
  readonly width: number;
  readonly height: number;
  readonly seconds?: number | undefined;
  /** Pictures a second. */
  readonly pictureRate?: number | undefined;
  /** Tracks of sound. */
  readonly sounds: number;
}

export interface ModelHead {
  readonly sort: 'model';
  readonly format: string;
  readonly vertices: number;
  readonly triangles: number;
  readonly meshes?: number | undefined;
  readonly materials?: number | undefined;
  readonly clips?: number | undefined;
  readonly joints?: number | undefined;
}

export interface TextHead {
  readonly sort: 'text';
  readonly encoding: string;
  readonly lineEnds: string;
  readonly lines: number;
  /** How it begins, in one line. */
  readonly first: string;
}
