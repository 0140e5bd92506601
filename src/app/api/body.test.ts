import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readText, wholeTexts } from './body';

const requestOf = (pieces: readonly Uint8Array[], onPull: () => void = () => undefined): Request => {
  const left = [...pieces];
  return new Request('http://127.0.0.1/', {
    method: 'POST',
    duplex: 'half',
    body: new ReadableStream<Uint8Array>(
      {
        pull(controller) {
          onPull();
          const next = left.shift();
          if (next) controller.enqueue(next);
          else controller.close();
        },
      },
      { highWaterMark: 0 },
    ),
  } as RequestInit);
};

describe('the text of a request', () => {
  test('comes together from pieces that cut characters', async () => {
    const bytes = new TextEncoder().encode('Odd Märren € 𝄞');
    expect(await readText(requestOf([...bytes].map((byte) => Uint8Array.of(byte))), 100)).toBe(
      'Odd Märren € 𝄞',
    );
    expect(await readText(new Request('http://127.0.0.1/', { method: 'POST' }), 0)).toBe('');
  });

  test('is given up while it comes', async () => {
    let pulls = 0;
    const pieces = Array.from({ length: 1000 }, () => new Uint8Array(1000));
    await expect(
      readText(
        requestOf(pieces, () => pulls++),
        4500,
      ),
    ).rejects.toThrow('larger than the 4500 bytes');
    expect(pulls).toBeLessThan(8);
  });

  test('is not begun when it is announced as too large', async () => {
    const request = new Request('http://127.0.0.1/', {
      method: 'POST',
      body: 'x',
      headers: { 'content-length': '9' },
    });
    await expect(readText(request, 8)).rejects.toThrow('larger than the 8 bytes');
  });
});

describe('texts that can be kept', () => {
  test.each([
    [{ a: ['x', { b: 'y\0' }] }, 'a.1.b: the text holds the character NUL at 1'],
    [{ 'k\0': 1 }, 'request: the text holds the character NUL'],
    ['\udc00', 'request: the text holds half of a character'],
  ])('%j is refused', (value: unknown, message) => expect(() => wholeTexts(value)).toThrow(message));

  test('everything else is given back as it is', () =>
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        const text = JSON.stringify(value);
        fc.pre(!text.includes('\\u0000') && !/\\ud[89a-f]/.test(text));
        expect(wholeTexts(value)).toBe(value);
      }),
    ));

  test('nor does depth hurt', () => {
    let deep: unknown = 'x';
    for (let i = 0; i < 100_000; i++) deep = [deep];
    expect(wholeTexts(deep)).toBe(deep);
  });
});
