import { ciphers } from '../ciphers';
import { codecs } from '../codecs';
import type { Located } from './located';
import { suggest, type ScriptScope } from './scope';
import { scalars } from './scalars';
import type { SealStep } from './types';

/** Reads a list of steps from stored to plain bytes. */
export function parseSeal(at: Located | undefined, scope: ScriptScope): SealStep[] {
  return at?.items().map((item) => readStep(item, scope)) ?? [];
}

function readStep(at: Located, scope: ScriptScope): SealStep {
  const names = [...codecs.names(), ...ciphers.names(), 'blocks'];
  const [first] = at.entries();
  if (!first) return at.fail('a step', 'nothing');
  const [name, settings] = first;
  at.entries([...(names.includes(name) ? [name] : names), 'if']);
  const when = at.get('if');
  const condition = when && scope.expression(when);
  if (name === 'blocks') return readBlocks(settings, condition, scope);
  if (codecs.get(name)) {
    settings.entries(['size']);
    const size = settings.get('size');
    return { sort: 'codec', codec: name, size: size && scope.expression(size), condition };
  }
  settings.entries(['key', 'iv']);
  const iv = settings.get('iv');
  const cipher = ciphers.get(name)!;
  if (!iv && cipher.ivLength > 0) settings.fail(`an iv of ${cipher.ivLength} bytes`, 'none');
  return {
    sort: 'cipher',
    cipher: name,
    key: scope.expression(settings.need('key')),
    iv: iv && scope.expression(iv),
    condition,
  };
}

function readBlocks(at: Located, condition: SealStep['condition'], scope: ScriptScope): SealStep {
  at.entries(['plain', 'total', 'table', 'raw bit', 'codec', 'order']);
  const table = at.get('table')?.text() ?? 'u32';
  const scalar = scalars.get(table);
  if (!scalar || !table.startsWith('u')) return at.need('table').fail('u8, u16, u24, u32 or u64', table);
  const bit = at.get('raw bit')?.scalar() ?? -1;
  if (typeof bit !== 'number' || bit < -1 || bit >= Math.min(8 * scalar.size, 53))
    return at.need('raw bit').fail('the number of a bit in the table', String(bit));
  const codec = at.need('codec');
  if (!codecs.get(codec.text()))
    codec.fail('a codec', `'${codec.text()}'`, suggest(codec.text(), codecs.names()));
  return {
    sort: 'blocks',
    plain: scope.expression(at.need('plain')),
    total: scope.expression(at.need('total')),
    scalar,
    little: (at.get('order')?.text() ?? (scope.little ? 'little' : 'big')) === 'little',
    rawBit: bit < 0 ? 0 : 2 ** bit,
    codec: codec.text(),
    condition,
  };
}
