import { FormatError, collect, concatRefs, refOfBytes, refOfSpan, type BytesRef } from '../bytes';
import { ciphers, type Cipher } from '../ciphers';
import { codecs, type Codec } from '../codecs';
import type { Primitives, Spool } from '../primitives';
import type { Budget } from './budget';
import { ChunkPuller } from './chunk-puller';
import type { Evaluation } from './evaluation';
import type { RecordNode } from './model';
import type { Scalar } from './scalars';
import type { SealStep } from './types';
import { asCount, asInteger, asRef, asTruth } from './values';

/** A step with everything in it settled for one payload or region. */
export type ResolvedStep =
  | { sort: 'codec'; codec: Codec; size: number | undefined }
  | { sort: 'cipher'; cipher: Cipher; key: Uint8Array; iv: Uint8Array | undefined }
  | {
      sort: 'blocks';
      plain: number;
      total: number;
      scalar: Scalar;
      little: boolean;
      rawBit: number;
      codec: Codec;
    };

/** What has to be held whole for a codec without blocks. */
const MOST_WHOLE_BYTES = 256 * 1024 * 1024;
const MOST_BLOCK_BYTES = 64 * 1024 * 1024;

/** Settles the steps that apply to `node`, in order from stored to plain. */
export function resolveSeal(
  steps: readonly SealStep[],
  context: Evaluation,
  node: RecordNode | undefined,
  depth: 'whole' | 'without keys' = 'whole',
): ResolvedStep[] {
  return steps
    .filter((step) => !step.condition || asTruth(step.condition.run(context, node)))
    .map((step) => resolveStep(step, context, node, depth));
}

function resolveStep(
  step: SealStep,
  context: Evaluation,
  node: RecordNode | undefined,
  depth: 'whole' | 'without keys',
): ResolvedStep {
  if (step.sort === 'codec')
    return {
      sort: 'codec',
      codec: codecs.get(step.codec)!,
      size: step.size && asCount(step.size.run(context, node)),
    };
  if (step.sort === 'cipher') {
    const cipher = ciphers.get(step.cipher)!;
    if (depth === 'without keys') return { sort: 'cipher', cipher, key: new Uint8Array(0), iv: undefined };
    const key = collect(asRef(step.key.run(context, node)));
    const iv = step.iv && collect(asRef(step.iv.run(context, node)));
    checkKey(cipher, key, iv);
    return { sort: 'cipher', cipher, key, iv };
  }
  const plain = asCount(step.plain.run(context, node));
  if (plain < 1 || plain > MOST_BLOCK_BYTES)
    throw new FormatError('bad-value', {
      expected: `blocks of 1 to ${MOST_BLOCK_BYTES} bytes`,
      actual: `${plain}`,
    });
  return {
    sort: 'blocks',
    plain,
    total: asCount(step.total.run(context, node)),
    scalar: step.scalar,
    little: step.little,
    rawBit: step.rawBit,
    codec: codecs.get(step.codec)!,
  };
}

function checkKey(cipher: Cipher, key: Uint8Array, iv: Uint8Array | undefined): void {
  const { keyLengths } = cipher;
  if (key.length === 0 || (keyLengths.length > 0 && !keyLengths.includes(key.length)))
    throw new FormatError('bad-value', {
      expected: `a key of ${keyLengths.join(', ') || 'at least 1'} bytes for ${cipher.name}`,
      actual: `${key.length}`,
    });
  if ((iv?.length ?? 0) !== cipher.ivLength)
    throw new FormatError('bad-value', {
      expected: `an iv of ${cipher.ivLength} bytes for ${cipher.name}`,
      actual: `${iv?.length ?? 0}`,
    });
}

/** The steps in words, from stored to plain, for lists and reports. */
export function sealNames(steps: readonly ResolvedStep[]): string[] {
  return steps.map((step) => {
    if (step.sort === 'codec') return step.codec.name;
    if (step.sort === 'blocks') return `${step.codec.name} in blocks of ${step.plain}`;
    return step.cipher.name;
  });
}

/** Why `storedLength` bytes cannot hold `plainLength`, or undefined where they can. */
export function implausible(
  steps: readonly ResolvedStep[],
  storedLength: number,
  plainLength: number,
): string | undefined {
  let least = plainLength;
  for (const step of [...steps].reverse()) {
    if (step.sort === 'codec') least = Math.floor(least / step.codec.mostExpansion);
    if (step.sort === 'blocks') {
      const count = Math.ceil(step.total / step.plain);
      least = count * step.scalar.size + Math.floor(least / step.codec.mostExpansion);
    }
  }
  const fits = steps.some((step) => step.sort !== 'cipher') ? storedLength >= least : storedLength === least;
  return fits ? undefined : `${storedLength} stored bytes cannot hold ${plainLength}`;
}

/** The plain bytes of `stored`, made piece by piece on each pass. Errors surface while they are gone through. */
export function unseal(steps: readonly ResolvedStep[], stored: BytesRef, primitives: Primitives): BytesRef {
  let ref = stored;
  for (const step of steps) {
    if (step.sort === 'cipher') ref = ciphered(ref, step, true, primitives);
    else if (step.sort === 'codec') ref = decoded(ref, step, primitives);
    else ref = unblocked(ref, step, primitives);
  }
  return ref;
}

/** The stored bytes for `plain`: all steps backwards. What has to be kept goes into spools. */
export function seal(
  steps: readonly ResolvedStep[],
  plain: BytesRef,
  primitives: Primitives,
  spools: Spool[],
): BytesRef {
  let ref = plain;
  for (const step of [...steps].reverse()) {
    if (step.sort === 'cipher') ref = ciphered(ref, step, false, primitives);
    else if (step.sort === 'codec') ref = refOfBytes(step.codec.encode(whole(ref), primitives));
    else ref = blocked(ref, step, primitives, spools);
  }
  return ref;
}

/** Unseals bytes that are held in memory anyway, within the budget. */
export function unsealSmall(
  steps: readonly SealStep[],
  stored: Uint8Array,
  context: Evaluation,
  node: RecordNode,
  budget: Budget,
): Uint8Array {
  const resolved = resolveSeal(steps, context, node);
  if (resolved.length === 0) return stored;
  for (const step of resolved)
    if (step.sort !== 'cipher')
      budget.spendBytes((step.sort === 'blocks' ? step.total : step.size) ?? stored.length);
  return collect(unseal(resolved, refOfBytes(stored), context.primitives));
}

function ciphered(
  ref: BytesRef,
  step: ResolvedStep & { sort: 'cipher' },
  decrypt: boolean,
  primitives: Primitives,
): BytesRef {
  const { cipher } = step;
  if (ref.length % cipher.blockLength !== 0)
    throw new FormatError('bad-value', {
      expected: `a multiple of ${cipher.blockLength} bytes for ${cipher.name}`,
      actual: `${ref.length}`,
    });
  return {
    length: ref.length,
    *chunks() {
      const stream = cipher.start(step, decrypt, primitives);
      for (const chunk of ref.chunks()) yield stream.update(chunk);
    },
  };
}

function whole(ref: BytesRef): Uint8Array {
  if (ref.length > MOST_WHOLE_BYTES)
    throw new FormatError('budget', {
      expected: `at most ${MOST_WHOLE_BYTES} bytes in one piece`,
      actual: `${ref.length}`,
      why: 'the codec works on whole payloads',
    });
  return collect(ref);
}

function decoded(ref: BytesRef, step: ResolvedStep & { sort: 'codec' }, primitives: Primitives): BytesRef {
  const { codec, size } = step;
  const limit = Math.min(size ?? ref.length * codec.mostExpansion, MOST_WHOLE_BYTES);
  const decode = (): Uint8Array => {
    const plain = decodePiece(codec, whole(ref), limit, primitives);
    if (size !== undefined && plain.length !== size) throw wrongLength(codec.name, size, plain.length);
    return plain;
  };
  if (size === undefined) return refOfBytes(decode());
  return {
    length: size,
    *chunks() {
      yield decode();
    },
  };
}

function decodePiece(codec: Codec, stored: Uint8Array, limit: number, primitives: Primitives): Uint8Array {
  try {
    return codec.decode(stored, limit, primitives);
  } catch (error) {
    if (error instanceof FormatError) throw error;
    throw new FormatError('codec-failed', {
      why: `${codec.name} says: ${error instanceof Error ? error.message : String(error)}`,
      remedy: 'The bytes are damaged, or the key or script is wrong',
    });
  }
}

function wrongLength(codec: string, expected: number, actual: number): FormatError {
  return new FormatError('codec-failed', {
    expected: `${expected} bytes from ${codec}`,
    actual: `${actual}`,
    remedy: 'The bytes are damaged, or the key or script is wrong',
  });
}

function unblocked(ref: BytesRef, step: ResolvedStep & { sort: 'blocks' }, primitives: Primitives): BytesRef {
  const { plain, total, scalar, little, rawBit, codec } = step;
  const count = Math.ceil(total / plain);
  const tableLength = count * scalar.size;
  return {
    length: total,
    *chunks() {
      if (tableLength > ref.length)
        throw new FormatError('bad-value', {
          expected: `a table of ${count} blocks, ${tableLength} bytes`,
          actual: `${ref.length} stored bytes`,
          why: `the entry claims ${total} plain bytes`,
        });
      const puller = new ChunkPuller(ref);
      const table = puller.take(tableLength).slice();
      const view = new DataView(table.buffer, table.byteOffset, table.length);
      for (let block = 0; block < count; block++) {
        const entry = Number(asInteger(scalar.read(view, block * scalar.size, little)));
        const raw = rawBit > 0 && entry >= rawBit;
        const length = raw ? entry - rawBit : entry;
        const expected = Math.min(plain, total - block * plain);
        const facts = { why: `in block ${block} of ${count}` };
        if (length > puller.left)
          throw new FormatError('truncated', {
            expected: `${length} bytes`,
            actual: `${puller.left} left`,
            ...facts,
          });
        const bytes = puller.take(length);
        const out = raw ? bytes : decodePiece(codec, bytes, expected, primitives);
        if (out.length !== expected) throw wrongLength(codec.name, expected, out.length).with(facts);
        yield out;
      }
      if (puller.left > 0)
        throw new FormatError('bad-value', {
          expected: 'nothing after the last block',
          actual: `${puller.left} bytes`,
        });
    },
  };
}

function blocked(
  ref: BytesRef,
  step: ResolvedStep & { sort: 'blocks' },
  primitives: Primitives,
  spools: Spool[],
): BytesRef {
  const { plain, scalar, little, rawBit, codec } = step;
  const count = Math.ceil(ref.length / plain);
  const table = new Uint8Array(count * scalar.size);
  const view = new DataView(table.buffer);
  const spool = primitives.spool();
  spools.push(spool);
  const puller = new ChunkPuller(ref);
  for (let block = 0; block < count; block++) {
    const bytes = puller.take(Math.min(plain, puller.left));
    const packed = codec.encode(bytes, primitives);
    const raw = rawBit > 0 && packed.length >= bytes.length;
    const out = raw ? bytes : packed;
    spool.write(out);
    scalar.write(view, block * scalar.size, raw ? rawBit + out.length : out.length, little);
  }
  return concatRefs([refOfBytes(table), refOfSpan(spool.source, 0, spool.source.length)]);
}
