import { HeldRecord, isItems, isTextual, asText, type Value } from '../../script';

/** A text that a record carries. */
export interface CarriedText {
  readonly node: HeldRecord;
  readonly field: number;
  readonly text: string;
}

/** All texts that a record and those in it carry, so that nothing else decides them. */
export function textsOf(record: HeldRecord): CarriedText[] {
  const found: CarriedText[] = [];
  const visit = (value: Value, node: HeldRecord, field: number): void => {
    if (value === undefined) return;
    if (isTextual(value)) {
      if (node.type.fields[field]!.role.sort === 'carried') found.push({ node, field, text: asText(value) });
    } else if (value instanceof HeldRecord) visitRecord(value);
    else if (typeof value === 'object' && 'sort' in value && value.sort === 'region')
      visit(value.content, node, field);
    else if (isItems(value) && Array.isArray(value))
      for (const one of value as readonly Value[]) if (one instanceof HeldRecord) visitRecord(one);
  };
  const visitRecord = (node: HeldRecord): void => {
    for (const { index } of node.type.fields) visit(node.get(index), node, index);
  };
  visitRecord(record);
  return found;
}

/**
 * What a text of a path has to become so that the path becomes another one: each way in which the text may be a part of the
 * path, the longest first.
 */
export function spellings(path: string, wanted: string, text: string): string[] {
  const found = new Set<string>();
  if (text === '' || path === '') return [];
  // The path may be only a part of the text, as where a sign ends it.
  if (text.includes(path)) found.add(text.replace(path, () => wanted));
  for (let at = path.indexOf(text); at >= 0; at = path.indexOf(text, at + 1)) {
    const before = path.slice(0, at);
    const behind = path.slice(at + text.length);
    if (wanted.length < before.length + behind.length) continue;
    if (wanted.startsWith(before) && wanted.endsWith(behind))
      found.add(wanted.slice(before.length, wanted.length - behind.length));
  }
  return [...found].sort((a, b) => b.length - a.length);
}
