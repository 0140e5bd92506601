import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import { nodePrimitives } from '@/platform/node/primitives';
import { keystream } from './keystream';

interface Recurrence {
  readonly seed: number;
  readonly times: number;
  readonly plus: number;
  readonly bits: number;
  readonly shift: number;
  readonly take: 'before' | 'after';
}

/** The stream over zeros, step by step in numbers without bounds. */
function known({ seed, times, plus, bits, shift, take }: Recurrence, length: number): Uint8Array {
  const all = (1n << BigInt(bits)) - 1n;
  let state = BigInt(seed) & all;
  return Uint8Array.from({ length }, () => {
    const before = state;
    state = (state * BigInt(times) + BigInt(plus)) & all;
    return Number(((take === 'before' ? before : state) >> BigInt(shift)) & 255n);
  });
}

const started = (one: Recurrence) => {
  const { take, ...numbers } = one;
  const settings = new Map<string, number | string>([...Object.entries(numbers), ['take', take]]);
  return keystream.start({ key: new Uint8Array(0), settings }, true, nodePrimitives);
};

const whole = fc.integer({ min: 0, max: 0xffffffff });
const recurrence = fc.record<Recurrence>({
  ...{ seed: whole, times: whole, plus: whole },
  bits: fc.integer({ min: 8, max: 32 }),
  shift: fc.integer({ min: 0, max: 24 }),
  take: fc.constantFrom('before', 'after'),
});

describe('a key stream by a recurrence', () => {
  test('is the same step by step and sixteen at once, however it is cut', () => {
    fc.assert(
      fc.property(
        recurrence,
        fc.array(fc.oneof(fc.integer({ min: 0, max: 40 }), fc.integer({ min: 500, max: 1500 })), {
          maxLength: 6,
        }),
        (one, cuts) => {
          const stream = started(one);
          const made = cuts.map((length) => stream.update(new Uint8Array(length)));
          const total = cuts.reduce((sum, length) => sum + length, 0);
          expect(Buffer.concat(made).equals(Buffer.from(known(one, total)))).toBe(true);
        },
      ),
      { numRuns: 150 },
    );
  });

  test.each(['before', 'after'] as const)('is so over more than the kernel takes at once (%s)', (take) => {
    const one: Recurrence = { seed: 7, times: 0x2c1b3c6d, plus: 0x297a2d39, bits: 32, shift: 16, take };
    const length = 300_003;
    expect(
      Buffer.from(started(one).update(new Uint8Array(length))).equals(Buffer.from(known(one, length))),
    ).toBe(true);
  });

  test('leaves what it was given as it is', () => {
    const given = new Uint8Array(2000).fill(9);
    const one: Recurrence = { seed: 7, times: 5, plus: 3, bits: 32, shift: 0, take: 'after' };
    expect(started(one).update(given)).not.toEqual(given);
    expect(given.every((byte) => byte === 9)).toBe(true);
  });
});

test('the kernel that is shipped is the one that its source gives', () => {
  const code = `import { compileKernel } from './kernels/build.mjs'; process.stdout.write(await compileKernel('keystream'));`;
  const compiled = execFileSync(process.execPath, ['--input-type=module', '-e', code], {
    encoding: 'utf8',
    env: { ...process.env, NODE_OPTIONS: '' },
  });
  expect(compiled).toBe(fs.readFileSync('src/core/ciphers/keystream-kernel-bytes.ts', 'utf8'));
}, 60_000);
