import type { Entry } from '@/core/archive';
import { isItems, type Compiled, type Items, type Value } from '@/core/script';
import type { Place } from '../data-table';
import { fieldOfColumn } from '../described-table';

/** A value within the row of an entry, and what leads to it: numbers of fields and items. */
export interface ValueAt {
  readonly steps: readonly number[];
  readonly was: Value;
  /** The list that it is an item of. */
  readonly list: Items | undefined;
}

/** What stands within a column that a row carries; undefined where it is worked out from others, or nothing stands there. */
export function valueAt(entry: Entry, column: Compiled, within: Place): ValueAt | undefined {
  const field = fieldOfColumn(entry, column);
  if (!field) return undefined;
  const steps = [field.index];
  let was = withinRegion(entry.row.get(field.index));
  let list: Items | undefined;
  for (const step of within) {
    if (isItems(was) && typeof step === 'number') {
      if (step >= was.length) return undefined;
      steps.push(step);
      list = was;
      was = was.at(step);
    } else if (typeof was === 'object' && 'sort' in was && was.sort === 'record') {
      const own = was.type.fields.find(({ name, role }) => name === step && role.sort === 'carried');
      if (!own) return undefined;
      steps.push(own.index);
      list = undefined;
      was = withinRegion(was.get(own.index));
    } else return undefined;
  }
  return { steps, was, list };
}

/** What a stretch of bytes has within it, where that is a list or a record. */
function withinRegion(value: Value): Value {
  if (typeof value !== 'object' || !('sort' in value) || value.sort !== 'region') return value;
  const { content } = value;
  return isItems(content) || (typeof content === 'object' && 'sort' in content && content.sort === 'record')
    ? content
    : value;
}
