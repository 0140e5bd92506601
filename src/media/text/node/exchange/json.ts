import { z } from 'zod';
import { FormatError } from '@/core/bytes';
import { markOf } from '../../core/desk';
import { decodeAnyText } from '../../core/encoding';
import type { ExchangeTongues, GivenLine, ReadLines } from './exchange';

export const toJson = (lines: readonly GivenLine[], { source, target }: ExchangeTongues): Uint8Array =>
  new TextEncoder().encode(
    `${JSON.stringify(
      {
        ...{ source: source.code, target: target.code },
        lines: lines.map(({ place, key, nth, source: of, target: to, note, limit }) => ({
          ...{ table: place, key, ...(nth > 0 && { number: nth + 1 }), source: of, target: to },
          ...(note !== '' && { note }),
          ...(limit !== '' && { limit }),
          mark: markOf(to),
        })),
      },
      null,
      1,
    )}\n`,
  );

const Line = z.object({
  table: z.string().default(''),
  key: z.string(),
  number: z.number().int().min(1).default(1),
  source: z.string().optional(),
  target: z.string(),
  mark: z.string().optional(),
});
const File = z.object({ lines: z.array(Line) });

export function fromJson(bytes: Uint8Array, file: string): ReadLines {
  let given: unknown;
  try {
    given = JSON.parse(decodeAnyText(bytes)?.text ?? '');
  } catch (error) {
    throw new FormatError('bad-value', { file, expected: 'JSON', actual: (error as Error).message });
  }
  const { success, data, error } = File.safeParse(given);
  if (!success) {
    const [issue] = error.issues;
    throw new FormatError('bad-value', {
      ...{ file, fieldPath: issue!.path.join('.') || 'the file', expected: 'lines with key and target' },
      actual: issue!.message,
    });
  }
  return {
    ...{ form: 'json', warnings: [] },
    lines: data.lines.map(({ table, key, number, source, target, mark }) => ({
      place: table,
      key,
      nth: number - 1,
      source,
      target,
      mark,
    })),
  };
}
