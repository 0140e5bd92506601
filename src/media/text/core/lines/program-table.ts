import { FormatError } from '@/core/bytes';
import { encodeText } from '@/core/script';
import { heldStringAt, type HeldString } from '@/media/program/core/held-strings';
import { lastOfEach, refuseForbidden, type LineTable, type TableLine } from './table';

/** Where a text of a program lies. */
export type HeldPlace = Pick<HeldString, 'offset' | 'encoding' | 'room'>;

const ENDS = [{ sign: '\0', called: 'a sign of zero' }];

const keyOf = ({ offset }: HeldPlace): string => `0x${offset.toString(16).padStart(8, '0')}`;

/** Chosen texts of a program as a table: each is called by its place, and has the room that it lies in. A text that lies there no more is left out. */
export function programTable(bytes: Uint8Array, places: readonly HeldPlace[]): LineTable {
  const held = [...places]
    .sort((a, b) => a.offset - b.offset)
    .flatMap((place) => heldStringAt(bytes, place) ?? []);
  const byKey = new Map(held.map((one) => [keyOf(one), one]));
  const coded = (text: string, key?: string): Uint8Array =>
    encodeText(text, byKey.get(key ?? '')?.encoding ?? 'utf-8');
  return {
    form: 'texts of a program',
    tongues: [''],
    lines: held.map((one): TableLine => ({
      key: keyOf(one),
      texts: [one.text],
      note: one.encoding === 'utf-8' ? 'In the program' : 'In the program, in wide letters',
      limit: { most: one.room, unit: 'bytes' },
    })),
    bytesOf: (text, key) => coded(text, key).length,
    forbidden: ENDS,
    write(changes, added = []) {
      if (added.length > 0)
        throw new FormatError('not-writable', {
          ...{ fieldPath: added[0]!.key, expected: 'a text that the program has' },
          remedy: 'A program has room for its own texts only',
        });
      const made = bytes.slice();
      for (const { line, text } of lastOfEach(changes)) {
        const { offset, room } = held[line]!;
        const key = keyOf(held[line]!);
        refuseForbidden(key, text, ENDS);
        const own = coded(text, key);
        if (own.length > room)
          throw new FormatError('does-not-fit', {
            ...{ fieldPath: key, byteOffset: offset },
            ...{ expected: `at most ${room} bytes`, actual: `${own.length}` },
            remedy: `It is ${own.length - room} bytes too long; say it shorter`,
          });
        made.fill(0, offset, offset + room);
        made.set(own, offset);
      }
      return made;
    },
  };
}
