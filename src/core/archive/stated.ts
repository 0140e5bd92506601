import { toHex } from '../bytes';
import { asText, bare, isTextual } from '../script';
import type { Entry } from './archive';

/**
 * What an archive states of an entry that changes with its content: the fields of its row that are derived from the payload's bytes,
 * such as a checksum, with its size. Empty where the row states none. Nothing of the payload is read.
 */
export function statedOf({ row, size }: Entry): string {
  const checks = row.type.fields.flatMap(({ name, index, role }) => {
    if (role.sort !== 'derived' || !role.deep) return [];
    const value = bare(row.get(index));
    if (value instanceof Uint8Array) return [`${name}=${toHex(value)}`];
    if (typeof value === 'number' || typeof value === 'bigint') return [`${name}=${value}`];
    return isTextual(value) ? [`${name}=${asText(value)}`] : [];
  });
  return checks.length === 0 ? '' : `${size} ${checks.join(' ')}`;
}
