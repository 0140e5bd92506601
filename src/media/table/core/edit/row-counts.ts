/** A list whose items count is another one. */
export interface Resizing {
  /** Where it stands. */
  readonly whole: Stretch;
  /** How many items it has then. */
  readonly count: number;
  /** What is taken out of it; nothing where both are the same, and its beginning where they are not said. */
  readonly from: number | undefined;
  readonly to: number | undefined;
  /** What comes there. */
  readonly own: Uint8Array;
}

interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** A number behind a first byte, highest byte first. */
function headOf(first: number, size: number, count: number): Uint8Array {
  const head = new Uint8Array(1 + size);
  head[0] = first;
  for (let i = 0; i < size; i++) head[size - i] = Math.floor(count / 2 ** (8 * i)) & 255;
  return head;
}

function joined(
  bytes: Uint8Array,
  { whole, own, ...out }: Resizing,
  headLength: number,
  head: Uint8Array,
): Uint8Array {
  const behind = whole.from + headLength;
  const { from = behind, to = behind } = out;
  const all = [
    ...[bytes.subarray(0, whole.from), head],
    ...[bytes.subarray(behind, from), own, bytes.subarray(to)],
  ];
  const made = new Uint8Array(all.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of all) {
    made.set(part, at);
    at += part.length;
  }
  return made;
}

/** A CBOR list with one item more or less (RFC 8949, section 3.2): its count keeps as many bytes as it had where they are enough; one without a count has none. */
export function resizedCbor(bytes: Uint8Array, how: Resizing): Uint8Array {
  const { count } = how;
  const first = bytes[how.whole.from]!;
  const low = first & 31;
  if (low === 31) return joined(bytes, how, 1, Uint8Array.of(first));
  const had = low < 24 ? 0 : 2 ** (low - 24);
  const needs = count < 24 ? 0 : count < 0x100 ? 1 : count < 0x10000 ? 2 : 4;
  const size = Math.max(had, needs);
  const major = first & 0xe0;
  const head =
    size === 0 ? Uint8Array.of(major | count) : headOf(major | (24 + Math.log2(size)), size, count);
  return joined(bytes, how, 1 + had, head);
}

/** A MessagePack list with one item more or less: its count keeps as many bytes as it had where they are enough. */
export function resizedPack(bytes: Uint8Array, how: Resizing): Uint8Array {
  const { count } = how;
  const first = bytes[how.whole.from]!;
  const had = first === 0xdc ? 2 : first === 0xdd ? 4 : 0;
  const needs = count < 16 ? 0 : count < 0x10000 ? 2 : 4;
  const size = Math.max(had, needs);
  const head = size === 0 ? Uint8Array.of(0x90 | count) : headOf(size === 2 ? 0xdc : 0xdd, size, count);
  return joined(bytes, how, 1 + had, head);
}
