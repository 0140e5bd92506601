/** What the head of a file of this medium tells, enough for a row of a list. */
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
