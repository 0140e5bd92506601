/** What the head of a file of tables tells, enough for a row of a list. */
export interface TableHead {
  readonly sort: 'table';
  readonly form: string;
  readonly tables: number;
  readonly rows: number;
  /** Columns of the first one, by their names. */
  readonly columns: readonly string[];
}
