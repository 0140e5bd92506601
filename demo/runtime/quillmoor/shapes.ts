/** What the engine takes a value for. `row` means one of a table, by its number; 0 stands for none where that may be. */
export type Sort =
  | { readonly sort: 'whole'; readonly from: number; readonly to: number }
  | { readonly sort: 'number' | 'text' | 'bytes' }
  | { readonly sort: 'row'; readonly of: TableName; readonly mayBeNone: boolean }
  | { readonly sort: 'list'; readonly each: Sort }
  | { readonly sort: 'record'; readonly fields: Readonly<Record<string, Sort>> };

const MOST = 1_000_000;
const whole = (from = -MOST, to = MOST): Sort => ({ sort: 'whole', from, to });
const text: Sort = { sort: 'text' };
const row = (of: TableName, mayBeNone = false): Sort => ({ sort: 'row', of, mayBeNone });
const list = (each: Sort): Sort => ({ sort: 'list', each });
const record = (fields: Readonly<Record<string, Sort>>): Sort => ({ sort: 'record', fields });

export const TABLE_NAMES = [
  ...['people', 'grounds', 'places', 'letters', 'promises'],
  ...['items', 'recipes', 'weathers', 'scenes', 'stirs'],
] as const;
export type TableName = (typeof TABLE_NAMES)[number];

/** The fields that the engine reads of each table, besides the number of the row; what else a row says it does not look at. */
export const SHAPES: Readonly<Record<TableName, Readonly<Record<string, Sort>>>> = {
  // A person's `age` is the letter that they wait for.
  people: { name: text, home: row('places'), plate: text, mood: whole(0, 3), age: row('letters', true) },
  grounds: { name: text, slow: whole(1, 100), looks: text },
  places: {
    ...{ name: text, q: whole(), r: whole(), near: list(row('places')), plate: text },
    view: record({ q: whole(), r: whole(), wide: whole(1, 1000), high: whole(1, 1000) }),
    ...{ across: whole(1, 1000), tiles: list(row('grounds')) },
  },
  letters: { from: row('people'), to: row('people'), text, promise: row('promises', true) },
  promises: { what: text, to: row('people'), needs: row('promises', true), days: whole(0, 1000) },
  items: { name: text, weight: { sort: 'number' }, price: whole(0) },
  recipes: {
    makes: row('items'),
    from: list(record({ item: row('items'), count: whole(1, 100) })),
    taught: row('letters', true),
  },
  weathers: { name: text, wind: { sort: 'number' }, next: row('weathers') },
  scenes: {
    ...{ place: row('places'), weather: row('weathers'), opens: row('letters') },
    ...{ makes: row('promises', true), keeps: row('promises', true), checks: row('promises', true) },
    ...{ gives: row('items', true), then: row('scenes', true), steps: { sort: 'bytes' } },
  },
  stirs: {
    ...{ place: row('places'), q: whole(), r: whole() },
    ...{ who: row('people', true), thing: row('items', true), scene: row('scenes', true) },
  },
};
