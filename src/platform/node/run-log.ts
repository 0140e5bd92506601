/** What became of an entry: `kept` are files that somebody else changed or wrote. */
export const ITEM_STATES = ['written', 'skipped', 'kept', 'failed', 'missing'] as const;
export type ItemState = (typeof ITEM_STATES)[number];

export interface RunItem {
  readonly state: ItemState;
  readonly path: string;
  readonly archive: string;
  readonly file: string;
  readonly reason: string;
}

/** Lies beside the output. */
export const LOG_NAME = 'zero-latch-log.tsv';
const HEAD = 'state\tpath\tarchive\tfile\treason\n';
const LINES_AT_ONCE = 4000;

/** Text of a cell: line ends and tabs in names would break the log. */
const cell = (text: string): string => (/[\t\r\n]/.test(text) ? text.replace(/[\t\r\n]/g, ' ') : text);

/** The log in pieces of some thousand lines. */
export function* logText(items: Iterable<RunItem>): Generator<string> {
  let lines = [HEAD];
  for (const { state, path: entry, archive, file, reason } of items) {
    lines.push(`${state}\t${cell(entry)}\t${cell(archive)}\t${cell(file)}\t${cell(reason)}\n`);
    if (lines.length < LINES_AT_ONCE) continue;
    yield lines.join('');
    lines = [];
  }
  yield lines.join('');
}

/** Reads a log; lines that are none are left out. */
export const readLogText = (text: string): RunItem[] =>
  text
    .split('\n')
    .slice(1)
    .flatMap((line) => {
      const [state = '', entry = '', archive = '', name = '', reason = ''] = line.split('\t');
      return (ITEM_STATES as readonly string[]).includes(state)
        ? [{ state: state as ItemState, path: entry, archive, file: name, reason }]
        : [];
    });

const part = (count: number, what: string): string => (count > 0 ? `, ${count} ${what}` : '');

/** What came of a run, in a sentence. */
export const summaryOf = ({ written, skipped, kept, failed, missing }: Record<ItemState, number>): string =>
  `${written} written, ${skipped} as they were${part(kept, 'edited and kept')}${part(failed, 'failed')}${part(missing, 'not there')}.`;
