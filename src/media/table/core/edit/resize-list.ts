import { parseTree, type Node } from 'jsonc-parser';
import { isSeq, parseDocument, type ParsedNode, type YAMLSeq } from 'yaml';
import { replaced, shellOf, type Span } from '@/media/text/core/lines';
import type { Place } from '../data-table';
import type { TableForm } from '../read-open';
import { cborSpans } from './cbor-cells';
import { packSpans } from './pack-cells';
import { resizedCbor, resizedPack } from './row-counts';

/** A list of a document that gets an item like one of it, or loses it. */
export interface ListResizing {
  /** Where the list stands. */
  readonly list: Place;
  readonly count: number;
  readonly at: number;
  readonly does: 'copy' | 'remove';
  /** The item that a copy comes behind. */
  readonly behind: number;
}

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
  const { list, count, at, does, behind } = how;
  if (form === 'CBOR' || form === 'MessagePack') {
    const asked = [list, [...list, at], [...list, behind]].map((place) => ({ place, value: null }));
    const find = (own: (typeof asked)[number]) =>
      (form === 'CBOR' ? cborSpans(bytes, [own]) : packSpans(bytes, [own], name))[0];
    const [whole, one, last] = asked.map(find);
    if (!whole || !one || !last) return undefined;
    return (form === 'CBOR' ? resizedCbor : resizedPack)(bytes, { whole, one, last, count, does });
  }
  const shell = shellOf(bytes);
  if (!shell) return undefined;
  const { text, lineEnd } = shell;
  const span = form === 'JSON' ? inJson(text, how) : form === 'YAML' ? inYaml(text, how, lineEnd) : undefined;
  return span && shell.wrap(replaced(text, [span]));
}

/** A copy behind one of the items that have something between them, or one with what is between it and the next taken out. */
function amongItems(
  text: string,
  items: readonly Item[],
  { at, does, behind }: ListResizing,
  first: string,
): Span {
  const own = items[at]!;
  if (does === 'remove') {
    if (at > 0) return { from: items[at - 1]!.to, to: own.to, text: '' };
    return { from: own.from, to: items[1]?.from ?? own.to, text: '' };
  }
  const { to } = items[behind]!;
  const pair = Math.max(1, behind);
  const between = items[pair] ? text.slice(items[pair - 1]!.to, items[pair].from) : first;
  return { from: to, to, text: between + text.slice(own.from, own.to) };
}

function inJson(text: string, how: ListResizing): Span | undefined {
  let node: Node | undefined = parseTree(text);
  for (const step of how.list)
    node =
      typeof step === 'number'
        ? node?.children?.[step]
        : node?.children?.findLast(({ children }) => children?.[0]?.value === step)?.children?.[1];
  const items = node?.children?.map(({ offset, length }) => ({ from: offset, to: offset + length }));
  if (node?.type !== 'array' || !items?.[how.at]) return undefined;
  // What stands before the first is what stands between others, behind a comma.
  return amongItems(text, items, how, `,${text.slice(node.offset + 1, items[0]!.from)}`);
}

function inYaml(text: string, how: ListResizing, lineEnd: string): Span | undefined {
  const { list, at, does, behind } = how;
  const document = parseDocument(text, { logLevel: 'silent', uniqueKeys: false });
  const node = (list.length === 0 ? document.contents : document.getIn(list, true)) as unknown;
  if (!isSeq(node)) return undefined;
  const { items, flow, range } = node as YAMLSeq<ParsedNode> & { range?: readonly number[] | null };
  const ranges = items.map((item) => item?.range);
  if (!range || !ranges[at] || ranges.some((one) => !one)) return undefined;
  if (flow) {
    const own = ranges.map((one) => ({ from: one![0], to: one![1] }));
    return amongItems(text, own, how, ', ');
  }
  // An item begins with the line of its dash and goes on to that of the next.
  const dashes = ranges.map((one) => text.lastIndexOf('-', one![0] - 1));
  const starts = dashes.map((dash) => text.lastIndexOf('\n', dash) + 1);
  const isOwnLine = starts.every((start, i) => /^ *$/.test(text.slice(start, dashes[i])));
  if (!isOwnLine) return undefined;
  const lines = [...starts, Math.max(...ranges.map((one) => one![2]!))];
  if (does === 'remove' && items.length === 1) {
    // Without its only line there would be nothing at all.
    const from = text.slice(0, lines[0]).trimEnd().length;
    const isEnded = text[lines[1]! - 1] === '\n';
    return from === 0 ? undefined : { from, to: lines[1]!, text: ` []${isEnded ? lineEnd : ''}` };
  }
  if (does === 'remove') return { from: lines[at]!, to: lines[at + 1]!, text: '' };
  const own = text.slice(lines[at], lines[at + 1]);
  const to = lines[behind + 1]!;
  // The last one may have no line end of its own.
  const isEnded = to === 0 || text[to - 1] === '\n';
  const whole = isEnded && !own.endsWith('\n') ? `${own}${lineEnd}` : own;
  return { from: to, to, text: isEnded ? whole : `${lineEnd}${own.replace(/\r?\n$/, '')}` };
}
