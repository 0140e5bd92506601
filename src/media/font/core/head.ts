/** What the head of a font tells, enough for a row of a list. */
export interface FontHead {
  readonly sort: 'font';
  /** What it calls itself; empty where it has no name. */
  readonly name: string;
  readonly form: string;
  /** How many signs it has. */
  readonly signs: number;
  /** Scripts that it has letters of, by the names that Unicode gives them. */
  readonly scripts: readonly string[];
}
