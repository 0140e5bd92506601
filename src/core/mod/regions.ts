import type { Archive } from '../archive';
import { isItems, RowTable, type RegionNode, type Value } from '../script';

/** Every sealed region in the tables of an archive, outer before inner. */
export function regionsOf(archive: Archive): RegionNode[] {
  const found: RegionNode[] = [];
  const visit = (value: Value): void => {
    if (typeof value !== 'object') return;
    if (isItems(value)) {
      // Rows of tables have no regions, and a list of plain values has nothing to visit.
      if (value instanceof RowTable || typeof value.at(0) !== 'object') return;
      for (let i = 0; i < value.length; i++) visit(value.at(i));
      return;
    }
    if (!('sort' in value)) return;
    if (value.sort === 'record') {
      for (const field of value.type.fields)
        if (field.region || field.shape.sort === 'record' || field.shape.sort === 'choice')
          visit(value.get(field.index));
    } else if (value.sort === 'region') {
      if (value.field.region!.seal.length > 0) found.push(value);
      visit(value.content);
    }
  };
  for (const part of archive.script.parts) visit(archive.context.part(part.name));
  return found;
}
