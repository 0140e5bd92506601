import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { sharpPixels } from './with-sharp';
import { TexelGate } from './texel-gate';

test('never more texels at once than are let in, each gets its turn, in order, also after failures', () =>
  fc.assert(
    fc.asyncProperty(
      fc.array(fc.nat(30), { maxLength: 30 }),
      fc.integer({ min: 1, max: 20 }),
      async (sizes, most) => {
        const gate = new TexelGate(most);
        let [used, highest] = [0, 0];
        const begun: number[] = [];
        const results = await Promise.allSettled(
          sizes.map((texels, i) =>
            gate.run(texels, async () => {
              begun.push(i);
              const share = Math.min(texels, most);
              highest = Math.max(highest, (used += share));
              await new Promise(setImmediate);
              used -= share;
              if (i % 3 === 0) throw new Error(String(i));
              return i;
            }),
          ),
        );
        expect(highest).toBeLessThanOrEqual(most);
        expect(begun).toEqual(sizes.map((_, i) => i));
        expect(
          results.map((one) =>
            one.status === 'fulfilled' ? one.value : Number((one.reason as Error).message),
          ),
        ).toEqual(begun);
      },
    ),
    { numRuns: 50 },
  ));

const texts = {
  drawing:
    '<svg xmlns="http://www.w3.org/2000/svg" width="9000" height="9000"><rect width="9000" height="9000"/></svg>',
  'drawing with a head':
    '<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" width="4" height="4"/>',
  document: '%PDF-1.4\n1 0 obj<</Type/Catalog>>endobj\ntrailer<</Root 1 0 R>>',
  numbers: 'P3\n2 1\n255\n255 0 0 0 255 0\n',
  matrix: '2 1\n1 2\n',
};

test.each(Object.entries(texts))('a %s is no picture that is read here', async (_what, text) => {
  await expect(sharpPixels(new TextEncoder().encode(text), 'harmless.png')).rejects.toThrow('harmless.png');
});
