import { openArchive, type Archive, type OpenOptions } from '../archive';
import {
  collect,
  concatRefs,
  FormatError,
  refOfBytes,
  refOfSpan,
  sliceOf,
  type BytesRef,
  type ByteSource,
} from '../bytes';
import {
  asRef,
  asTruth,
  Budget,
  resolveSeal,
  sameValue,
  unsealSmall,
  unseal,
  type FieldType,
  type Placed,
  type ReadEvaluation,
  type RecordNode,
  type RegionNode,
  type ResolvedStep,
  type Script,
  type SealStep,
  type Value,
} from '../script';

/** Tells whether a key opens an archive. */
export interface KeyProbe {
  /** Lengths in bytes that keys of the script may have. */
  readonly lengths: readonly number[];
  /** What a wrong key fails at, in the script's terms, and the byte that it is at. */
  readonly where: string;
  readonly byteOffset: number | undefined;
  /** A first look, as quick as can be: false for all but one key in thousands of millions. */
  passes(key: Uint8Array): boolean;
  /** Opens the whole archive; the number of its entries, or what is wrong. */
  opens(key: Uint8Array): number | FormatError;
}

/** Where a script does not say how long its keys are. */
const USUAL_LENGTHS = [16, 32];
/** Payloads that are decoded for a look are at most so long. */
const MOST_LOOKED_AT = 1 << 20;

/**
 * Makes a probe of a locked archive: it is opened once with a key that is none, and the check that this fails is what
 * candidates are held against. Throws what keeps the archive from being opened even so far, and FormatError `bad-value`
 * where no key is needed, or where nothing would tell a right key from a wrong one.
 */
export function makeKeyProbe(script: Script, source: ByteSource, options: OpenOptions): KeyProbe {
  const lengths = [...script.keys.values()].flatMap(({ length }) =>
    length === undefined ? USUAL_LENGTHS : [length],
  );
  const keysOf = (key: Uint8Array): Map<string, Uint8Array> =>
    new Map([...script.keys.keys()].map((name) => [name, key]));
  const opens = (key: Uint8Array): number | FormatError => {
    try {
      const archive = openArchive(script, source, { ...options, keys: keysOf(key), budget: new Budget() });
      try {
        return isSealedRight(archive) ?? archive.entries.length;
      } finally {
        archive.discard();
      }
    } catch (error) {
      if (error instanceof FormatError) return error;
      throw error;
    }
  };
  refuseOpen(script, source, options);
  let context: ReadEvaluation | undefined;
  const noKey = new Uint8Array(lengths[0] ?? 16).map((_, i) => (i * 97 + 13) & 255);
  const common = { lengths: [...new Set(lengths)].sort((a, b) => b - a), opens };
  let opened: Archive;
  try {
    opened = openArchive(script, source, {
      ...options,
      keys: keysOf(noKey),
      onReading: (reading) => void (context = reading),
    });
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    const failed = context?.failedCheck;
    const { byteOffset, fieldPath = 'the archive' } = error.facts;
    if (context && failed)
      return {
        ...common,
        where: fieldPath,
        byteOffset,
        passes: checkOf(context, failed.node, failed.field),
      };
    if (!WRONG_KEY.has(error.code)) throw error;
    // Nothing says where a key is told, so each candidate has to open all of it.
    return { ...common, where: fieldPath, byteOffset, passes: (key) => typeof opens(key) === 'number' };
  }
  return probeOfPayload(opened, context!, common);
}

/** What a wrong key may end in where no check proves it. */
const WRONG_KEY = new Set(['key-wrong', 'bad-value', 'codec-failed', 'derived-mismatch', 'fixed-mismatch']);

/** An archive that opens without a key has none to be found. */
function refuseOpen(script: Script, source: ByteSource, options: OpenOptions): void {
  if (script.keys.size === 0)
    throw new FormatError('bad-value', {
      expected: 'a script with keys',
      actual: `'${script.title}', which has none`,
    });
  try {
    const archive = openArchive(script, source, { ...options, keys: new Map() });
    const sealed = archive.entries.some((entry) => needsKey(archive, entry.index));
    archive.discard();
    if (!sealed)
      throw new FormatError('bad-value', {
        expected: 'a locked archive',
        actual: `${source.name}, which needs no key`,
      });
  } catch (error) {
    if (!(error instanceof FormatError) || error.code !== 'key-missing') throw error;
  }
}

function needsKey(archive: Archive, index: number): boolean {
  try {
    archive.steps(archive.entries[index]!);
    return false;
  } catch (error) {
    if (error instanceof FormatError) return error.code === 'key-missing';
    throw error;
  }
}

/** The evaluation of an archive as it would be with another key: nothing that was worked out before is believed. */
function withKey(context: ReadEvaluation): { context: ReadEvaluation; use(key: Uint8Array): void } {
  let current: Uint8Array = new Uint8Array(0);
  let asked = 0;
  const known = new Map<RegionNode, { stored: Uint8Array; cipher: PlainCipher | undefined }>();
  const endless = new Budget({
    nodes: Number.MAX_SAFE_INTEGER,
    bytes: Number.MAX_SAFE_INTEGER,
    steps: Number.MAX_SAFE_INTEGER,
  });
  const probe = Object.create(context) as ReadEvaluation;
  probe.key = () => {
    asked++;
    return current;
  };
  probe.spend = () => undefined;
  probe.field = (node, index) => {
    const field = node.type.fields[index];
    return field?.role.sort === 'computed' ? field.role.from.run(probe, node) : context.field(node, index);
  };
  probe.plain = (thing) => {
    if (thing.sort !== 'region' || thing.field.region!.seal.length === 0) return context.plain(thing);
    const { owner, field } = thing;
    const { seal } = field.region!;
    let region = known.get(thing);
    if (!region) {
      const stored = thing.space.source.read(thing.offset, thing.storedLength).slice();
      region = { stored, cipher: plainCipher(seal, stored, probe, owner, () => asked) };
      known.set(thing, region);
    }
    const { stored, cipher } = region;
    return refOfBytes(
      cipher ? deciphered(cipher, stored, probe, owner) : unsealSmall(seal, stored, probe, owner, endless),
    );
  };
  probe.span = (from, length, file = 0) => {
    const inside = context.files.all[file];
    const rule = inside?.type?.from;
    if (!inside?.holders || rule?.sort !== 'inside' || rule.seal.length === 0)
      return context.span(from, length, file);
    const steps = resolveSeal(rule.seal, probe, rule.inPieces ? undefined : inside.holders[0]!.node);
    const stored = concatRefs(
      inside.holders.map(({ node, field }) =>
        refOfSpan(node.space.source, node.offset + node.fieldStart(field), node.fieldLength(field)),
      ),
    );
    // Of what is only masked byte by byte the beginning is enough.
    const wanted = steps.every(isByteWise) ? Math.min(stored.length, from + length) : stored.length;
    return sliceOf(unseal(steps, sliceOf(stored, 0, wanted), context.primitives), from, length);
  };
  return { context: probe, use: (key) => void (current = key) };
}

/** A cipher that needs nothing but what comes before a byte. */
const isByteWise = (step: ResolvedStep): boolean =>
  step.sort === 'cipher' &&
  step.cipher.blockLength === 1 &&
  step.skip === undefined &&
  step.first === undefined &&
  !step.every;

type ResolvedCipher = ResolvedStep & { sort: 'cipher' };

/** A seal that is one cipher over everything, with all of it settled but the key. */
interface PlainCipher {
  readonly cipher: ResolvedCipher['cipher'];
  readonly settings: ResolvedCipher['settings'];
  readonly iv: Uint8Array | undefined;
  readonly keyRule: NonNullable<(SealStep & { sort: 'cipher' })['key']>;
}

/**
 * The commonest seal of all is settled once for all candidates, which takes half of their time away. Undefined where more
 * than the key hangs on the key: that is told by whether it is asked for while the rest is worked out.
 */
function plainCipher(
  steps: readonly SealStep[],
  stored: Uint8Array,
  context: ReadEvaluation,
  node: RecordNode,
  asked: () => number,
): PlainCipher | undefined {
  const before = asked();
  const active = steps.filter(({ condition }) => !condition || asTruth(condition.run(context, node)));
  const [step] = active;
  if (active.length !== 1 || step?.sort !== 'cipher' || !step.key || step.settings.size > 0) return undefined;
  step.iv?.run(context, node);
  if (asked() !== before) return undefined;
  const resolved = resolveSeal(active, context, node)[0] as ResolvedCipher;
  const { cipher, iv, settings, skip, first, every, keepsTail } = resolved;
  const isWhole = skip === undefined && first === undefined && !every && !keepsTail;
  return isWhole && stored.length % cipher.blockLength === 0
    ? { cipher, iv, settings, keyRule: step.key }
    : undefined;
}

function deciphered(
  { cipher, iv, settings, keyRule }: PlainCipher,
  stored: Uint8Array,
  context: ReadEvaluation,
  node: RecordNode,
): Uint8Array {
  const key = collect(asRef(keyRule.run(context, node)));
  if (cipher.keyLengths.length > 0 && !cipher.keyLengths.includes(key.length))
    throw new FormatError('key-wrong', {
      expected: `${cipher.keyLengths.join(' or ')} bytes`,
      actual: `${key.length}`,
    });
  return cipher.start({ key, iv, settings }, true, context.primitives, stored.length).update(stored);
}

function checkOf(context: ReadEvaluation, node: RecordNode, field: FieldType): (key: Uint8Array) => boolean {
  const { role } = field;
  const rule = role.sort === 'derived' ? role.from : role.sort === 'computed' ? role.fixed : undefined;
  const probe = withKey(context);
  return (key) => {
    probe.use(key);
    try {
      const expected = rule!.run(probe.context, node);
      const actual =
        role.sort === 'computed' ? probe.context.field(node, field.index) : node.get(field.index);
      return sameValue(actual, expected);
    } catch (error) {
      if (error instanceof FormatError) return false;
      throw error;
    }
  };
}

/** Where tables are open and payloads are not, the smallest payload that something is checked over tells. */
function probeOfPayload(
  archive: Archive,
  context: ReadEvaluation,
  common: Pick<KeyProbe, 'lengths' | 'opens'>,
): KeyProbe {
  const entry = archive.entries
    .filter(({ row, storedSize }) => storedSize > 0 && storedSize <= MOST_LOOKED_AT && isTold(row))
    .sort((a, b) => a.storedSize - b.storedSize)[0];
  if (!entry)
    throw new FormatError('bad-value', {
      expected: 'something in the archive that a wrong key makes false',
      actual: 'nothing that the script checks',
      remedy: 'A checksum over plain bytes, or a compressed payload, would tell a right key',
    });
  const stored = archive.stored(entry);
  const probe = withKey(context);
  const passes = (key: Uint8Array): boolean => {
    probe.use(key);
    try {
      const steps = resolveSeal(entry.group.seal, probe.context, entry.row);
      return holds(probe.context, entry.row, unseal(steps, stored, archive.context.primitives));
    } catch {
      // Junk breaks a decoder in ways of its own.
      return false;
    }
  };
  return { ...common, where: entry.path, byteOffset: entry.offset, passes };
}

const deepFields = ({ type }: RecordNode): readonly FieldType[] =>
  type.fields.filter(({ role }) => role.sort === 'derived' && role.deep);

const isTold = (row: RecordNode): boolean => deepFields(row).length > 0;

function holds(context: ReadEvaluation, row: RecordNode, plain: BytesRef): boolean {
  const seen = Object.create(context) as ReadEvaluation;
  seen.plain = (thing: Placed & { sort: 'region' | 'payload' }) =>
    thing.sort === 'payload' ? plain : context.plain(thing);
  return deepFields(row).every((field) => {
    const { role } = field;
    return role.sort === 'derived' && sameValue(row.get(field.index) as Value, role.from.run(seen, row));
  });
}

/** Undefined where the smallest sealed payload reads; tables alone do not prove a key that they do not need. */
function isSealedRight(archive: Archive): FormatError | undefined {
  const entry = [...archive.entries]
    .filter(
      ({ group, storedSize }) => group.seal.length > 0 && storedSize > 0 && storedSize <= MOST_LOOKED_AT,
    )
    .sort((a, b) => a.storedSize - b.storedSize)[0];
  if (!entry) return undefined;
  try {
    for (const chunk of archive.plain(entry).chunks()) void chunk;
    return undefined;
  } catch (error) {
    if (error instanceof FormatError) return error;
    throw error;
  }
}
