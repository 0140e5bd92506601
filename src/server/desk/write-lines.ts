import {
  refuseUnlike,
  type AddedLine,
  type HeldPlace,
  type LineTable,
  type TextChange,
} from '@/media/text/core/lines';
import { UserError } from '@/platform/user-error';
import { hasLookThread, lookBeside } from '../looking/look-threads';
import { BESIDE_BYTES } from '../reading/laid-tables';
import { tableOf } from './read-tables';

/** A text for a line, by its key and number among namesakes, in a column of its table. */
export interface WrittenText {
  readonly key: string;
  readonly nth: number;
  readonly column: number;
  readonly text: string;
}

/** What is to be written into a table of texts. */
export type LinesWork =
  | {
      readonly sort: 'into it';
      readonly changes: readonly WrittenText[];
      readonly added: readonly AddedLine[];
      /** Languages that it gets, with the texts that there are; a line without one says what the first language says. */
      readonly tongues: ReadonlyMap<string, readonly WrittenText[]>;
    }
  | {
      /** As a file of its own, in another language. */
      readonly sort: 'own file';
      readonly tongue: string;
      readonly texts: readonly WrittenText[];
    };

export interface LinesAsked {
  readonly bytes: Uint8Array;
  readonly name: string;
  readonly held: readonly HeldPlace[] | undefined;
  readonly work: LinesWork;
}

/** A table of texts with something written into it. Throws UserError where it is none, FormatError where it cannot say that. */
export function linesWrittenHere({ bytes, name, held, work }: LinesAsked): Uint8Array {
  const read = (made: Uint8Array): LineTable => {
    const table = tableOf(made, name, held);
    if (!table) throw new UserError(409, `What was given for ${name} is no table of its form.`);
    return table;
  };
  const table = read(bytes);
  if (work.sort === 'own file') {
    const changes = changesOf(table, work.texts);
    const made = table.inTongue?.(work.tongue, changes) ?? table.write(changes);
    const again = read(made);
    // Its language may be another one by then.
    const words = table.tongues;
    refuseUnlike({ words, lines: table.lines }, { words, lines: again.lines }, { changes });
    return made;
  }
  const changes = changesOf(table, work.changes);
  let made = table.write(changes, work.added);
  const further: WrittenText[] = [];
  for (const [nth, [tongue, texts]] of [...work.tongues].entries()) {
    const now = read(made);
    if (!now.withTongue) continue;
    const byLine = new Map(changesOf(now, texts).map(({ line, text }) => [line, text]));
    const textOf = (line: number): string => byLine.get(line) ?? now.lines[line]?.texts[0] ?? '';
    made = now.withTongue(tongue, textOf);
    const column = table.tongues.length + nth;
    further.push(...named(now).map((one, line) => ({ ...one, column, text: textOf(line) })));
  }
  const asRead = ({ tongues, lines }: LineTable) => ({ words: tongues, lines });
  refuseUnlike(asRead(table), asRead(read(made)), {
    changes: [...changes, ...changesOf(table, further)],
    ...{ added: work.added, further: [...work.tongues.keys()] },
  });
  return made;
}

/** The same, of a large file beside the server, which answers others meanwhile. */
export const writeLines = async (asked: LinesAsked): Promise<Uint8Array> =>
  asked.bytes.length > BESIDE_BYTES && hasLookThread()
    ? lookBeside('linesPutIn', asked)
    : linesWrittenHere(asked);

/** Texts as changes of the lines that a table has. */
function changesOf(table: LineTable, texts: readonly WrittenText[]): TextChange[] {
  const byLine = new Map<string, WrittenText[]>();
  for (const text of texts) {
    const id = `${text.nth} ${text.key}`;
    const own = byLine.get(id);
    if (own) own.push(text);
    else byLine.set(id, [text]);
  }
  return named(table).flatMap(({ key, nth }, line) =>
    (byLine.get(`${nth} ${key}`) ?? []).map(({ column, text }) => ({ line, tongue: column, text })),
  );
}

/** What each line of a table is told by: its key, and its number among namesakes. */
function named({ lines }: LineTable): { readonly key: string; readonly nth: number }[] {
  const counts = new Map<string, number>();
  return lines.map(({ key }) => {
    const nth = counts.get(key) ?? 0;
    counts.set(key, nth + 1);
    return { key, nth };
  });
}
