import { FormatError, collect, refOfBytes, type BytesRef } from '../bytes';
import { ciphers, type Cipher } from '../ciphers';
import { codecs } from '../codecs';
import type { Primitives, Spool } from '../primitives';
import type { Settings, SettingTypes } from '../settings';
import { blocked, unblocked } from './blocks';
import type { Budget } from './budget';
import { flattened, type Evaluation } from './evaluation';
import { ciphered } from './partial-cipher';
import type { RecordNode } from './model';
import type { ResolvedBlocks, ResolvedStep } from './resolved-step';
import type { Compiled, SealStep } from './types';
import { asCount, asInteger, asRef, asText, asTruth, type Value } from './values';
import { decodePiece, MOST_WHOLE_BYTES, whole, wrongLength } from './whole-codec';

export type { ResolvedStep } from './resolved-step';

const MOST_BLOCK_BYTES = 64 * 1024 * 1024;
const MOST_BLOCKS = 1 << 24;

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
  const count = (of: Compiled | undefined): number | undefined => of && asCount(of.run(context, node));
  if (step.sort === 'codec') {
    const codec = codecs.get(step.codec)!;
    const settings = resolveSettings(codec.settings, step.settings, context, node);
    codec.check?.(settings);
    return { sort: 'codec', codec, size: count(step.size), settings };
  }
  if (step.sort === 'cipher') {
    const cipher = ciphers.get(step.cipher)!;
    const partial = {
      skip: count(step.skip),
      first: count(step.first),
      every: step.every && { nth: count(step.every.nth)!, of: count(step.every.of)! },
      keepsTail: step.tail === 'kept',
    };
    if (depth === 'without keys')
      return { sort: 'cipher', cipher, key: NOTHING, iv: undefined, settings: new Map(), ...partial };
    const settings = resolveSettings(cipher.settings, step.settings, context, node);
    const key = step.key ? collect(asRef(step.key.run(context, node))) : NOTHING;
    const iv = step.iv && collect(asRef(step.iv.run(context, node)));
    checkKey(cipher, key, iv);
    return { sort: 'cipher', cipher, key, iv, settings, ...partial };
  }
  return resolveBlocks(step, context, node);
}

const NOTHING = new Uint8Array(0);

function resolveBlocks(
  step: SealStep & { sort: 'blocks' },
  context: Evaluation,
  node: RecordNode | undefined,
): ResolvedBlocks {
  const plain = asCount(step.plain.run(context, node));
  if (plain < 1 || plain > MOST_BLOCK_BYTES)
    throw new FormatError('bad-value', {
      expected: `blocks of 1 to ${MOST_BLOCK_BYTES} bytes`,
      actual: `${plain}`,
    });
  const total = asCount(step.total.run(context, node));
  if (total / plain > MOST_BLOCKS)
    throw new FormatError('budget', {
      expected: `at most ${MOST_BLOCKS} blocks`,
      actual: `${total / plain}`,
    });
  const codec = codecs.get(step.codec)!;
  return {
    sort: 'blocks',
    plain,
    total,
    table: step.table && {
      scalar: step.table.scalar,
      little: step.table.order === 'ruled' ? context.isLittle(node) : step.table.order === 'little',
      each: step.table.each,
    },
    // What is being written makes its own sizes.
    sizes:
      step.sizes && context.original === context
        ? numbers(step.sizes.run(context, node), context)
        : undefined,
    rawBit: step.rawBit,
    rawWhenFull: step.rawWhenFull,
    align: step.align ? Math.max(1, asCount(step.align.run(context, node))) : 1,
    codec,
    settings: resolveSettings(codec.settings, step.settings, context, node),
  };
}

function numbers(value: Value, context: Evaluation): number[] {
  const list = flattened(value, context);
  return Array.from({ length: list.length }, (_, i) => asCount(list.at(i)));
}

function resolveSettings(
  types: SettingTypes | undefined,
  given: ReadonlyMap<string, Compiled>,
  context: Evaluation,
  node: RecordNode | undefined,
): Settings {
  const found = new Map<string, number | string | Uint8Array>();
  for (const [name, type] of Object.entries(types ?? {})) {
    const rule = given.get(name);
    if (!rule) {
      if (type.default !== undefined) found.set(name, type.default);
      continue;
    }
    const value = rule.run(context, node);
    if (type.words) found.set(name, asText(value));
    else found.set(name, value instanceof Uint8Array ? value : Number(asInteger(value)));
  }
  return found;
}

function checkKey(cipher: Cipher, key: Uint8Array, iv: Uint8Array | undefined): void {
  const { keyLengths } = cipher;
  if (!cipher.keyless && (key.length === 0 || (keyLengths.length > 0 && !keyLengths.includes(key.length))))
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
      least = count * (step.table?.scalar.size ?? 0) + Math.floor(least / step.codec.mostExpansion);
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

/** What sealing gives: the stored bytes, and the size of each block where there are blocks. */
export interface Sealed {
  readonly stored: BytesRef;
  readonly blockSizes: readonly number[] | undefined;
}

/** The stored bytes for `plain`: all steps backwards. What has to be kept goes into spools. */
export function seal(
  steps: readonly ResolvedStep[],
  plain: BytesRef,
  primitives: Primitives,
  spools: Spool[],
): Sealed {
  let ref = plain;
  let blockSizes: readonly number[] | undefined;
  for (const step of [...steps].reverse()) {
    if (step.sort === 'cipher') ref = ciphered(ref, step, false, primitives);
    else if (step.sort === 'codec')
      ref = refOfBytes(step.codec.encode(whole(ref), primitives, step.settings));
    else {
      const made = blocked(ref, step, primitives, spools);
      ref = made.stored;
      blockSizes = made.sizes;
    }
  }
  return { stored: ref, blockSizes };
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

function decoded(ref: BytesRef, step: ResolvedStep & { sort: 'codec' }, primitives: Primitives): BytesRef {
  const { codec, size, settings } = step;
  const limit = Math.min(size ?? Math.max(4096, ref.length * codec.mostExpansion), MOST_WHOLE_BYTES);
  const decode = (): Uint8Array => {
    const plain = decodePiece(codec, whole(ref), limit, primitives, settings);
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
