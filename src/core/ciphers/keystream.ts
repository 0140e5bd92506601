import { numberSetting, NO_SETTINGS, wordSetting } from '../settings';
import type { Cipher } from './cipher';
import { KERNEL } from './keystream-kernel-bytes';

interface Kernel {
  readonly memory: WebAssembly.Memory;
  firstFree(): number;
  over(
    at: number,
    length: number,
    state: number,
    times: number,
    plus: number,
    mask: number,
    shift: number,
  ): number;
}

let started: Kernel | undefined;

/** The module, begun once in each thread. */
function kernel(): Kernel {
  if (started) return started;
  const bytes = Uint8Array.from({ length: KERNEL.length / 2 }, (_, i) =>
    Number.parseInt(KERNEL.slice(2 * i, 2 * i + 2), 16),
  );
  const made = new WebAssembly.Instance(new WebAssembly.Module(bytes)).exports as unknown as Kernel;
  made.memory.grow(PAGES);
  return (started = made);
}

/** Shorter runs are done before the kernel would have begun. */
const LEAST_FOR_KERNEL = 512;
const STEP = 16;
/** Of 64 KiB each, for what is worked on at once. */
const PAGES = 2;

interface Recurrence {
  readonly times: number;
  readonly plus: number;
  readonly mask: number;
  readonly shift: number;
}

/** Lays the stream over bytes from one on, each taken behind a step, into others; the answer is the state behind them. */
function layOver(
  bytes: Uint8Array,
  out: Uint8Array,
  from: number,
  state: number,
  { times, plus, mask, shift }: Recurrence,
): number {
  let at = from;
  if (bytes.length - at >= LEAST_FOR_KERNEL) {
    const { memory, firstFree, over } = kernel();
    const base = firstFree();
    const room = new Uint8Array(
      memory.buffer,
      base,
      Math.floor((memory.buffer.byteLength - base) / STEP) * STEP,
    );
    while (bytes.length - at >= STEP) {
      const length = Math.min(room.length, Math.floor((bytes.length - at) / STEP) * STEP);
      room.set(bytes.subarray(at, at + length));
      state = over(base, length, state, times, plus, mask, shift);
      out.set(room.subarray(0, length), at);
      at += length;
    }
  }
  for (; at < bytes.length; at++) {
    state = (Math.imul(state, times) + plus) | 0;
    out[at] = bytes[at]! ^ (((state & mask) >>> shift) & 255);
  }
  return state;
}

/**
 * A key stream from a recurrence: state = state * times + plus, modulo 2^bits; each step gives one byte of the
 * state, from bit `shift` on.
 */
export const keystream: Cipher = {
  name: 'keystream',
  about: 'exclusive or with bytes of the recurrence state * times + plus, modulo 2^bits',
  keyLengths: [],
  ivLength: 0,
  blockLength: 1,
  keyless: true,
  settings: {
    seed: { about: 'the state at first', default: undefined },
    times: { about: 'what the state is multiplied by', default: undefined },
    plus: { about: 'what is added', default: 0 },
    bits: { about: 'how wide the state is, 8 to 32', default: 32 },
    shift: { about: 'the lowest bit of the byte that is taken', default: 0 },
    take: {
      about: 'whether a byte is taken before or after the step',
      default: 'after',
      words: ['after', 'before'],
    },
  },
  start({ settings = NO_SETTINGS }) {
    const number = (name: string): number => numberSetting(settings, name) || 0;
    const bits = Math.min(32, Math.max(8, number('bits')));
    const mask = bits === 32 ? 0xffffffff : 2 ** bits - 1;
    const times = number('times') | 0;
    const plus = number('plus') | 0;
    const shift = Math.min(24, number('shift'));
    const early = wordSetting(settings, 'take') === 'before';
    const shape: Recurrence = { times, plus, mask, shift };
    let state = number('seed') | 0;
    return {
      update: (bytes) => {
        const out = new Uint8Array(bytes.length);
        if (!early) {
          state = layOver(bytes, out, 0, state, shape);
          return out;
        }
        if (out.length === 0) return out;
        // The first byte is taken from the state as it stands, the others behind a step each; then one more is taken.
        out[0] = bytes[0]! ^ (((state & mask) >>> shift) & 255);
        state = layOver(bytes, out, 1, state, shape);
        state = (Math.imul(state, times) + plus) | 0;
        return out;
      },
    };
  },
};
