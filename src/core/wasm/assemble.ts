/**
 * Makes a WebAssembly module of one function and a memory out of its instructions, so that nothing has to be compiled to
 * build the application (WebAssembly Core Specification 2.0, chapter 5).
 */
export const I32 = 0x7f;
export const I64 = 0x7e;
export const V128 = 0x7b;
export const EMPTY = 0x40;

const SIMD = 0xfd;

export const op = {
  block: 0x02,
  loop: 0x03,
  if: 0x04,
  else: 0x05,
  end: 0x0b,
  br: 0x0c,
  brIf: 0x0d,
  get: 0x20,
  set: 0x21,
  tee: 0x22,
  load32: 0x28,
  load8: 0x2d,
  load8as64: 0x31,
  store64: 0x37,
  store8: 0x3a,
  i32: 0x41,
  i64: 0x42,
  isZero: 0x45,
  equal: 0x46,
  notEqual: 0x47,
  below: 0x49,
  above: 0x4b,
  notAbove: 0x4d,
  notBelow: 0x4f,
  trailingZeros: 0x68,
  add: 0x6a,
  subtract: 0x6b,
  or: 0x72,
  shiftLeft: 0x74,
  mul64: 0x7e,
  xor64: 0x85,
} as const;

/** Instructions on sixteen bytes at once. */
export const wide = {
  load: [SIMD, 0x00],
  fill8: [SIMD, 0x0f],
  equal8: [SIMD, 0x23],
  and: [SIMD, 0x4e],
  or: [SIMD, 0x50],
  bits8: [SIMD, 0x64],
} as const;

/** Signed LEB128. */
export function leb(value: bigint | number): number[] {
  const out: number[] = [];
  for (let left = BigInt(value); ;) {
    const low = Number(left & 0x7fn);
    left >>= 7n;
    if ((left === 0n && !(low & 64)) || (left === -1n && low & 64)) return [...out, low];
    out.push(low | 128);
  }
}

/** Unsigned; every length in a module is below 2^14. */
const length = (value: number): number[] => (value < 128 ? [value] : [(value & 127) | 128, value >> 7]);
const list = (items: readonly number[][]): number[] => [...length(items.length), ...items.flat()];
const section = (id: number, content: number[]): number[] => [id, ...length(content.length), ...content];
const text = (value: string): number[] => [value.length, ...new TextEncoder().encode(value)];

export interface OneFunction {
  readonly name: string;
  readonly parameters: readonly number[];
  /** Types of the locals, which count on from the parameters. */
  readonly locals: readonly number[];
  readonly body: readonly number[];
}

/** A module that exports `memory` and the function, which gives an i32. */
export function assemble({ name, parameters, locals, body }: OneFunction): WebAssembly.Module {
  const code = [...list(locals.map((type) => [1, type])), ...body];
  return new WebAssembly.Module(
    Uint8Array.from([
      ...[0, 0x61, 0x73, 0x6d, 1, 0, 0, 0],
      ...section(1, list([[0x60, ...list(parameters.map((type) => [type])), 1, I32]])),
      ...section(3, list([[0]])),
      ...section(5, list([[0, 1]])),
      ...section(
        7,
        list([
          [...text('memory'), 2, 0],
          [...text(name), 0, 0],
        ]),
      ),
      ...section(10, list([[...length(code.length), ...code]])),
    ]),
  );
}

export const WASM_PAGE = 65536;
