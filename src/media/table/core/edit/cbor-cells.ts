import { encode, Tokenizer, type Token } from 'cborg';
import { splice, wantedOf, type CellEdit, type ValueSpan, type Wanted } from './wanted';

/** Where values of a CBOR document stand (RFC 8949): containers count their items, not their bytes, so a value may become longer or shorter without anything else being written anew. */
export function cborSpans(bytes: Uint8Array, edits: readonly CellEdit[]): ValueSpan[] {
  const tokens = new Tokenizer(bytes, { allowBigInt: true });
  const found = new Map<CellEdit, ValueSpan>();
  const isBreak = (token: Token): boolean => token.type.name === 'break';

  /** Goes over one item, whose first token was read already. */
  const item = (token: Token, from: number, wanted: Wanted | undefined): void => {
    switch (token.type.name) {
      case 'tag': {
        // What the tag is of is the value; the tag stays.
        const at = tokens.pos();
        return item(tokens.next(), at, wanted);
      }
      case 'array':
        for (let i = 0; i < (token.value as number); i++) {
          const at = tokens.pos();
          const next = tokens.next();
          if (isBreak(next)) break;
          item(next, at, wanted?.below.get(String(i)));
        }
        break;
      case 'map':
        for (let i = 0; i < (token.value as number); i++) {
          const keyAt = tokens.pos();
          const key = tokens.next();
          if (isBreak(key)) break;
          const isName = key.type.name !== 'array' && key.type.name !== 'map' && key.type.name !== 'tag';
          if (!isName) item(key, keyAt, undefined);
          const at = tokens.pos();
          item(tokens.next(), at, isName ? wanted?.below.get(String(key.value)) : undefined);
        }
        break;
      default:
    }
    // Of the same name twice the last counts, as for those who read it.
    if (wanted?.edit) found.set(wanted.edit, { from, to: tokens.pos(), edit: wanted.edit });
  };

  item(tokens.next(), 0, wantedOf(edits));
  return [...found.values()];
}

const FLOATS: Readonly<Record<number, number>> = { 0xf9: 2, 0xfa: 4, 0xfb: 8 };

function asFloat(value: number, width: number): Uint8Array {
  const isExact = Math.fround(value) === value || Number.isNaN(value);
  const made = new Uint8Array(width === 8 || !isExact ? 9 : 5);
  const view = new DataView(made.buffer);
  made[0] = made.length === 9 ? 0xfb : 0xfa;
  if (made.length === 9) view.setFloat64(1, value);
  else view.setFloat32(1, value);
  return made;
}

/** A CBOR document with other values at places of it; floats stay floats. */
export const writeCborCells = (bytes: Uint8Array, spans: readonly ValueSpan[]): Uint8Array =>
  splice(bytes, spans, ({ from, edit: { value } }) => {
    const width = FLOATS[bytes[from]!];
    return width !== undefined && typeof value === 'number' ? asFloat(value, width) : encode(value);
  });
