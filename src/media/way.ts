/** One way to take an entry of a medium out. */
export interface Way {
  readonly name: string;
  /** As it stands behind a choice: `as PNG`. */
  readonly label: string;
  /** As it stands in a list of what a recipe does: `pictures as PNG`. */
  readonly said: string;
  readonly help: string;
  /** What comes out gains nothing by being packed once more. */
  readonly isPacked?: boolean;
}

/** How entries of a medium can be taken out besides as they are stored. */
export interface MediumWays {
  /** Of the choice: `Pictures`. */
  readonly title: string;
  /** One of them, in small letters. */
  readonly one: string;
  /** What is chosen where entries are picked one by one; as they are stored where nothing is said. */
  readonly usual?: string;
  readonly ways: readonly Way[];
}
