import type { Archive, Entry } from '@/core/archive';
import { collect, FormatError } from '@/core/bytes';
import type { ModelFieldType, ModelStreamType } from '@/core/script';
import { numberForm } from '../streams/number-forms';
import { checkLayout, type StreamField, type StreamLayout } from '../streams/vertex-stream';
import type { Asking } from './asking';

/** One stream of a model's file: bytes of an entry, and how they are to be read. */
export interface Stream {
  readonly entry: Entry;
  readonly type: ModelStreamType;
  readonly bytes: Uint8Array;
  readonly layout: StreamLayout;
  readonly fields: ReadonlyMap<string, StreamField>;
}

/** Items of a stream are no more than these, whatever a file claims. */
const MOST_ITEMS = 1 << 25;

/** The streams of a file, in the order of its entries. Throws FormatError naming the entry, where what is said of one cannot be. */
export function streamsOf(archive: Archive, asking: Asking): Stream[] {
  const streams: Stream[] = [];
  for (const entry of archive.entries) {
    const type = entry.group.model;
    if (!type) continue;
    if (entry.problem) throw entry.problem;
    try {
      streams.push(streamOf(archive, entry, type, asking));
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      throw error.with({ file: asking.file, fieldPath: `model of ${entry.path}` });
    }
  }
  return streams;
}

function streamOf(archive: Archive, entry: Entry, type: ModelStreamType, asking: Asking): Stream {
  const { row } = entry;
  const bytes = collect(archive.plain(entry));
  const isLittle = type.order === 'ruled' ? archive.context.isLittle(row) : type.order === 'little';
  if (type.stream === 'triangles')
    return { entry, type, bytes, layout: { count: 0, stride: 0, first: 0, isLittle }, fields: new Map() };
  const stride = asking.count('stride', type.stride!, row);
  const first = type.first ? asking.count('first', type.first, row) : 0;
  const count = type.count
    ? asking.count('count', type.count, row)
    : stride > 0
      ? Math.floor(Math.max(0, bytes.length - first) / stride)
      : 0;
  if (count > MOST_ITEMS)
    throw new FormatError('budget', { expected: `at most ${MOST_ITEMS} items`, actual: `${count}` });
  const layout = { count, stride, first, isLittle };
  const fields = new Map(type.fields.map((field) => [field.name, fieldOf(field, entry, asking)]));
  checkLayout(layout, [...fields.values()], bytes.length, {
    file: asking.file,
    fieldPath: `model of ${entry.path}`,
  });
  return { entry, type, bytes, layout, fields };
}

/** Letters of numbers, and which of a vector's, turn's or colour's each is. */
const LETTERS: Readonly<Record<string, number>> = {
  ...{ x: 0, y: 1, z: 2, w: 3, r: 0, g: 1, b: 2, a: 3, u: 0, v: 1 },
};

function fieldOf(field: ModelFieldType, { row }: Entry, asking: Asking): StreamField {
  const { name } = field;
  const form = numberForm(asking.text(`${name}.as`, field.as, row, ''));
  const letters = [...(field.order ?? '')].map((letter) => LETTERS[letter]!);
  if (letters.length > 0 && letters.length !== form.numbers)
    throw new FormatError('script-wrong', {
      ...{ expected: `${form.numbers} letters in 'order'`, actual: `${letters.length}` },
    });
  return {
    form,
    at: asking.count(`${name}.at`, field.at, row),
    times: field.perSecond
      ? [1 / above(asking.number(`${name}.per second`, field.perSecond, row))]
      : asking.numbers(`${name}.times`, field.times, row, form.numbers, 1),
    plus: asking.numbers(`${name}.plus`, field.plus, row, form.numbers, 1),
    order: letters.length > 0 ? placesOf(letters) : undefined,
  };
}

function above(rate: number): number {
  if (rate > 0) return rate;
  throw new FormatError('bad-value', { expected: 'a rate above 0', actual: `${rate}` });
}

/** Where each number is kept, from what is kept at each place. */
function placesOf(letters: readonly number[]): number[] {
  const places: number[] = [];
  letters.forEach((number, place) => (places[number] = place));
  return places;
}
