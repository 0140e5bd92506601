import { isMap, isScalar, isSeq, isAlias, LineCounter, parseDocument, type Node } from 'yaml';
import { FormatError } from '../bytes';

/** What YAML says, with the place of everything; plain enough to be kept as JSON. `null` stands for nothing at all. */
export type YamlTree =
  | null
  | (Span &
      (
        | { readonly sort: 'map'; readonly items: readonly YamlPair[] }
        | { readonly sort: 'list'; readonly items: readonly YamlTree[] }
        | { readonly sort: 'scalar'; readonly value: YamlScalar }
        | { readonly sort: 'alias' | 'other' }
      ));

interface Span {
  readonly start: number;
  readonly end: number;
}

/** A name of a mapping; undefined where it is not plain. */
export interface YamlPair {
  readonly name: string | undefined;
  readonly at: number | undefined;
  readonly value: YamlTree;
}

/** Whole numbers are kept as texts, since JSON knows none that are large. */
export type YamlScalar = string | number | boolean | null | { readonly whole: string };

/** Keeps trees of texts that were read before: reading YAML takes longer than most of what is done with it. */
export interface TreeCache {
  get(text: string): YamlTree | undefined;
  set(text: string, tree: YamlTree): void;
}

let cache: TreeCache | undefined;

/** Has trees of texts kept, from now on and for all of this process. */
export function keepTrees(kept: TreeCache | undefined): void {
  cache = kept;
}

/** Reads YAML text; throws FormatError `script-wrong` with line and column. */
export function yamlTree(text: string): YamlTree {
  const known = cache?.get(text);
  if (known !== undefined) return known;
  const lines = new LineCounter();
  const document = parseDocument(text, {
    lineCounter: lines,
    strict: true,
    // Looked for where names are asked: the package compares each with each.
    uniqueKeys: false,
    intAsBigInt: true,
  });
  const [problem] = document.errors;
  if (problem) {
    const { line, col } = lines.linePos(problem.pos[0]);
    const said = problem.message.split('\n')[0]!.replace(/ at line \d+, column \d+:?$/, '');
    throw new FormatError('script-wrong', {
      line,
      column: col,
      expected: 'YAML',
      actual: said,
      remedy:
        "An expression or type with any of , : # [ ] { } in it needs quotes inside { }, as in { count: 'rows[0].count' }",
    });
  }
  const tree = treeOf(document.contents);
  cache?.set(text, tree);
  return tree;
}

function treeOf(node: Node | null): YamlTree {
  if (node === null) return null;
  const span = { start: node.range?.[0] ?? 0, end: node.range?.[1] ?? node.range?.[0] ?? 0 };
  if (isMap(node))
    return {
      ...{ sort: 'map', ...span },
      items: node.items.map(({ key, value }) => ({
        name: isScalar(key) ? String(key.value) : undefined,
        at: isScalar(key) ? key.range?.[0] : undefined,
        value: treeOf(value as Node | null),
      })),
    };
  if (isSeq(node))
    return { sort: 'list', ...span, items: node.items.map((item) => treeOf(item as Node | null)) };
  if (isScalar(node)) return { sort: 'scalar', ...span, value: scalarOf(node.value) };
  return { sort: isAlias(node) ? 'alias' : 'other', ...span };
}

function scalarOf(value: unknown): YamlScalar {
  if (typeof value === 'bigint') return { whole: String(value) };
  return typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean' ? value : null;
}
