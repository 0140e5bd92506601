import { openArchive, type Archive, type Entry } from '@/core/archive';
import { collect, FormatError, memorySource, refOfBytes } from '@/core/bytes';
import { editEntries, emit, planArchive } from '@/core/mod';
import type { Primitives } from '@/core/primitives';
import { asCount, asText, decodeText, encodeText, type Compiled, type Script } from '@/core/script';
import { lastOfEach, type LineTable, type TableLine } from './table';

interface Place {
  readonly line: number;
  readonly tongue: number;
}

/** A table of a game's own, which a script with a section of lines describes: each entry is a text. Throws FormatError where its bytes are not as the script says. */
export function describedTable(
  script: Script,
  bytes: Uint8Array,
  name: string,
  primitives: Primitives,
): LineTable {
  const of = script.lines;
  if (!of) throw new FormatError('script-wrong', { expected: "a section 'lines'", actual: 'none' });
  const open = (): Archive => openArchive(script, memorySource(bytes, name), { primitives });
  const archive = open();
  const { context } = archive;
  const said = (what: Compiled | undefined, entry: Entry): string =>
    what ? asText(what.run(context, entry.row)) : '';
  const endOf = (entry: Entry): number => (of.ends ? asCount(of.ends.run(context, entry.row)) : 0);
  const unit = of.encoding.startsWith('utf-16') ? 2 : 1;
  const places: Place[] = [];
  /** The entry of each line in each language. */
  const entries: (number | undefined)[][] = [];
  const lines: { key: string; texts: (string | undefined)[]; rest: Omit<TableLine, 'key' | 'texts'> }[] = [];
  const tongues: string[] = [];
  const known = new Map<string, number[]>();
  for (const entry of archive.entries) {
    if (entry.problem) throw entry.problem;
    const key = of.key ? said(of.key, entry) : entry.path;
    const language = said(of.language, entry);
    let tongue = tongues.indexOf(language);
    if (tongue < 0) tongue = tongues.push(language) - 1;
    // Of namesakes in one language each is a line of its own.
    let line = known.get(key)?.find((one) => entries[one]![tongue] === undefined);
    if (line === undefined) {
      const most = of.limit ? asCount(of.limit.run(context, entry.row)) : 0;
      const width = of.width ? asCount(of.width.run(context, entry.row)) : 0;
      line =
        lines.push({
          key,
          texts: [],
          rest: {
            ...(of.speaker && { speaker: said(of.speaker, entry) }),
            ...(of.note && { note: said(of.note, entry) }),
            ...(most > 0 && { limit: { most, unit: of.limitIn } }),
            ...(width > 0 && { width }),
            ...(of.font && { font: said(of.font, entry) }),
          },
        }) - 1;
      entries.push([]);
      known.set(key, [...(known.get(key) ?? []), line]);
    }
    const plain = collect(archive.plain(entry));
    const end = endOf(entry) * unit;
    if (end > plain.length || plain.subarray(plain.length - end).some((byte) => byte !== 0))
      throw new FormatError('bad-value', {
        ...{ file: name, fieldPath: `${entry.path}, lines.ends`, byteOffset: entry.offset },
        expected: `${end} bytes of zero at its end`,
        actual: `${plain.length} bytes`,
      });
    lines[line]!.texts[tongue] = textOf(plain.subarray(0, plain.length - end), entry);
    entries[line]![tongue] = entry.index;
    places[entry.index] = { line, tongue };
  }
  return {
    form: script.title,
    tongues: tongues.length > 0 ? tongues : [''],
    lines: lines.map(({ key, texts, rest }) =>
      Object.assign({ key, texts: tongues.map((_, i) => texts[i]) }, rest),
    ),
    bytesOf: (text) => encodeText(text, of.encoding).length,
    forbidden: of.ends ? [{ sign: '\0', called: 'a sign of zero' }] : [],
    write(changes, added = []) {
      const edited = added.length > 0 ? withFurther(open, added, tongues.length) : undefined;
      const target = edited?.archive ?? archive;
      const made = new Map<number, ReturnType<typeof refOfBytes>>();
      const put = (number: number, entry: Entry, text: string): void => {
        const coded = encodeText(text, of.encoding);
        const plain = new Uint8Array(coded.length + endOf(entry) * unit);
        plain.set(coded);
        made.set(number, refOfBytes(plain));
      };
      for (const { line, tongue, text } of lastOfEach(changes)) {
        const number = entries[line]?.[tongue];
        const entry = number === undefined ? undefined : archive.entries[number];
        if (number === undefined || !entry) throw notThere(lines[line]?.key ?? '', tongues[tongue] ?? '');
        put(edited ? edited.newNumbers[number]! : number, entry, text);
      }
      added.forEach(({ texts }, i) => {
        const number = edited!.added[i]!;
        put(number, target.entries[number]!, texts[0] ?? '');
      });
      const plan = planArchive(target, made, edited && { edits: edited.marks });
      const parts: Uint8Array[] = [];
      emit(plan.files[0]!, { write: (part) => void parts.push(part.slice()) });
      plan.discard();
      return collect({ length: plan.length, chunks: () => parts });
    },
  };

  function textOf(plain: Uint8Array, entry: Entry): string {
    try {
      return decodeText(plain, of!.encoding);
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      throw error.with({ file: name, fieldPath: `${entry.path}, lines.encoding`, byteOffset: entry.offset });
    }
  }
}

function withFurther(
  open: () => Archive,
  added: readonly { readonly key: string }[],
  tongues: number,
): ReturnType<typeof editEntries> {
  const archive = open();
  if (archive.script.lines?.key || tongues > 1)
    throw new FormatError('not-writable', {
      ...{
        fieldPath: added[0]!.key,
        expected: 'a table whose lines are called by their paths, in one language',
      },
      remedy: 'Say in the script how a row is called by its path, or give the whole table',
    });
  return editEntries(archive, { added: added.map(({ key }) => ({ path: key })) });
}

const notThere = (key: string, tongue: string): FormatError =>
  new FormatError('not-writable', {
    ...{ fieldPath: key, expected: 'a line that the table has in this language', actual: tongue || 'none' },
    remedy: 'Add it to the table with the program of the game, or change another language',
  });
