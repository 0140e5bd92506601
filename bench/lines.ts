// A text desk of 100,000 lines without a server: reading, checking, finding, memory, files out and in. Run with `npm run bench:lines`.
import { tabbedTableText } from './line-texts';
import { likeness, Memory, pickLines, type DeskLine, type LineFacts } from '../src/media/text/core/desk';
import { checkLine, readOpenTable } from '../src/media/text/core/lines';
import { EXCHANGE_FORMS, readLines, writeLines } from '../src/media/text/node/exchange';

const LINES = 100_000;
const say = (text: string): boolean => process.stdout.write(`${text}\n`);
const timed = async <T>(what: string, work: () => T | Promise<T>): Promise<T> => {
  const began = performance.now();
  const made = await work();
  say(`${what}: ${(performance.now() - began).toFixed(0)} ms`);
  return made;
};
const share = (times: number[], part: number): number =>
  times.sort((a, b) => a - b)[Math.floor(times.length * part)]!;
const megabytes = (): string => `${(process.memoryUsage().rss / 2 ** 20).toFixed(0)} MB held by the process`;

const [source, target] = [tabbedTableText(LINES, 'en'), tabbedTableText(LINES, 'de')];
const table = (await timed('a table of 100,000 lines read', () => readOpenTable(source)))!;
const translated = (await timed('another one', () => readOpenTable(target)))!;
const lines = table.lines.map((line, i): DeskLine => ({
  ...{
    place: 't',
    key: line.key,
    nth: 0,
    source: line.texts[0],
    was: translated.lines[i]!.texts[0],
    others: [],
  },
  ...{ speaker: '', note: '', limit: { most: 80, unit: 'characters' }, isTwice: false },
}));
const found = await timed('all lines checked', () =>
  lines.map((line) =>
    checkLine(line.was!, {
      source: line.source,
      limit: line.limit,
      bytesOf: (text) => table.bytesOf(text),
      forbidden: table.forbidden,
      terms: [{ source: 'lantern', target: 'Laterne' }],
    }),
  ),
);
say(`   ${found.filter((one) => one.length > 0).length} lines with something found`);
const facts = (i: number): LineFacts => ({
  line: lines[i]!,
  work: undefined,
  wrong: found[i]!.length,
  look: 0,
});
const query = { shown: 'all', place: '', speaker: '', order: 'game', isBackwards: false } as const;
const times: number[] = [];
for (let i = 0; i < 40; i++) {
  const began = performance.now();
  pickLines(LINES, facts, { ...query, text: ['lantern', 'line.09', 'zzz', 'e'][i % 4]! });
  times.push(performance.now() - began);
}
say(`finding a text in all of them: 95 % under ${share(times, 0.95).toFixed(0)} ms`);
await timed('in the order of the source', () =>
  pickLines(LINES, facts, { ...query, text: '', order: 'source' }),
);
const memory = new Memory();
await timed('all of them remembered', () => {
  for (const line of lines) memory.add(line.source!, line.was!);
});
const offers: number[] = [];
for (let i = 0; i < 200; i++) {
  const began = performance.now();
  memory.offers(`${lines[(i * 499) % LINES]!.source!.slice(0, -4)} now`);
  offers.push(performance.now() - began);
}
say(
  `offers for a line: 95 % under ${share(offers, 0.95).toFixed(1)} ms, all under ${Math.max(...offers).toFixed(1)} ms (${likeness('a lantern', 'a lamp').toFixed(2)} is how alike two are)`,
);
await timed('one line changed and the table written', () =>
  table.write([{ line: 500, tongue: 0, text: 'Other' }]),
);
say(`   ${megabytes()}`);
const given = lines.map(({ place, key, nth, source: of, was }) => ({
  place,
  key,
  nth,
  source: of!,
  target: was!,
  note: '',
  limit: '',
}));
const tongues = { source: { code: 'en', name: 'English' }, target: { code: 'de', name: 'German' } };
for (const form of EXCHANGE_FORMS) {
  const bytes = await timed(`${form} out`, () => writeLines(form, given, tongues));
  const read = await timed(`${form} in, ${(bytes.length / 2 ** 20).toFixed(1)} MB`, () =>
    readLines(bytes, 'lines'),
  );
  if (read.lines.length !== LINES) throw new Error(`${form}: ${read.lines.length} lines came back`);
  say(`   ${megabytes()}`);
}
