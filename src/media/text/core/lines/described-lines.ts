import { openArchive, type Archive, type Entry } from '@/core/archive';
import { collect, FormatError, memorySource } from '@/core/bytes';
import { tongueIn } from '@/core/catalogue';
import type { Primitives } from '@/core/primitives';
import { asCount, asText, decodeText, type Compiled, type LinesType, type Script } from '@/core/script';
import type { TableLine } from './table';

/** Lines of a table that a script with a section of lines describes, and where their texts stand. */
export interface DescribedLines {
  readonly of: LinesType;
  readonly archive: Archive;
  /** The file once more, for an edit that changes it in memory. */
  open(): Archive;
  readonly lines: readonly TableLine[];
  /** Languages as the table says them, and by their codes where that tells them apart. */
  readonly said: readonly string[];
  readonly tongues: readonly string[];
  /** The number of the entry of each line in each language. */
  readonly entries: readonly (readonly (number | undefined)[])[];
  /** The bytes of a text as they stand at an entry. */
  codedFor(entry: Entry, plain: Uint8Array): Uint8Array;
}

/** Reads each entry of a file as a text. Throws FormatError where its bytes are not as the script says. */
export function describedLines(
  script: Script,
  bytes: Uint8Array,
  name: string,
  primitives: Primitives,
): DescribedLines {
  const of = script.lines;
  if (!of) throw new FormatError('script-wrong', { expected: "a section 'lines'", actual: 'none' });
  const open = (): Archive => openArchive(script, memorySource(bytes, name), { primitives });
  const archive = open();
  const { context } = archive;
  const asSaid = (what: Compiled | undefined, entry: Entry): string =>
    what ? asText(what.run(context, entry.row)) : '';
  const endOf = (entry: Entry): number => (of.ends ? asCount(of.ends.run(context, entry.row)) : 0);
  const unit = of.encoding.startsWith('utf-16') ? 2 : 1;
  const entries: (number | undefined)[][] = [];
  const lines: { key: string; texts: (string | undefined)[]; rest: Omit<TableLine, 'key' | 'texts'> }[] = [];
  const said: string[] = [];
  /** Lines of one key, and how many of them each language has so far. */
  const known = new Map<string, { readonly lines: number[]; readonly taken: number[] }>();
  for (const entry of archive.entries) {
    if (entry.problem) throw entry.problem;
    const key = of.key ? asSaid(of.key, entry) : entry.path;
    const language = asSaid(of.language, entry);
    let tongue = said.indexOf(language);
    if (tongue < 0) tongue = said.push(language) - 1;
    // Of namesakes in one language each is a line of its own.
    let own = known.get(key);
    if (!own) known.set(key, (own = { lines: [], taken: [] }));
    const nth = own.taken[tongue] ?? 0;
    own.taken[tongue] = nth + 1;
    let line = own.lines[nth];
    if (line === undefined) {
      const most = of.limit ? asCount(of.limit.run(context, entry.row)) : 0;
      const width = of.width ? asCount(of.width.run(context, entry.row)) : 0;
      line =
        lines.push({
          key,
          texts: [],
          rest: {
            ...(of.speaker && { speaker: asSaid(of.speaker, entry) }),
            ...(of.note && { note: asSaid(of.note, entry) }),
            ...(most > 0 && { limit: { most, unit: of.limitIn } }),
            ...(width > 0 && { width }),
            ...(of.font && { font: asSaid(of.font, entry) }),
          },
        }) - 1;
      entries.push([]);
      own.lines.push(line);
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
  }
  const codes = said.map((word) => tongueIn(word) ?? word);
  const tongues = new Set(codes).size === said.length ? codes : said;
  return {
    ...{ of, archive, open, said, entries },
    tongues: tongues.length > 0 ? tongues : [''],
    lines: lines.map(({ key, texts, rest }) =>
      Object.assign({ key, texts: said.map((_, i) => texts[i]) }, rest),
    ),
    codedFor(entry, plain) {
      const coded = new Uint8Array(plain.length + endOf(entry) * unit);
      coded.set(plain);
      return coded;
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
