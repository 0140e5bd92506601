import { heardFrames } from '@/media/sound/core/audio/decoded-length';
import { crc, hashes, hashOf } from '../../hashes';
import type { PlainRef } from '../evaluation';
import { asCount, asInteger, asText, canonical, senseless } from '../values';
import { placeFunctions } from './of-places';
import { byteFunctions, numberFunctions, textFunctions } from './of-values';
import { bytesOf, define, type ScriptFunction } from './script-function';

export type { ScriptFunction } from './script-function';

function hashFunction(name: string): ScriptFunction {
  const hash = hashes.get(name)!;
  return define(`${name}(bytes${hash.seeded ? ' [, seed]' : ''})`, hash.about, (context, [of, seed]) => {
    const ref = bytesOf(of, context) as PlainRef;
    const known = seed === undefined ? (ref.known?.get(name) ?? ref.learn?.(name)) : undefined;
    if (known === undefined) context.spendHashed(ref.length);
    const value =
      known ??
      hashOf(hash, ref, context.primitives, seed === undefined ? undefined : BigInt(asInteger(seed)));
    return typeof value === 'bigint' ? canonical(value) : value;
  });
}

/** Any other CRC by its parameters, for formats with one of their own. */
const anyCrc = define(
  "crc(bytes, width, polynomial, start, 'reflected', final)",
  "the CRC of a width of 8, 16 or 32 bits, 'reflected' or 'plain', of these parameters",
  (context, [of, width, polynomial, start, order, final]) => {
    const bits = asCount(width);
    if (bits !== 8 && bits !== 16 && bits !== 32) throw senseless('a width of 8, 16 or 32 bits', `${bits}`);
    const [poly, first, last] = [polynomial, start, final].map((value) => {
      const number = asCount(value);
      if (number >= 2 ** bits) throw senseless(`a number of ${bits} bits`, `${number}`);
      return number;
    }) as [number, number, number];
    const word = asText(order);
    if (word !== 'reflected' && word !== 'plain') throw senseless("'reflected' or 'plain'", word);
    const model = crc({
      name: 'crc',
      about: '',
      width: bits,
      polynomial: poly,
      start: first,
      isReflected: word === 'reflected',
      final: last,
    });
    const ref = bytesOf(of, context);
    context.spendHashed(ref.length);
    return Number(hashOf(model, ref, context.primitives));
  },
);

/** What banks say of the files that they hold. */
const soundFunctions = {
  frames: define(
    'frames(bytes [, otherwise])',
    'how many samples a channel a sound in FLAC or Ogg is heard with; `otherwise` for what is none, or does not say',
    (context, [of, otherwise]) => {
      const found = heardFrames(bytesOf(of, context)) ?? otherwise;
      if (found === undefined) throw senseless('a sound in FLAC or Ogg that says its length', 'other bytes');
      return found;
    },
  ),
};

/** Functions by what they are about, for the reference. */
export const functionGroups: ReadonlyMap<string, Readonly<Record<string, ScriptFunction>>> = new Map([
  ['Lists and places', placeFunctions],
  ['Bytes', byteFunctions],
  ['Numbers', numberFunctions],
  ['Texts', textFunctions],
  ['Sounds', soundFunctions],
  [
    'Hashes and checks',
    { ...Object.fromEntries(hashes.names().map((name) => [name, hashFunction(name)])), crc: anyCrc },
  ],
]);

/** Every function that an expression may call, but `if`, `was`, `where` and `first`, which look at their arguments themselves. */
export const functions: ReadonlyMap<string, ScriptFunction> = new Map(
  [...functionGroups.values()].flatMap((table) => Object.entries(table)),
);
