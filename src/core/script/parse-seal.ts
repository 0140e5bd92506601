import { ciphers } from '../ciphers';
import { codecs } from '../codecs';
import type { SettingTypes } from '../settings';
import type { Located } from './located';
import { oneOf, optional, suggest, type ScriptScope } from './scope';
import { scalars } from './scalars';
import type { ByteOrder, Compiled, SealStep } from './types';

/** Reads a list of steps from stored to plain bytes. */
export function parseSeal(at: Located | undefined, scope: ScriptScope): SealStep[] {
  return at?.items().map((item) => readStep(item, scope)) ?? [];
}

function readStep(at: Located, scope: ScriptScope): SealStep {
  const names = [...codecs.names(), ...ciphers.names(), 'blocks'];
  if (!at.isMapping()) return at.fail("a step such as '- deflate: { size: plainSize }'", 'something else');
  const [first] = at.entries();
  if (!first) return at.fail('a step', 'nothing');
  const [name, settings] = first;
  at.entries([...(names.includes(name) ? [name] : names), 'if']);
  const condition = optional(at.get('if'), scope);
  if (name === 'blocks') return readBlocks(settings, condition, scope);
  const codec = codecs.get(name);
  return codec
    ? readCodec(name, codec.settings ?? {}, settings, condition, scope)
    : readCipher(name, settings, condition, scope);
}

function readCodec(
  name: string,
  types: SettingTypes,
  at: Located,
  condition: SealStep['condition'],
  scope: ScriptScope,
): SealStep {
  if (at.isMapping()) at.entries(['size', ...Object.keys(types)]);
  else at.entries([]);
  return {
    sort: 'codec',
    codec: name,
    size: optional(at.get('size'), scope),
    settings: readSettings(types, at, scope),
    condition,
  };
}

/** Settings that are words are taken as they stand, all others are expressions. */
function readSettings(types: SettingTypes, at: Located, scope: ScriptScope): Map<string, Compiled> {
  const found = new Map<string, Compiled>();
  for (const [name, type] of Object.entries(types)) {
    const given = at.get(name);
    if (given && type.words) {
      oneOf(given, type.words, type.words[0]!);
      found.set(name, scope.expression(given, `'${given.text()}'`));
    } else if (given) found.set(name, scope.expression(given));
    else if (type.default === undefined) at.fail(`'${name}', ${type.about}`, 'nothing');
  }
  return found;
}

function readCipher(
  name: string,
  at: Located,
  condition: SealStep['condition'],
  scope: ScriptScope,
): SealStep {
  const cipher = ciphers.get(name)!;
  const types = cipher.settings ?? {};
  at.entries(['key', 'iv', 'skip', 'first', 'every', 'tail', ...Object.keys(types)]);
  const iv = at.get('iv');
  if (!iv && cipher.ivLength > 0) at.fail(`an iv of ${cipher.ivLength} bytes`, 'none');
  if (!cipher.keyless) at.need('key');
  const every = at.get('every');
  every?.entries(['nth', 'of']);
  return {
    sort: 'cipher',
    cipher: name,
    key: optional(at.get('key'), scope),
    iv: optional(iv, scope),
    settings: readSettings(types, at, scope),
    skip: optional(at.get('skip'), scope),
    first: optional(at.get('first'), scope),
    every: every && { nth: scope.expression(every.need('nth')), of: scope.expression(every.need('of')) },
    tail: oneOf(at.get('tail'), ['refused', 'kept'], 'refused'),
    condition,
  };
}

const BLOCK_WORDS = ['plain', 'total', 'table', 'each', 'sizes', 'raw bit', 'raw', 'codec', 'order', 'align'];

function readBlocks(at: Located, condition: SealStep['condition'], scope: ScriptScope): SealStep {
  const codec = at.need('codec').text();
  const types = codecs.get(codec)?.settings ?? {};
  if (!codecs.get(codec)) at.need('codec').fail('a codec', `'${codec}'`, suggest(codec, codecs.names()));
  at.entries([...BLOCK_WORDS, ...Object.keys(types)]);
  const sizes = at.get('sizes');
  const each = at.get('each');
  const word = (each ?? at.get('table'))?.text() ?? 'u32';
  const scalar = scalars.get(word);
  if (!scalar || !word.startsWith('u'))
    return (each ?? at.need('table')).fail('u8, u16, u24, u32 or u64', word);
  const bit = at.get('raw bit')?.scalar() ?? -1;
  if (typeof bit !== 'number' || bit < -1 || bit >= Math.min(8 * scalar.size, 53))
    return at.need('raw bit').fail('the number of a bit in the table', String(bit));
  const order: ByteOrder = oneOf(at.get('order'), ['little', 'big', 'ruled'], scope.order);
  return {
    sort: 'blocks',
    plain: scope.expression(at.need('plain')),
    total: scope.expression(at.need('total')),
    table: sizes ? undefined : { scalar, order, each: each !== undefined },
    sizes: optional(sizes, scope),
    rawBit: bit < 0 ? 0 : 2 ** bit,
    rawWhenFull: oneOf(at.get('raw'), ['never', 'when full'], 'never') === 'when full',
    align: optional(at.get('align'), scope),
    codec,
    settings: readSettings(types, at, scope),
    condition,
  };
}
