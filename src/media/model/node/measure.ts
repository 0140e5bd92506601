import { collect, FormatError, memorySource, type BytesRef } from '@/core/bytes';
import { FOUND, type Measured } from '@/core/catalogue';
import type { Measuring } from '@/media/medium';
import { inMemory } from '@/platform/node/convert/converter';
import { modelHead } from './head';

/** What the head of a model tells, as JSON, so that it goes the way of everything that entries are made into. */
const told = inMemory('.json', async (bytes, name, { mediaScripts }) => {
  const head = await modelHead(
    { name, source: memorySource(bytes, name), describedKind: undefined, first: bytes, held: () => bytes },
    mediaScripts,
  );
  if (head?.sort !== 'model')
    throw new FormatError('not-recognised', { file: name, expected: 'a model that is known here' });
  const { triangles, vertices, joints = 0, clips = 0 } = head;
  return new TextEncoder().encode(JSON.stringify({ triangles, vertices, bones: joints, clips }));
});

function measured(made: BytesRef): Measured {
  const counts = JSON.parse(new TextDecoder().decode(collect(made))) as Omit<Measured, 'found'>;
  return { ...counts, found: FOUND.measured };
}

export const modelMeasuring: Measuring = {
  words: {
    job: 'Count what models have in',
    done: 'models were counted',
    known: 'triangles, vertices, bones and clips',
  },
  by: told,
  of: measured,
};
