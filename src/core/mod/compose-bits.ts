import { FormatError } from '../bytes';
import { asInteger, canonical, describeValue, type FieldType, type RecordNode, type Value } from '../script';

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
    if (part.shape.sort !== 'bits') continue;
    const { from, width, signed } = part.shape;
    const value = BigInt(asInteger(values.field(node, index)));
    const fits = signed ? BigInt.asIntN(width, value) === value : BigInt.asUintN(width, value) === value;
    if (!fits)
      throw new FormatError('does-not-fit', {
        fieldPath: `${node.path}.${part.name}`,
        expected: `a ${signed ? 'signed ' : ''}number of ${width} bits`,
        actual: describeValue(canonical(value)),
      });
    pattern |= BigInt.asUintN(width, value) << BigInt(from);
  }
  const bits = 8 * shape.scalar.size;
  return canonical(shape.scalar.name.startsWith('i') ? BigInt.asIntN(bits, pattern) : pattern);
}
