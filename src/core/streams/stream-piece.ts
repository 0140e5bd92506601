/** A stretch of a stream that is shown or played together, such as a picture of a film. */
export interface StreamPiece {
  /** Bytes. */
  readonly length: number;
  /** When it is shown or heard, in seconds from the beginning. */
  readonly seconds: number;
}
