import { isMap, isScalar, parseDocument, type Scalar, type YAMLMap } from 'yaml';
import { FormatError } from '../bytes';
import { parseScript } from './parse-script';

/** Words that YAML 1.1 or 1.2 takes for something else than a text. */
const NO_TEXT = /^(?:true|false|yes|no|on|off|null|y|n)$/i;

const spelled = (text: string): string =>
  /^[a-z_][\w./-]*$/i.test(text) && !NO_TEXT.test(text) ? text : JSON.stringify(text);

/**
 * A script in which a column of its table says whose rows its values are: `piece: id` becomes `piece: { value: id, means: pieces }`. Nothing else of the text is touched, so that notes and layout stay.
 * Throws FormatError `not-writable` where the column does not stand in the text as something of its own.
 */
export function withMeaning(text: string, column: string, means: string): string {
  const columns = parseDocument(text, { uniqueKeys: false, intAsBigInt: true }).getIn(
    ['table', 'columns'],
    true,
  );
  const items = isMap(columns) ? columns.items : [];
  const value = items.find(({ key }) => isScalar(key) && String(key.value) === column)?.value;
  const made = isScalar(value)
    ? aroundScalar(text, value, means)
    : isMap(value) && value.range
      ? inMapping(text, value, means)
      : undefined;
  const said = made === undefined ? undefined : meaningIn(made, column);
  if (made !== undefined && said === means) return made;
  throw new FormatError('not-writable', {
    ...{ fieldPath: `table.columns.${column}`, expected: 'a column that stands in the script by itself' },
    remedy: `Write  means: ${spelled(means)}  beside its value in the script`,
  });
}

function meaningIn(text: string, column: string): string | undefined {
  try {
    return parseScript(text).table?.columns.find(({ title }) => title === column)?.means;
  } catch (error) {
    if (error instanceof FormatError) return undefined;
    throw error;
  }
}

function aroundScalar(text: string, { range, value }: Scalar, means: string): string | undefined {
  if (!range) return undefined;
  const [from, to] = range;
  const own = text.slice(from, to);
  const isBlock = /^[|>]/.test(own);
  // Within braces more signs have a meaning than on a line of its own.
  const isPlain = !/^["']/.test(own);
  const inside = isBlock || (isPlain && /[,[\]{}]/.test(own)) ? JSON.stringify(String(value).trim()) : own;
  const end = isBlock && own.endsWith('\n') ? '\n' : '';
  return `${text.slice(0, from)}{ value: ${inside}, means: ${spelled(means)} }${end}${text.slice(to)}`;
}

function inMapping(text: string, map: YAMLMap, means: string): string | undefined {
  const [from, to] = map.range!;
  const known = map.items.find(({ key }) => isScalar(key) && key.value === 'means')?.value;
  if (isScalar(known) && known.range)
    return `${text.slice(0, known.range[0])}${spelled(means)}${text.slice(known.range[1])}`;
  if (map.flow) {
    const close = text.lastIndexOf('}', to - 1);
    const before = text.slice(0, close).trimEnd();
    const comma = before.endsWith(',') || before.length === from + 1 ? '' : ',';
    return `${before}${comma} means: ${spelled(means)} ${text.slice(close)}`;
  }
  const first = map.items[0]?.key;
  const at = isScalar(first) ? first.range?.[0] : undefined;
  if (at === undefined) return undefined;
  const indent = text.slice(text.lastIndexOf('\n', at - 1) + 1, at);
  return `${text.slice(0, at)}means: ${spelled(means)}\n${' '.repeat(indent.length)}${text.slice(at)}`;
}
