import { toHex } from '../bytes';
import type { FieldShape } from './types';
import { bare, type Value } from './values';

/** The shape that a choice comes to. Cases are told by the text of their value, bytes by their digits. */
export function chooseShape(shape: FieldShape & { sort: 'choice' }, by: Value): FieldShape | undefined {
  const plain = bare(by);
  if (plain instanceof Uint8Array) return shape.cases.get(toHex(plain)) ?? shape.otherwise;
  const word =
    typeof plain === 'object' && 'sort' in plain && plain.sort === 'text'
      ? plain.text
      : String(plain as string);
  return shape.cases.get(word) ?? shape.otherwise;
}
