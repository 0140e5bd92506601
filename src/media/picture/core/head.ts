/** What the head of a file of this medium tells, enough for a row of a list. */
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
