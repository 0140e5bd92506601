import { FormatError } from '../bytes';
import type { RecordNode } from './model';

/** Number of a record's field by its name. Throws FormatError `script-wrong` where it has no such field. */
export function fieldIndex(node: RecordNode, name: string): number {
  const index = node.type.byName.get(name);
  if (index !== undefined) return index;
  throw new FormatError('script-wrong', { expected: `a field of ${node.type.name}`, actual: `'${name}'` });
}
