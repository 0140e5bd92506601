import { isAlias, isMap, isScalar, isSeq, LineCounter, parseDocument, type Node as YamlNode } from 'yaml';
import { FormatError } from '../bytes';
import { nearest } from '../registry';

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
  const lines = new LineCounter();
  const document = parseDocument(text, {
    lineCounter: lines,
    strict: true,
    // Looked for below: the package compares each name with each.
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
  return locate(document.contents, '', text, lines);
}

/** `fallback` is where a name stands that has nothing behind it. */
function locate(
  node: YamlNode | null,
  path: string,
  source: string,
  lines: LineCounter,
  fallback = 0,
): Located {
  const start = node?.range?.[0] ?? fallback;
  const child = (inner: unknown, name: string, at = start): Located =>
    locate(inner as YamlNode | null, path ? `${path}.${name}` : name, source, lines, at);

  function failAt(offset: number, expected: string, actual?: string, remedy?: string): never {
    const { line, col } = lines.linePos(offset);
    throw new FormatError('script-wrong', {
      fieldPath: path || undefined,
      line,
      column: col,
      expected,
      actual,
      remedy,
    });
  }
  const fail: Located['fail'] = (expected, actual, remedy) => failAt(start, expected, actual, remedy);

  let known: ReadonlyMap<string, Located> | undefined;
  function pairs(): ReadonlyMap<string, Located> {
    if (known) return known;
    if (!isMap(node)) return fail('a mapping', what(node));
    if (node.items.length > MOST_NAMES) return fail(`at most ${MOST_NAMES} names`, `${node.items.length}`);
    const found = new Map<string, Located>();
    for (const { key, value } of node.items) {
      if (!isScalar(key)) return fail('plain names');
      const name = String(key.value);
      const at = key.range?.[0];
      if (found.has(name)) return failAt(at ?? start, 'each name once', `'${name}' a second time`);
      found.set(name, child(value, name, at));
    }
    return (known = found);
  }

  const here: Located = {
    path,
    isMapping: () => isMap(node),
    isList: () => isSeq(node),
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
      isSeq(node) ? node.items.map((item, i) => child(item, `${i}`)) : fail('a list', what(node)),
    scalar() {
      if (!isScalar(node)) return fail('a value', what(node));
      const { value } = node;
      if (typeof value === 'bigint')
        return value <= BigInt(Number.MAX_SAFE_INTEGER) && value >= BigInt(Number.MIN_SAFE_INTEGER)
          ? Number(value)
          : value;
      if (typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean') return value;
      return fail('a value', what(node));
    },
    text() {
      const value = here.scalar();
      // Numbers keep the spelling that they have in the text, such as 0x10.
      return typeof value === 'string'
        ? value
        : source.slice(start, node?.range?.[1] ?? start) || String(value);
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

function what(node: YamlNode | null): string {
  if (node === null) return 'nothing';
  if (isMap(node)) return 'a mapping';
  if (isSeq(node)) return 'a list';
  if (isAlias(node)) return 'an alias';
  return 'something else';
}
