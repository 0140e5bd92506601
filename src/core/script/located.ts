import { FormatError } from '../bytes';
import { nearest } from '../registry';
import { yamlTree, type YamlTree } from './yaml-tree';

/** A place in a script's text together with what stands there, so that every complaint has a line. */
export interface Located {
  readonly path: string;
  /** The mapping's items in order. */
  entries(allowed?: readonly string[]): [string, Located][];
  /** One item of a mapping, or undefined. */
  get(name: string): Located | undefined;
  need(name: string): Located;
  items(): Located[];
  isMapping(): boolean;
  isList(): boolean;
  text(): string;
  /** A number, or the text of one. */
  scalar(): string | number | bigint | boolean;
  fail(expected: string, actual?: string, remedy?: string): never;
  /** Runs `work`; a `script-wrong` error that only knows a column of this text gets its line. */
  locate<T>(work: () => T, textOffset?: number): T;
}

const MOST_TEXT = 1 << 20;
/** Names in one mapping. */
const MOST_NAMES = 20_000;

/** Reads YAML text; throws FormatError `script-wrong` with line and column. */
export function readYaml(text: string): Located {
  if (text.length > MOST_TEXT)
    throw new FormatError('script-wrong', {
      expected: `at most ${MOST_TEXT} characters`,
      actual: `${text.length}`,
    });
  return locate(yamlTree(text), '', text);
}

/** Line and column of a place in a text, both from 1 on. */
function lineAndColumn(text: string, offset: number): { line: number; column: number } {
  let [line, start] = [1, 0];
  for (let at = text.indexOf('\n'); at >= 0 && at < offset; at = text.indexOf('\n', at + 1)) {
    line++;
    start = at + 1;
  }
  return { line, column: offset - start + 1 };
}

/** `fallback` is where a name stands that has nothing behind it. */
function locate(node: YamlTree, path: string, source: string, fallback = 0): Located {
  const start = node?.start ?? fallback;
  const child = (inner: YamlTree, name: string, at = start): Located =>
    locate(inner, path ? `${path}.${name}` : name, source, at);

  function failAt(offset: number, expected: string, actual?: string, remedy?: string): never {
    throw new FormatError('script-wrong', {
      fieldPath: path || undefined,
      ...lineAndColumn(source, offset),
      expected,
      actual,
      remedy,
    });
  }
  const fail: Located['fail'] = (expected, actual, remedy) => failAt(start, expected, actual, remedy);

  let known: ReadonlyMap<string, Located> | undefined;
  function pairs(): ReadonlyMap<string, Located> {
    if (known) return known;
    if (node?.sort !== 'map') return fail('a mapping', what(node));
    if (node.items.length > MOST_NAMES) return fail(`at most ${MOST_NAMES} names`, `${node.items.length}`);
    const found = new Map<string, Located>();
    for (const { name, at, value } of node.items) {
      if (name === undefined) return fail('plain names');
      if (found.has(name)) return failAt(at ?? start, 'each name once', `'${name}' a second time`);
      found.set(name, child(value, name, at));
    }
    return (known = found);
  }

  const here: Located = {
    path,
    isMapping: () => node?.sort === 'map',
    isList: () => node?.sort === 'list',
    entries(allowed) {
      const found = [...pairs()];
      if (!allowed) return found;
      for (const [name, value] of found)
        if (!allowed.includes(name)) {
          const near = nearest(name, allowed);
          value.fail(
            `one of ${allowed.join(', ')}`,
            `'${name}'`,
            // A comma inside { } ends a value unless it is quoted.
            /[()[\]]/.test(name)
              ? 'Put an expression that has a comma in it into quotes'
              : near && `Did you mean '${near}'?`,
          );
        }
      return found;
    },
    get: (name) => pairs().get(name),
    need: (name) => here.get(name) ?? fail(`'${name}' in here`, 'nothing'),
    items: () =>
      node?.sort === 'list' ? node.items.map((item, i) => child(item, `${i}`)) : fail('a list', what(node)),
    scalar() {
      if (node?.sort !== 'scalar' || node.value === null) return fail('a value', what(node));
      const { value } = node;
      if (typeof value !== 'object') return value;
      const number = Number(value.whole);
      return Number.isSafeInteger(number) ? number : BigInt(value.whole);
    },
    text() {
      const value = here.scalar();
      // Numbers keep the spelling that they have in the text, such as 0x10.
      return typeof value === 'string' ? value : source.slice(start, node?.end ?? start) || String(value);
    },
    fail,
    locate(work, textOffset = 0) {
      try {
        return work();
      } catch (error) {
        if (!(error instanceof FormatError) || error.facts.line !== undefined) throw error;
        const quoted = source[start] === '"' || source[start] === "'" ? 1 : 0;
        const at = start + quoted + textOffset + (error.facts.column ?? 1) - 1;
        const { expected, actual, remedy } = error.facts;
        return failAt(Math.min(at, source.length), expected ?? error.message, actual, remedy);
      }
    },
  };
  return here;
}

function what(node: YamlTree): string {
  if (node === null) return 'nothing';
  return {
    map: 'a mapping',
    list: 'a list',
    alias: 'an alias',
    scalar: 'something else',
    other: 'something else',
  }[node.sort];
}
