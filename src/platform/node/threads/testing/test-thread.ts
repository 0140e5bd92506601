import { FormatError } from '@/core/bytes';
import { UserError } from '../../../user-error';
import { serveRequests } from '../serve';

/** What the tests of the pool ask of its threads. */
export type TestRequests = {
  readonly double: { readonly asks: number; readonly gives: number };
  readonly turned: { readonly asks: Uint8Array; readonly gives: Uint8Array };
  readonly broken: { readonly asks: 'format' | 'user' | 'other'; readonly gives: never };
  readonly later: { readonly asks: number; readonly gives: number };
  readonly hang: { readonly asks: null; readonly gives: never };
  readonly end: { readonly asks: null; readonly gives: never };
};

serveRequests<TestRequests>(
  {
    double: (asked) => 2 * asked,
    turned: (asked) => Uint8Array.from(asked).reverse(),
    broken(asked) {
      if (asked === 'format') throw new FormatError('truncated', { file: 'a.bin', byteOffset: 7 });
      if (asked === 'user') throw new UserError(409, 'Not now.');
      throw new Error('odd');
    },
    later: (asked) => new Promise((resolve) => setTimeout(() => resolve(asked), 20)),
    hang() {
      for (;;);
    },
    end: () => process.exit(1),
  },
  (gives) => (gives instanceof Uint8Array ? [gives.buffer as ArrayBuffer] : []),
);
