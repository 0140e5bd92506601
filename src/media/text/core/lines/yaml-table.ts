import { isMap, isScalar, isSeq, parseDocument, type ParsedNode } from 'yaml';
import { FormatError } from '@/core/bytes';
import type { Shell } from './shell';
import { lastOfEach, replaced, type LineTable, type Span } from './table';

interface Found {
  readonly key: string;
  readonly text: string;
  readonly from: number;
  readonly to: number;
  /** Whether it is a text of several lines below its key, whose last line end belongs to it. */
  readonly isBlock: boolean;
}

/** Deeper than this no table of texts is. */
const MOST_DEPTH = 40;
/** Larger documents take the package minutes. */
const MOST_LENGTH = 8 << 20;

/** The texts of a YAML document (1.2), by the names and numbers that lead to them; a text that changes is written in quotes, all else stays. Undefined where it is no mapping with texts. */
export function yamlTable(shell: Shell): LineTable | undefined {
  const { text } = shell;
  if (text.length > MOST_LENGTH) return undefined;
  const document = parseDocument(text, { keepSourceTokens: false, logLevel: 'silent', uniqueKeys: false });
  const root = document.contents;
  if (document.errors.length > 0 || !isMap(root)) return undefined;
  const found: Found[] = [];
  collect(root as ParsedNode, '', 0, found);
  if (found.length === 0) return undefined;
  return {
    form: 'YAML',
    tongues: [''],
    lines: found.map(({ key, text: said }) => ({ key, texts: [said] })),
    bytesOf: shell.bytesOf,
    forbidden: [],
    write(changes, added = []) {
      const spans = lastOfEach(changes).map(({ line, text: now }): Span => {
        const { from, to, isBlock } = found[line]!;
        return { from, to, text: `${quoted(now)}${isBlock && text[to - 1] === '\n' ? shell.lineEnd : ''}` };
      });
      let made = replaced(text, spans);
      if (added.length > 0 && !root.flow) {
        if (made !== '' && !made.endsWith('\n')) made += shell.lineEnd;
        for (const { key, texts } of added)
          made += `${quoted(key)}: ${quoted(texts[0] ?? '')}${shell.lineEnd}`;
      } else if (added.length > 0)
        throw new FormatError('not-writable', {
          ...{
            fieldPath: added[0]!.key,
            expected: 'a document with a line for each name',
            actual: 'one in braces',
          },
          remedy: 'Add the line with another program',
        });
      return shell.wrap(made);
    },
  };
}

/** Quotes of YAML take what quotes of JSON do. */
const quoted = (text: string): string => JSON.stringify(text);

function collect(node: ParsedNode | null, key: string, depth: number, found: Found[]): void {
  if (!node || depth > MOST_DEPTH) return;
  const below = (name: string): string => (key === '' ? name : `${key}/${name}`);
  if (isScalar(node)) {
    if (typeof node.value !== 'string' || !node.range) return;
    const isBlock = node.type === 'BLOCK_LITERAL' || node.type === 'BLOCK_FOLDED';
    found.push({ key, text: node.value, from: node.range[0], to: node.range[1], isBlock });
  } else if (isMap(node))
    for (const { key: name, value } of node.items)
      collect(
        value as ParsedNode | null,
        below(isScalar(name) ? String(name.value) : String(name)),
        depth + 1,
        found,
      );
  else if (isSeq(node))
    node.items.forEach((item, i) => collect(item as ParsedNode, below(String(i)), depth + 1, found));
}
