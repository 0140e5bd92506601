import { visit } from 'jsonc-parser';
import type { Cell } from './cell';

/** So many digits may be more than a number of the engine holds. */
const LONG_NUMBER = /\d{16}/;
const WHOLE = /^-?\d+$/;

/**
 * A JSON document (RFC 8259): as the engine reads it, or, where it has whole numbers beyond 53 bits, notes or a comma behind the last value, piece by piece, so that no digit is lost. Records are maps either
 * way. Throws SyntaxError where it is neither, and whatever `deep` makes of records within too many others.
 */
export function readJson(text: string, mostDepth: number, deep: () => Error): unknown {
  if (!LONG_NUMBER.test(text))
    try {
      return JSON.parse(text);
    } catch (error) {
      // What is broken is told as the engine tells it.
      const made = inPieces(text, mostDepth, deep);
      if (made === undefined) throw error;
      return made.value;
    }
  const made = inPieces(text, mostDepth, deep);
  return made ? made.value : JSON.parse(text);
}

/** Whether a text begins as a list or a record, behind notes. Found step by step: of so much that may be a note a pattern would lose count. */
export function beginsAsJson(text: string): boolean {
  for (let at = 0; ;) {
    BLANKS.lastIndex = at;
    at += BLANKS.exec(text)![0].length;
    const end = text.startsWith('//', at)
      ? text.indexOf('\n', at)
      : text.startsWith('/*', at)
        ? text.indexOf('*/', at + 2) + 1
        : undefined;
    if (end === undefined) return text[at] === '[' || text[at] === '{';
    if (end <= at) return false;
    at = end + 1;
  }
}
const BLANKS = /\s*/y;

type Open = { readonly list: Cell[] } | { readonly record: Map<string, Cell>; name: string };

function inPieces(text: string, mostDepth: number, deep: () => Error): { readonly value: Cell } | undefined {
  const top: Cell[] = [];
  const open: Open[] = [{ list: top }];
  let isBroken = false;
  const put = (value: Cell): void => {
    const into = open.at(-1)!;
    if ('list' in into) into.list.push(value);
    else into.record.set(into.name, value);
  };
  const begin = (value: Cell, one: Open): void => {
    if (open.length > mostDepth) throw deep();
    put(value);
    open.push(one);
  };
  const end = (): void => void open.pop();
  visit(
    text,
    {
      onObjectBegin() {
        const record = new Map<string, Cell>();
        begin(record, { record, name: '' });
      },
      onObjectProperty(name) {
        const into = open.at(-1)!;
        if ('record' in into) into.name = name;
      },
      onObjectEnd: end,
      onArrayBegin() {
        const list: Cell[] = [];
        begin(list, { list });
      },
      onArrayEnd: end,
      onLiteralValue(value: Cell, offset, length) {
        const own = text.slice(offset, offset + length);
        put(
          typeof value === 'number' && !Number.isSafeInteger(value) && WHOLE.test(own) ? BigInt(own) : value,
        );
      },
      onError() {
        isBroken = true;
      },
    },
    { allowTrailingComma: true },
  );
  return isBroken || top.length !== 1 ? undefined : { value: top[0]! };
}
