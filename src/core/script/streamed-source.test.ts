import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  collect,
  concatRefs,
  FormatError,
  memorySource,
  refOfBytes,
  refOfSpan,
  type ByteSource,
  type BytesRef,
} from '../bytes';
import { streamedSource } from './streamed-source';

const LENGTH = 3 << 20;
const bytes = Uint8Array.from({ length: LENGTH }, (_, i) => (Math.imul(i, 2654435761) >>> 11) & 255);

/** The bytes in chunks of these lengths over and over, with how often they were begun. */
function counted(lengths: readonly number[]): { ref: BytesRef; begun: () => number } {
  let begun = 0;
  return {
    ref: {
      length: LENGTH,
      *chunks() {
        begun++;
        // As of a file, a chunk is good until the next one only, or until somebody else reads.
        const buffer = new Uint8Array(Math.max(...lengths));
        for (let at = 0, i = 0; at < LENGTH; i++) {
          const length = Math.min(lengths[i % lengths.length]!, LENGTH - at);
          buffer.set(bytes.subarray(at, at + length));
          yield buffer.subarray(0, length);
          buffer.fill(0);
          at += length;
        }
      },
    },
    begun: () => begun,
  };
}

function streamed(lengths: readonly number[] = [1 << 20]): {
  source: ByteSource;
  begun: () => number;
  made: () => number;
} {
  const { ref, begun } = counted(lengths);
  let made = 0;
  const source = streamedSource(ref, 'streamed', () => {
    made++;
    return memorySource(collect(ref));
  });
  return { source, begun, made: () => made };
}

test('read from the beginning to the end after a look at it, all comes once and nobody holds it', () => {
  const { source, begun, made } = streamed([1 << 20, 17, 0, 99_999]);
  expect(source.read(0, 12)).toEqual(bytes.subarray(0, 12));
  expect(source.read(40, 500)).toEqual(bytes.subarray(40, 540));
  expect(Buffer.compare(collect(refOfSpan(source, 0, LENGTH)), bytes)).toBe(0);
  expect(source.read(3, 9)).toEqual(bytes.subarray(3, 12));
  expect([begun(), made()]).toEqual([2, 0]);
});

test('whoever goes back, or ahead by far, has all of them made once', () => {
  const { source, made } = streamed();
  expect(source.read(1 << 20, 10)).toEqual(bytes.subarray(1 << 20, (1 << 20) + 10));
  expect(made()).toBe(0);
  expect(source.read(100_000, 10)).toEqual(bytes.subarray(100_000, 100_010));
  expect(source.read(LENGTH - 10, 10)).toEqual(bytes.subarray(LENGTH - 10));
  expect(made()).toBe(1);
  const far = streamed();
  expect(far.source.read(LENGTH - 10, 10)).toEqual(bytes.subarray(LENGTH - 10));
  expect(far.made()).toBe(1);
});

test('whatever is read in whatever order is what is there', () => {
  const place = fc.tuple(fc.integer({ min: 0, max: LENGTH }), fc.integer({ min: 0, max: 300_000 }));
  const lengths = fc.array(fc.integer({ min: 1, max: 400_000 }), { minLength: 1, maxLength: 4 });
  fc.assert(
    fc.property(fc.array(place, { maxLength: 12 }), lengths, (places, chunks) => {
      const { source } = streamed(chunks);
      for (const [offset, wanted] of places) {
        const length = Math.min(wanted, LENGTH - offset);
        const read = source.read(offset, length);
        expect(Buffer.compare(read, bytes.subarray(offset, offset + length))).toBe(0);
      }
    }),
    { numRuns: 40 },
  );
});

test('where the bytes fail on the way, each who reads is told so, and not of something else', () => {
  const broken: BytesRef = {
    length: LENGTH,
    *chunks() {
      yield bytes.slice(0, 1 << 20);
      throw new FormatError('changed-meanwhile', {});
    },
  };
  const source = streamedSource(broken, 'broken', () => memorySource(collect(broken)));
  for (let i = 0; i < 3; i++) expect(() => source.read((1 << 20) - 5, 10)).toThrow(FormatError);
  expect(source.read(0, 1 << 20)).toHaveLength(1 << 20);
});

test('what is outside is refused, and nothing is there where nothing is', () => {
  const { source } = streamed();
  expect(() => source.read(LENGTH, 1)).toThrow('streamed');
  expect(source.read(LENGTH, 0)).toHaveLength(0);
  expect(
    streamedSource(concatRefs([refOfBytes(new Uint8Array(0))]), 'empty', () =>
      memorySource(new Uint8Array(0)),
    ).read(0, 0),
  ).toHaveLength(0);
});
