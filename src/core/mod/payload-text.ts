import { collect, FormatError, type BytesRef } from '../bytes';
import { decodeText, readText, unitLength, type FieldShape, type Value } from '../script';

/** The new value of a field that has the bytes of an entry: these, or what they say where it is a text, since rules ask for that. */
export function payloadValue(shape: FieldShape, stored: BytesRef | undefined): Value {
  if (!stored || (shape.sort !== 'text' && shape.sort !== 'ended text')) return stored;
  const bytes = collect(stored);
  if (shape.sort === 'text') return readText(bytes, shape.encoding, shape.fill);
  return decodeText(
    bytes.subarray(0, Math.max(0, bytes.length - unitLength(shape.encoding))),
    shape.encoding,
  );
}

/** The bytes of an entry that are a text with an end, which comes once and last; throws FormatError `does-not-fit` for others. */
export function endedOnce(
  stored: BytesRef,
  { encoding, end }: Extract<FieldShape, { sort: 'ended text' }>,
): BytesRef {
  const bytes = collect(stored);
  const unit = unitLength(encoding);
  const [low, high] = encoding === 'utf-16be' ? [1, 0] : [0, 1];
  let at = 0;
  const isEnd = (): boolean =>
    bytes[at + (unit === 1 ? 0 : low)] === end && (unit === 1 || bytes[at + high] === 0);
  while (at < bytes.length && !isEnd()) at += unit;
  if (at + unit !== bytes.length)
    throw new FormatError('does-not-fit', {
      expected: `one byte ${end} that ends it`,
      actual: at < bytes.length ? `one at ${at} of ${bytes.length}` : 'none',
      why: 'it would be read as another text',
    });
  return stored;
}
