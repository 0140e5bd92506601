import type { Archive } from '@/core/archive';
import { collect, FormatError, refOfBytes } from '@/core/bytes';
import { editEntries, emit, planArchive, RowCopier, type EditedArchive } from '@/core/mod';
import type { Primitives } from '@/core/primitives';
import { encodeText, type Script } from '@/core/script';
import { describedLines, type DescribedLines } from './described-lines';
import {
  furtherTongues,
  lackingTexts,
  noWord,
  notThere,
  otherTongue,
  type TongueEdit,
} from './further-tongue';
import { refuseUnlike, type LinesRead } from './refuse-unlike';
import { lastOfEach, type AddedLine, type LineTable, type TextChange } from './table';

/** A table of a game's own, which a script with a section of lines describes: each entry is a text. Throws FormatError where its bytes are not as the script says. */
export function describedTable(
  script: Script,
  bytes: Uint8Array,
  name: string,
  primitives: Primitives,
): LineTable {
  const table = describedLines(script, bytes, name, primitives);
  const { of, tongues, lines } = table;
  const read: Read = (made) => describedLines(script, made, name, primitives);
  return {
    form: script.title,
    ...{ tongues, lines },
    bytesOf: (text) => encodeText(text, of.encoding).length,
    forbidden: of.ends ? [{ sign: '\0', called: 'a sign of zero' }] : [],
    write: (changes, added = []) => written(table, read, changes, added),
    ...(of.language &&
      lines.length > 0 && {
        withTongue: (tongue: string, textOf: (line: number) => string) =>
          withTongue(table, read, tongue, textOf),
        inTongue: (tongue: string, changes: readonly TextChange[]) => inTongue(table, read, tongue, changes),
      }),
  };
}

/** Reads what was made as the table was read. */
type Read = (bytes: Uint8Array) => DescribedLines;
type Edited = Pick<EditedArchive, 'archive' | 'marks' | 'newNumbers'>;

function written(
  table: DescribedLines,
  read: Read,
  changes: readonly TextChange[],
  added: readonly AddedLine[],
): Uint8Array {
  const { archive, entries, lines, tongues } = table;
  const all = lastOfEach(changes);
  const lacking = all.filter(({ line, tongue }) => entries[line]?.[tongue] === undefined);
  if (lacking.length > 0) {
    const [first] = lacking;
    if (added.length > 0) throw notThere(lines[first!.line]?.key ?? '', tongues[first!.tongue] ?? '');
    return withLacking(table, read, all, lacking);
  }
  const edited = added.length > 0 ? withFurther(table, added) : undefined;
  const texts = new Map<number, string>();
  for (const { line, tongue, text } of all) {
    const number = entries[line]![tongue]!;
    texts.set(edited ? edited.newNumbers[number]! : number, text);
  }
  added.forEach(({ texts: own }, i) => texts.set(edited!.added[i]!, own[0] ?? ''));
  return bytesOf(table, edited?.archive ?? archive, texts, edited);
}

/** A table with texts in a language in which it has not had them. */
function withLacking(
  table: DescribedLines,
  read: Read,
  changes: readonly TextChange[],
  lacking: readonly TextChange[],
): Uint8Array {
  // A row is copied once in an edit, so one language goes after the other.
  const [{ tongue }] = lacking as [TextChange];
  const given = lackingTexts(
    table,
    lacking.filter((one) => one.tongue === tongue),
  );
  const own = given.map(({ change }) => change);
  const copier = new RowCopier(table.open());
  copier.copyRows(given.map(({ row }) => row));
  const { copies, ...edited } = copier.finish();
  const texts = new Map(given.map(({ change, row }) => [copies.get(row.like)!, change.text]));
  const made = bytesOf(table, edited.archive, texts, edited);
  const again = read(made);
  const isOwn = new Set(own);
  const numbers = refuseUnlike(asRead(table), asRead(again), { changes: own });
  const rest = changes.filter((one) => !isOwn.has(one));
  const moved = rest.map((one) => ({
    ...one,
    line: numbers[one.line]!,
    tongue: again.said.indexOf(table.said[one.tongue]!),
  }));
  return rest.length > 0 ? written(again, read, moved, []) : made;
}

/** The bytes of a table with other texts at some entries. */
function bytesOf(
  { of, codedFor }: DescribedLines,
  archive: Archive,
  texts: ReadonlyMap<number, string>,
  edited: Edited | undefined,
): Uint8Array {
  const made = new Map<number, ReturnType<typeof refOfBytes>>();
  for (const [number, text] of texts)
    made.set(number, refOfBytes(codedFor(archive.entries[number]!, encodeText(text, of.encoding))));
  const plan = planArchive(archive, made, edited && { edits: edited.marks });
  const parts: Uint8Array[] = [];
  emit(plan.files[0]!, { write: (part) => void parts.push(part.slice()) });
  plan.discard();
  return collect({ length: plan.length, chunks: () => parts });
}

function withFurther(
  { open, tongues }: DescribedLines,
  added: readonly { readonly key: string }[],
): EditedArchive {
  const archive = open();
  if (archive.script.lines?.key || tongues.length > 1)
    throw new FormatError('not-writable', {
      ...{
        fieldPath: added[0]!.key,
        expected: 'a table whose lines are called by their paths, in one language',
      },
      remedy: 'Say in the script how a row is called by its path, or give the whole table',
    });
  return editEntries(archive, { added: added.map(({ key }) => ({ path: key })) });
}

function withTongue(
  table: DescribedLines,
  read: Read,
  tongue: string,
  textOf: (line: number) => string,
): Uint8Array {
  let first: unknown;
  const tried = (work: () => Uint8Array): Uint8Array | undefined => {
    try {
      return work();
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      first ??= error;
      return undefined;
    }
  };
  for (const edit of furtherTongues(table, tongue)) {
    const made = tried(() => edited(table, read, edit, tongue, textOf));
    if (made) return made;
  }
  throw first ?? noWord(table, tongue);
}

/** Writes an edit and holds what it made against what it was to be: all texts that were there, and those of the further language. */
function edited(
  table: DescribedLines,
  read: Read,
  { edited: edit, entryOf }: TongueEdit,
  tongue: string,
  textOf: (line: number) => string,
): Uint8Array {
  const texts = new Map<number, string>();
  const given: TextChange[] = [];
  table.lines.forEach((_, line) => {
    const number = entryOf(line);
    if (number === undefined) return;
    const text = textOf(line);
    texts.set(number, text);
    given.push({ line, tongue: table.said.length, text });
  });
  const made = bytesOf(table, edit.archive, texts, edit);
  const again = read(made);
  const further = again.said.filter((word) => !table.said.includes(word));
  refuseUnlike(asRead(table), asRead(again), { changes: given, further: further.slice(0, 1) });
  if (!again.tongues.includes(tongue)) throw noWord(table, tongue);
  return made;
}

function inTongue(
  table: DescribedLines,
  read: Read,
  tongue: string,
  changes: readonly TextChange[],
): Uint8Array {
  const edit = otherTongue(table, tongue);
  if (!edit) return written(table, read, changes, []);
  const texts = new Map<number, string>();
  for (const { line, text } of lastOfEach(changes)) texts.set(edit.entryOf(line)!, text);
  const made = bytesOf(table, edit.edited.archive, texts, edit.edited);
  const again = read(made);
  if (again.tongues.join() !== tongue) throw noWord(table, tongue);
  return made;
}

const asRead = ({ said, lines }: DescribedLines): LinesRead => ({ words: said, lines });
