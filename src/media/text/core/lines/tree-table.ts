import { parseTree, type Node } from 'jsonc-parser';
import { FormatError } from '@/core/bytes';
import type { Shell } from './shell';
import { lastOfEach, replaced, type LineTable, type Span } from './table';

interface Found {
  readonly key: string;
  readonly node: Node;
}

/** Deeper than this no table of texts is. */
const MOST_DEPTH = 40;

/**
 * The texts of a JSON document (RFC 8259), by the names and numbers that lead to them. Only what stands between quotes changes when it is written; undefined where it is
 * no document of JSON or has no text in it.
 */
export function jsonTable(shell: Shell): LineTable | undefined {
  const { text } = shell;
  if (!/^\s*[{[]/.test(text)) return undefined;
  const errors: { offset: number }[] = [];
  let root: Node | undefined;
  try {
    root = parseTree(text, errors as never, { disallowComments: false });
  } catch (error) {
    // Nested deeper than anything means.
    if (error instanceof RangeError) return undefined;
    throw error;
  }
  if (!root || errors.length > 0) return undefined;
  const found: Found[] = [];
  collect(root, '', 0, found);
  if (found.length === 0) return undefined;
  const isFlat = root.type === 'object';
  return {
    form: 'JSON',
    tongues: [''],
    lines: found.map(({ key, node }) => ({ key, texts: [node.value as string] })),
    bytesOf: shell.bytesOf,
    forbidden: [],
    write(changes, added = []) {
      const spans = lastOfEach(changes).map(({ line, text: now }): Span => {
        const { offset, length } = found[line]!.node;
        return { from: offset, to: offset + length, text: JSON.stringify(now) };
      });
      if (added.length > 0) spans.push(behindLast(root, isFlat, text, added));
      return shell.wrap(replaced(text, spans));
    },
  };
}

function collect(node: Node, key: string, depth: number, found: Found[]): void {
  if (depth > MOST_DEPTH) return;
  const below = (name: string): string => (key === '' ? name : `${key}/${name}`);
  if (node.type === 'string') found.push({ key, node });
  else if (node.type === 'object')
    for (const { children = [] } of node.children ?? []) {
      const [name, value] = children;
      if (name && value) collect(value, below(String(name.value)), depth + 1, found);
    }
  else if (node.type === 'array')
    node.children?.forEach((child, i) => collect(child, below(String(i)), depth + 1, found));
}

function behindLast(
  root: Node,
  isFlat: boolean,
  text: string,
  added: readonly { readonly key: string; readonly texts: readonly (string | undefined)[] }[],
): Span {
  if (!isFlat)
    throw new FormatError('not-writable', {
      ...{ fieldPath: added[0]!.key, expected: 'a document with names', actual: 'a list' },
      remedy: 'Add the line with another program, where its place among the others can be chosen',
    });
  const last = root.children?.at(-1);
  const at = last ? last.offset + last.length : root.offset + 1;
  // As the last one is set apart from what stands before it.
  const before = last ? (/\s*$/.exec(text.slice(0, last.offset))?.[0] ?? '') : '';
  const made = added.map(
    ({ key, texts }) => `${before}${JSON.stringify(key)}: ${JSON.stringify(texts[0] ?? '')}`,
  );
  return { from: at, to: at, text: (last ? ',' : '') + made.join(',') };
}
