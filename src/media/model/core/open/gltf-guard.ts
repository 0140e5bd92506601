import { z } from 'zod';
import { FormatError } from '@/core/bytes';

const Count = z.number().int().nonnegative();
const SIZES: Readonly<Record<number, number>> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };
const NUMBERS: Readonly<Record<string, number>> = {
  ...{ SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 },
};
/** So many numbers a document may claim of all its accessors together. */
const MOST_NUMBERS = 100_000_000;

/** The parts of a glTF 2.0 document whose claims are held against the bytes before anything is made of them. */
const Claims = z.object({
  asset: z.object({ version: z.string() }),
  extensionsRequired: z.array(z.string()).default([]),
  buffers: z.array(z.object({ byteLength: Count, uri: z.string().optional() })).default([]),
  images: z.array(z.object({ uri: z.string().optional() })).default([]),
  bufferViews: z
    .array(
      z.object({
        buffer: Count,
        byteOffset: Count.default(0),
        byteLength: Count,
        byteStride: Count.optional(),
      }),
    )
    .default([]),
  accessors: z
    .array(
      z.object({
        bufferView: Count.optional(),
        byteOffset: Count.default(0),
        componentType: z.number(),
        type: z.string(),
        count: Count,
      }),
    )
    .default([]),
  nodes: z.array(z.object({ children: z.array(Count).default([]) })).default([]),
});

const inDocument = (fieldPath: string, expected: string, actual: string, remedy?: string): FormatError =>
  new FormatError('bad-value', { fieldPath: `document.${fieldPath}`, expected, actual, remedy });

/**
 * Throws FormatError where a document claims what its bytes cannot hold, points to files that were not given along, or hangs nodes on themselves.
 * `known` is what was given, by how the document spells it, with its bytes.
 */
export function checkGltf(json: unknown, haveBytes: number, known: ReadonlyMap<string, number>): void {
  const read = Claims.safeParse(json);
  if (!read.success)
    throw new FormatError('bad-value', {
      ...{ fieldPath: 'document', expected: 'a glTF 2.0 document', why: z.prettifyError(read.error) },
    });
  const { buffers, bufferViews, accessors, nodes, extensionsRequired } = read.data;
  const packed = extensionsRequired.find((name) => /draco/i.test(name));
  if (packed)
    throw inDocument(
      'extensionsRequired',
      'nothing that takes a decoder of its own',
      packed,
      'Save it without mesh compression',
    );
  buffers.forEach(({ uri, byteLength }, i) => {
    if (uri !== undefined && !uri.startsWith('data:') && !known.has(uri))
      throw inDocument(
        `buffers[${i}].uri`,
        'bytes within this file, or a file that was given along',
        `'${uri.slice(0, 100)}'`,
        'Save it as GLB, which holds all of it, or give a ZIP with all files',
      );
    const has = uri === undefined ? haveBytes : known.get(uri);
    // Rows of a GLB end at multiples of four.
    if (has !== undefined && byteLength > has + 3)
      throw inDocument(`buffers[${i}].byteLength`, `at most ${has}`, `${byteLength}`);
  });
  bufferViews.forEach((view, i) => {
    const buffer = buffers[view.buffer];
    if (!buffer) throw inDocument(`bufferViews[${i}].buffer`, `below ${buffers.length}`, `${view.buffer}`);
    if (view.byteOffset + view.byteLength > buffer.byteLength)
      throw inDocument(
        `bufferViews[${i}]`,
        `within ${buffer.byteLength} bytes`,
        `${view.byteOffset} to ${view.byteOffset + view.byteLength}`,
      );
  });
  let items = 0;
  accessors.forEach((accessor, i) => {
    const size = (SIZES[accessor.componentType] ?? 0) * (NUMBERS[accessor.type] ?? 0);
    if (size === 0)
      throw inDocument(
        `accessors[${i}]`,
        'a type of glTF 2.0',
        `${accessor.componentType}, ${accessor.type}`,
      );
    items += accessor.count * NUMBERS[accessor.type]!;
    if (items > MOST_NUMBERS)
      throw new FormatError('budget', {
        ...{
          fieldPath: `document.accessors[${i}].count`,
          expected: `at most ${MOST_NUMBERS} numbers of all items`,
        },
        actual: `${items}`,
      });
    if (accessor.bufferView === undefined) return;
    const view = bufferViews[accessor.bufferView];
    if (!view)
      throw inDocument(`accessors[${i}].bufferView`, `below ${bufferViews.length}`, `${accessor.bufferView}`);
    const stride = view.byteStride ?? size;
    const end = accessor.byteOffset + (accessor.count > 0 ? (accessor.count - 1) * stride + size : 0);
    if (end > view.byteLength)
      throw inDocument(
        `accessors[${i}].count`,
        `what ${view.byteLength} bytes hold`,
        `${accessor.count} of ${size} bytes`,
      );
  });
  checkTree(nodes);
}

/** Nodes hang on at most one other, and on none of those below them (glTF 2.0, section 3.5.2). */
function checkTree(nodes: readonly { readonly children: readonly number[] }[]): void {
  const parent = new Map<number, number>();
  nodes.forEach(({ children }, i) => {
    for (const child of children) {
      if (child >= nodes.length)
        throw inDocument(`nodes[${i}].children`, `below ${nodes.length}`, `${child}`);
      if (parent.has(child) || child === i)
        throw inDocument(`nodes[${i}].children`, 'nodes that hang on one other', `${child}`);
      parent.set(child, i);
    }
  });
  for (const start of parent.keys()) {
    let at: number | undefined = start;
    for (let steps = 0; at !== undefined; steps++, at = parent.get(at))
      if (steps > nodes.length) throw inDocument(`nodes[${start}]`, 'a tree', 'a ring');
  }
}
