import type { Archive } from '../archive';
import type { RegionNode, Value } from '../script';

/** Every region in the tables of an archive, outer before inner. */
export function regionsOf(archive: Archive): RegionNode[] {
  const found: RegionNode[] = [];
  const visit = (value: Value): void => {
    if (typeof value !== 'object') return;
    if (Array.isArray(value)) {
      // A list of plain numbers has nothing to visit.
      if (typeof value[0] === 'object') (value as readonly Value[]).forEach(visit);
      return;
    }
    if (!('sort' in value)) return;
    if (value.sort === 'record') {
      const hasInner = value.type.fields.some((field) => field.region || field.shape.sort === 'record');
      if (hasInner) value.values.forEach(visit);
    } else if (value.sort === 'region') {
      found.push(value);
      visit(value.content);
    }
  };
  for (const part of archive.script.parts) visit(archive.context.part(part.name));
  return found;
}
