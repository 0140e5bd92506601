// Makes JavaScript of TypeScript for the unit tests, and takes what the language brings along into each module.
//
// Jest runs modules in a context of their own, where each use of a global name is a call out of compiled code: a loop with Math in it runs
// fifty times as slowly there as it does for users. A name that the module itself declares has no such cost.
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import { createTransformer } from '@swc/jest';

const NAMES = [
  ...[
    'Array',
    'ArrayBuffer',
    'Atomics',
    'BigInt',
    'BigInt64Array',
    'BigUint64Array',
    'Boolean',
    'Buffer',
    'DataView',
  ],
  ...[
    'Error',
    'Float32Array',
    'Float64Array',
    'Infinity',
    'Int16Array',
    'Int32Array',
    'Int8Array',
    'JSON',
    'Map',
    'Math',
  ],
  ...[
    'NaN',
    'Number',
    'Object',
    'Promise',
    'RangeError',
    'Reflect',
    'RegExp',
    'Set',
    'SharedArrayBuffer',
    'String',
    'Symbol',
  ],
  ...[
    'TextDecoder',
    'TextEncoder',
    'TypeError',
    'Uint16Array',
    'Uint32Array',
    'Uint8Array',
    'Uint8ClampedArray',
    'WeakMap',
  ],
  ...['parseFloat', 'parseInt'],
];

/** Names of NAMES that a module uses and does not declare itself. */
function usedIn(code) {
  const imported = [...code.matchAll(/^import\s[^;]*?\sfrom\s/gm)].map(([text]) => text).join(' ');
  return NAMES.filter(
    (name) =>
      new RegExp(`(?<![.\\w$])${name}(?![\\w$])`).test(code) &&
      !new RegExp(`(?:class|function|const|let|var)\\s+${name}(?![\\w$])`).test(code) &&
      !new RegExp(`(?:const|let|var)\\s*\\{[^}]*(?<![\\w$])${name}(?![\\w$])`).test(code) &&
      !new RegExp(`(?<![\\w$])${name}(?![\\w$])`).test(imported),
  );
}

/** On the first line, so that errors keep their line numbers; behind what has to come first. */
function withNames(code) {
  const used = usedIn(code);
  if (used.length === 0) return code;
  const [directive = ''] = /^\s*(?:'use strict'|"use strict");?/.exec(code) ?? [];
  return `${directive}const { ${used.join(', ')} } = globalThis; ${code.slice(directive.length)}`;
}

const own = fs.readFileSync(new URL(import.meta.url));

export default {
  createTransformer(options) {
    const inner = createTransformer(options);
    const isTyped = (file) => file.endsWith('.ts');
    const named = (made) => ({ ...made, code: withNames(made.code) });
    return {
      canInstrument: false,
      // What a package brings is JavaScript already.
      process: (code, file, ...rest) =>
        isTyped(file) ? named(inner.process(code, file, ...rest)) : { code: withNames(code) },
      processAsync: async (code, file, ...rest) =>
        isTyped(file) ? named(await inner.processAsync(code, file, ...rest)) : { code: withNames(code) },
      getCacheKey: (...args) =>
        createHash('sha256')
          .update(own)
          .update(inner.getCacheKey(...args))
          .digest('hex'),
    };
  },
};
