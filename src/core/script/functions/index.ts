import { hashes, hashOf } from '../../hashes';
import type { PlainRef } from '../evaluation';
import { asInteger, canonical } from '../values';
import { placeFunctions } from './of-places';
import { byteFunctions, numberFunctions, textFunctions } from './of-values';
import { bytesOf, define, type ScriptFunction } from './script-function';

export type { ScriptFunction } from './script-function';

function hashFunction(name: string): ScriptFunction {
  const hash = hashes.get(name)!;
  return define(`${name}(bytes${hash.seeded ? ' [, seed]' : ''})`, hash.about, (context, [of, seed]) => {
    const ref = bytesOf(of, context) as PlainRef;
    const known = seed === undefined ? ref.known?.get(name) : undefined;
    const value =
      known ??
      hashOf(hash, ref, context.primitives, seed === undefined ? undefined : BigInt(asInteger(seed)));
    return typeof value === 'bigint' ? canonical(value) : value;
  });
}

/** Functions by what they are about, for the reference. */
export const functionGroups: ReadonlyMap<string, Readonly<Record<string, ScriptFunction>>> = new Map([
  ['Lists and places', placeFunctions],
  ['Bytes', byteFunctions],
  ['Numbers', numberFunctions],
  ['Texts', textFunctions],
  ['Hashes and checks', Object.fromEntries(hashes.names().map((name) => [name, hashFunction(name)]))],
]);

/** Every function that an expression may call, but `if`, `was`, `where` and `first`, which look at their arguments themselves. */
export const functions: ReadonlyMap<string, ScriptFunction> = new Map(
  [...functionGroups.values()].flatMap((table) => Object.entries(table)),
);
