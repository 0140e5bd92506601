import { encode as encodePack } from '@msgpack/msgpack';
import { encode as encodeCbor } from 'cborg';
import { parseTree, type Node } from 'jsonc-parser';
import { isSeq, parseDocument, type Document, type ParsedNode, type YAMLSeq } from 'yaml';
import { replaced, shellOf, type Span } from '@/media/text/core/lines';
import type { Place } from '../data-table';
import type { TableForm } from '../read-open';
import { cborSpans } from './cbor-cells';
import { packSpans } from './pack-cells';
import { resizedCbor, resizedPack } from './row-counts';

/** What comes into a list: what stands elsewhere in the document, byte for byte, or numbers. */
export type NewItem = { readonly like: Place } | { readonly numbers: readonly number[] };

/** A list of a document that gets an item, or loses one. */
export type ListResizing = {
  /** Where the list stands. */
  readonly list: Place;
  readonly count: number;
} & (
  | {
      readonly does: 'add';
      /** Which one it will be, from 0. */
      readonly at: number;
      readonly item: NewItem;
    }
  | { readonly does: 'remove'; readonly at: number }
);

interface Item {
  readonly from: number;
  readonly to: number;
}

/** A document with a list that has an item more or less; all else of it stays byte for byte. Undefined where its form has no place for that. */
export function resizedList(
  bytes: Uint8Array,
  name: string,
  form: TableForm,
  how: ListResizing,
): Uint8Array | undefined {
  if (form === 'CBOR' || form === 'MessagePack') return inBinary(bytes, name, form, how);
  const shell = shellOf(bytes);
  if (!shell) return undefined;
  const { text, lineEnd } = shell;
  const span = form === 'JSON' ? inJson(text, how) : form === 'YAML' ? inYaml(text, how, lineEnd) : undefined;
  return span && shell.wrap(replaced(text, [span]));
}

function inBinary(
  bytes: Uint8Array,
  name: string,
  form: 'CBOR' | 'MessagePack',
  how: ListResizing,
): Uint8Array | undefined {
  const isCbor = form === 'CBOR';
  const resized = isCbor ? resizedCbor : resizedPack;
  const find = (place: Place): Item | undefined => {
    const edit = { place, value: null };
    return (isCbor ? cborSpans(bytes, [edit]) : packSpans(bytes, [edit], name))[0];
  };
  const { list, count, at } = how;
  const whole = find(list);
  if (!whole) return undefined;
  if (how.does === 'remove') {
    const out = find([...list, at]);
    return out && resized(bytes, { whole, count: count - 1, ...out, own: new Uint8Array() });
  }
  const { item } = how;
  const like = 'like' in item ? find(item.like) : undefined;
  const before = at === 0 ? undefined : find([...list, at - 1]);
  if (('like' in item && !like) || (at > 0 && !before)) return undefined;
  const own = like
    ? bytes.subarray(like.from, like.to)
    : (isCbor ? encodeCbor : encodePack)('numbers' in item ? item.numbers : null);
  return resized(bytes, { whole, count: count + 1, from: before?.to, to: before?.to, own });
}

/** A list in brackets: what is between them, and its items. */
interface Bracketed {
  readonly inner: Item;
  readonly items: readonly Item[];
}

/** What stands before the first item and behind the last. */
function marginsOf(text: string, { inner, items }: Bracketed): readonly [before: string, behind: string] {
  const [first, last] = [items[0], items.at(-1)];
  return first && last ? [text.slice(inner.from, first.from), text.slice(last.to, inner.to)] : ['', ''];
}

/** A list in brackets without an item, and without what is between it and the next. */
function withoutItem({ items }: Bracketed, at: number): Span {
  const own = items[at]!;
  return at > 0
    ? { from: items[at - 1]!.to, to: own.to, text: '' }
    : { from: own.from, to: items[1]?.from ?? own.to, text: '' };
}

/** A list in brackets with an item more, parted from the others as they are. `only` is what parts it where there is one other. */
function withItem(
  text: string,
  list: Bracketed,
  at: number,
  own: string,
  { only, margins }: { readonly only: string; readonly margins: readonly [string, string] },
): Span | undefined {
  const { inner, items } = list;
  if (items.length === 0)
    return text.slice(inner.from, inner.to).trim() === ''
      ? { ...inner, text: margins[0] + own + margins[1] }
      : undefined;
  const pair = Math.max(1, at - 1);
  const between = items[pair] ? text.slice(items[pair - 1]!.to, items[pair].from) : only;
  if (at === 0) return { from: items[0]!.from, to: items[0]!.from, text: own + between };
  const { to } = items[at - 1]!;
  return { from: to, to, text: between + own };
}

/** Numbers in brackets, parted as others of the text are. */
const spelledNumbers = (numbers: readonly number[], near: string): string =>
  `[${numbers.join(/,\s|^\s*$/.test(near) ? ', ' : ',')}]`;

function inJson(text: string, how: ListResizing): Span | undefined {
  const root = parseTree(text);
  const find = (place: Place): Node | undefined => {
    let node: Node | undefined = root;
    for (const step of place)
      node =
        typeof step === 'number'
          ? node?.children?.[step]
          : node?.children?.findLast(({ children }) => children?.[0]?.value === step)?.children?.[1];
    return node;
  };
  const listAt = (place: Place): Bracketed | undefined => {
    const node = find(place);
    if (node?.type !== 'array') return undefined;
    return {
      inner: { from: node.offset + 1, to: node.offset + node.length - 1 },
      items: (node.children ?? []).map(({ offset, length }) => ({ from: offset, to: offset + length })),
    };
  };
  const list = listAt(how.list);
  if (list?.items.length !== how.count) return undefined;
  if (how.does === 'remove') return withoutItem(list, how.at);
  const own = list.items.length > 0 ? marginsOf(text, list) : undefined;
  // What stands before the first is what stands between others, behind a comma.
  const only = `,${own?.[0] ?? ''}`;
  const { item } = how;
  if ('numbers' in item) {
    const spelled = spelledNumbers(item.numbers, text);
    return withItem(text, list, how.at, spelled, { only, margins: ['', ''] });
  }
  const like = find(item.like);
  const source = listAt(item.like.slice(0, -1));
  if (!like || !source) return undefined;
  const spelled = text.slice(like.offset, like.offset + like.length);
  return withItem(text, list, how.at, spelled, { only, margins: marginsOf(text, source) });
}

/** A list of YAML: in brackets, or in lines, each item from the line of its dash to that of the next. */
type YamlList = Bracketed & {
  readonly lines?: {
    /** Where each line begins, and the end of the last. */
    readonly starts: readonly number[];
    readonly indent: string;
  };
};

function yamlList(document: Document.Parsed, text: string, place: Place): YamlList | undefined {
  const node = (place.length === 0 ? document.contents : document.getIn(place, true)) as unknown;
  if (!isSeq(node)) return undefined;
  const { items, flow, range } = node as YAMLSeq<ParsedNode> & { range?: readonly number[] | null };
  const ranges = items.map((item) => item?.range);
  if (!range || ranges.some((one) => !one)) return undefined;
  const own = ranges.map((one) => ({ from: one![0], to: one![1] }));
  if (flow) return { inner: { from: range[0]! + 1, to: range[1]! - 1 }, items: own };
  const dashes = own.map(({ from }) => text.lastIndexOf('-', from - 1));
  const starts = dashes.map((dash) => text.lastIndexOf('\n', dash) + 1);
  const isOwnLine = starts.every((start, i) => /^ *$/.test(text.slice(start, dashes[i])));
  if (!isOwnLine || own.length === 0) return undefined;
  return {
    ...{ inner: { from: range[0]!, to: range[1]! }, items: own },
    lines: {
      starts: [...starts, Math.max(...ranges.map((one) => one![2]!))],
      indent: text.slice(starts[0], dashes[0]),
    },
  };
}

function inYaml(text: string, how: ListResizing, lineEnd: string): Span | undefined {
  const document = parseDocument(text, { logLevel: 'silent', uniqueKeys: false });
  const list = yamlList(document, text, how.list);
  if (list?.items.length !== how.count) return undefined;
  if (how.does === 'remove')
    return list.lines ? withoutLine(text, list.lines.starts, how.at, lineEnd) : withoutItem(list, how.at);
  const { item, at } = how;
  const source = 'like' in item ? yamlList(document, text, item.like.slice(0, -1)) : undefined;
  const which = 'like' in item ? Number(item.like.at(-1)) : 0;
  if ('like' in item && !source?.items[which]) return undefined;
  if (list.lines) {
    const { starts, indent } = list.lines;
    if ('numbers' in item)
      return withLine(text, starts, at, `${indent}- ${spelledNumbers(item.numbers, '')}`, lineEnd);
    const own = source!.lines && linesOf(text, source!.lines.starts, which);
    return own === undefined ? undefined : withLine(text, starts, at, own, lineEnd);
  }
  if (source?.lines)
    return list.items.length === 0
      ? intoLines(text, list, linesOf(text, source.lines.starts, which), lineEnd)
      : undefined;
  const spelled =
    'numbers' in item
      ? spelledNumbers(item.numbers, '')
      : text.slice(source!.items[which]!.from, source!.items[which]!.to);
  const margins = source ? marginsOf(text, source) : (['', ''] as const);
  return withItem(text, list, at, spelled, { only: ', ', margins });
}

/** The lines of an item, without the end of the last. */
const linesOf = (text: string, starts: readonly number[], which: number): string =>
  text.slice(starts[which], starts[which + 1]).replace(/\r?\n$/, '');

function withoutLine(text: string, starts: readonly number[], at: number, lineEnd: string): Span | undefined {
  if (starts.length > 2) return { from: starts[at]!, to: starts[at + 1]!, text: '' };
  // Without its only line there would be nothing at all.
  const from = text.slice(0, starts[0]).trimEnd().length;
  const isEnded = text[starts[1]! - 1] === '\n';
  return from === 0 ? undefined : { from, to: starts[1]!, text: ` []${isEnded ? lineEnd : ''}` };
}

function withLine(text: string, starts: readonly number[], at: number, own: string, lineEnd: string): Span {
  const to = starts[at]!;
  // The last one may have no line end of its own.
  const isEnded = to === 0 || text[to - 1] === '\n';
  return { from: to, to, text: isEnded ? `${own}${lineEnd}` : `${lineEnd}${own}` };
}

/** An empty list in brackets as one in lines, as those like it stand; a note behind it stays on its line. */
function intoLines(text: string, { inner }: Bracketed, own: string, lineEnd: string): Span {
  const open = text.slice(0, inner.from - 1).trimEnd().length;
  const end = /\r?\n|$/.exec(text.slice(inner.to + 1))!.index + inner.to + 1;
  return { from: open, to: end, text: `${text.slice(inner.to + 1, end).trimEnd()}${lineEnd}${own}` };
}
