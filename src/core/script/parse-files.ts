import type { Located } from './located';
import { parseSeal } from './parse-seal';
import { optional, suggest, type ScriptScope } from './scope';
import type { FileChoice, FileType } from './types';

/** Fields that hold files; known before the records are read. */
export function innerFieldsOf(at: Located | undefined): Set<string> {
  const names = new Set<string>();
  for (const [, file] of at?.entries() ?? []) {
    const field = file.get('field');
    if (field) names.add(field.text());
  }
  return names;
}

/** Reads the section `files`. */
export function parseFiles(at: Located | undefined, scope: ScriptScope): Map<string, FileType> {
  const files = new Map<string, FileType>();
  for (const [name, file] of at?.entries() ?? []) files.set(name, readFile(name, files.size, file, scope));
  return files;
}

function readFile(name: string, index: number, at: Located, scope: ScriptScope): FileType {
  if (!/^[A-Za-z]\w*$/.test(name)) at.fail('a name of letters, digits and _', `'${name}'`);
  at.entries(['name', 'count', 'of', 'pieces', 'field', 'unit', 'seal', 'about']);
  const field = at.get('field');
  if (field) {
    for (const word of ['name', 'count'] as const)
      if (at.get(word)) at.need(word).fail("'of', 'field' and 'seal'", `'${word}'`, 'It lies inside a field');
    if (!scope.known.others.has(field.text()))
      field.fail('the name of a field', `'${field.text()}'`, suggest(field.text(), scope.known.others));
    const pieces = at.get('pieces');
    for (const word of pieces ? (['of'] as const) : (['unit'] as const))
      if (at.get(word)) at.need(word).fail("either 'of' or 'pieces' with 'unit'", `'${word}'`);
    const from = {
      sort: 'inside' as const,
      of: scope.expression(pieces ?? at.need('of')),
      inPieces: pieces !== undefined,
      field: field.text(),
      unit: optional(at.get('unit'), scope),
      seal: parseSeal(at.get('seal'), scope),
    };
    return { name, index, several: false, count: undefined, from };
  }
  for (const word of ['of', 'pieces', 'unit', 'seal'] as const)
    if (at.get(word))
      at.need(word).fail("'field' beside it, which says where the bytes are", `'${word}' alone`);
  const given = at.get('count');
  const count = given?.text() === 'any' ? undefined : optional(given, scope);
  const from = { sort: 'beside' as const, name: scope.expression(at.need('name')) };
  return { name, index, several: given !== undefined, count, from };
}

/** `NAME`, or `NAME[NUMBER]` for one of several. */
export function readFileChoice(
  at: Located | undefined,
  scope: ScriptScope,
  files: ReadonlyMap<string, FileType>,
  without: 'one' | 'each',
): FileChoice | undefined {
  if (!at) return undefined;
  const text = at.text();
  const found = /^\s*(\w+)\s*(?:\[(.*)\])?\s*$/s.exec(text);
  const name = found?.[1] ?? text;
  const type = files.get(name);
  if (!type) return at.fail('a name from the section files', `'${name}'`, suggest(name, files.keys()));
  const number = found?.[2];
  if (number !== undefined && !type.several)
    at.fail(`'${name}'`, `'${text}'`, `There is one ${name}; give it a 'count' if there are several`);
  if (number === undefined && type.several && without === 'one')
    at.fail(`which of the ${name}, as in '${name}[number]'`, `'${text}'`);
  return {
    name,
    number: number === undefined ? undefined : scope.expression(at, number, text.indexOf('[') + 1),
  };
}
