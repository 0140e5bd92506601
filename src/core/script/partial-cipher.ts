import { FormatError, type BytesRef } from '../bytes';
import type { CipherStream, Primitives } from '../primitives';
import type { ResolvedCipher } from './resolved-step';

/** A stretch of a payload and whether the cipher works on it. */
interface Stretch {
  readonly length: number;
  readonly isCiphered: boolean;
  /** Whether the cipher begins anew here. */
  readonly starts: boolean;
}

/** The bytes with a cipher put on or taken off where the step says. */
export function ciphered(
  ref: BytesRef,
  step: ResolvedCipher,
  decrypt: boolean,
  primitives: Primitives,
): BytesRef {
  const { cipher } = step;
  const isWhole = step.skip === undefined && step.first === undefined && !step.every && !step.keepsTail;
  if (isWhole && ref.length % cipher.blockLength !== 0)
    throw uneven(cipher.name, cipher.blockLength, ref.length);
  const start = (): CipherStream => cipher.start(step, decrypt, primitives, ref.length);
  return {
    length: ref.length,
    *chunks() {
      if (isWhole) {
        const stream = start();
        for (const chunk of ref.chunks()) yield stream.update(chunk);
        return;
      }
      yield* partly(ref, stretchesOf(step, ref.length), start);
    },
  };
}

function uneven(name: string, unit: number, length: number): FormatError {
  return new FormatError('bad-value', {
    expected: `a multiple of ${unit} bytes for ${name}`,
    actual: `${length}`,
    remedy: "Say 'tail: kept' where the last bytes stay as they are",
  });
}

function* stretchesOf(step: ResolvedCipher, length: number): Generator<Stretch> {
  const { cipher, every } = step;
  const skip = Math.min(length, step.skip ?? 0);
  if (skip > 0) yield { length: skip, isCiphered: false, starts: false };
  let room = Math.min(length - skip, step.first ?? Infinity);
  let behind = length - skip - room;
  const even = (part: number): number => {
    const rest = part % cipher.blockLength;
    if (rest > 0 && !step.keepsTail) throw uneven(cipher.name, cipher.blockLength, part);
    return part - rest;
  };
  if (!every) {
    const ciphered = even(room);
    yield { length: ciphered, isCiphered: true, starts: true };
    behind += room - ciphered;
  } else {
    if (every.of < 1 || every.nth < 1)
      throw new FormatError('bad-value', {
        expected: 'blocks of at least one byte, every first or later',
        actual: `${every.of}`,
      });
    for (let block = 0; room > 0; block++) {
      const part = Math.min(every.of, room);
      room -= part;
      if (block % every.nth !== 0) yield { length: part, isCiphered: false, starts: false };
      else {
        const ciphered = even(part);
        yield { length: ciphered, isCiphered: true, starts: true };
        if (part > ciphered) yield { length: part - ciphered, isCiphered: false, starts: false };
      }
    }
  }
  if (behind > 0) yield { length: behind, isCiphered: false, starts: false };
}

function* partly(
  ref: BytesRef,
  stretches: Generator<Stretch>,
  start: () => CipherStream,
): Generator<Uint8Array> {
  let stream: CipherStream | undefined;
  let step = stretches.next();
  let left = step.done ? 0 : step.value.length;
  for (const chunk of ref.chunks())
    for (let at = 0; at < chunk.length;) {
      while (left === 0 && !step.done) {
        step = stretches.next();
        left = step.done ? 0 : step.value.length;
        stream = undefined;
      }
      if (step.done) {
        yield chunk.subarray(at);
        break;
      }
      const part = chunk.subarray(at, Math.min(chunk.length, at + left));
      if (step.value.isCiphered) {
        stream ??= start();
        yield stream.update(part);
      } else yield part;
      at += part.length;
      left -= part.length;
    }
}
