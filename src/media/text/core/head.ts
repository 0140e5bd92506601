/** What the head of a file of this medium tells, enough for a row of a list. */
export interface TextHead {
  readonly sort: 'text';
  readonly encoding: string;
  readonly lineEnds: string;
  readonly lines: number;
  /** How it begins, in one line. */
  readonly first: string;
}
