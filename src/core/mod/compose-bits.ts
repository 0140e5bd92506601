import { numberOfBits, putBits, type FieldType, type RecordNode, type Value } from '../script';

interface FieldValues {
  field(node: RecordNode, index: number): Value;
}

/** A number put together from its bits, each as it will be; refuses what does not fit its width. */
export function composeBits(values: FieldValues, node: RecordNode, container: FieldType, read: Value): Value {
  const { role, shape } = container;
  if (role.sort !== 'composed' || shape.sort !== 'scalar') return read;
  let pattern = 0n;
  for (const index of role.fields) {
    const part = node.type.fields[index]!;
    if (part.shape.sort === 'bits')
      pattern = putBits(pattern, part.shape, values.field(node, index), `${node.path}.${part.name}`);
  }
  return numberOfBits(pattern, shape);
}
